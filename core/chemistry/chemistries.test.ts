import { chargeEndsV } from './chemistries';

test('chargers end where the cells of the house do: each voltage once, without those that end otherwise', () => {
  expect(chargeEndsV(['li-ion', 'lfp', 'lipo', 'nimh'])).toEqual([4.2, 3.65]);
  expect(chargeEndsV(['nimh', 'sla'])).toEqual([4.2]);
});
