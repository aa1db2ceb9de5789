import { refusalOf } from '@/words/impossible';
import { leadPairOhm, wireDiameterM, wireOhm } from './leads';

test.each([
  [10, 2.588, 3.277],
  [18, 1.024, 20.95],
  [22, 0.644, 52.96],
  [24, 0.511, 84.21],
  [28, 0.321, 212.9],
])('gauge %d is %f mm thick and has %f mΩ a metre (ASTM B258)', (gauge, millimetre, milliohm) => {
  expect(wireDiameterM(gauge) * 1000).toBeCloseTo(millimetre, 3);
  expect(wireOhm(gauge, 1) * 1000).toBeCloseTo(milliohm, milliohm > 100 ? 1 : 2);
});

test('half a metre of thin lead each way is tens of milliohms (common practice)', () => {
  expect(leadPairOhm(22, 0.5) * 1000).toBeGreaterThan(50);
  expect(refusalOf(() => leadPairOhm(22, 0))).toContain('lengthM');
});
