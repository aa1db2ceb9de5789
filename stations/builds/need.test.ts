import { needOf, needOfText } from './need';

test('the short form of a pack', () => {
  expect(needOfText('4s3p')).toEqual({ series: 4, parallel: 3, without: [] });
  expect(needOfText('4s3p without g1-13, G1-014')).toEqual({ series: 4, parallel: 3, without: ['G1-013', 'G1-014'] });
  expect(needOfText('4s3p without that one')).toBeNull();
  expect(needOfText(' 10 x 6 ')).toEqual({ series: 10, parallel: 6, without: [] });
  expect([needOfText('4s'), needOfText('0s3p'), needOfText('400s1p')]).toEqual([null, null, null]);
});

test('an address gives a need, with usual values where it is silent', () => {
  expect(needOf({ series: '4', parallel: '3', enoughAh: '6,5' })).toEqual({
    series: 4,
    parallel: 3,
    model: '',
    duty: 'steady',
    enoughAh: 6.5,
    without: [],
  });
  expect(needOf({ series: '4', parallel: '3', without: 'G1-013 x' })).toMatchObject({ without: ['G1-013'] });
  expect(needOf({ series: 'four', parallel: '3' })).toBeNull();
  expect(needOf({})).toBeNull();
});
