import { needOf, needOfText } from './need';

test('the short form of a pack', () => {
  expect(needOfText('4s3p')).toEqual({ series: 4, parallel: 3 });
  expect(needOfText(' 10 x 6 ')).toEqual({ series: 10, parallel: 6 });
  expect([needOfText('4s'), needOfText('0s3p'), needOfText('400s1p')]).toEqual([null, null, null]);
});

test('an address gives a need, with usual values where it is silent', () => {
  expect(needOf({ series: '4', parallel: '3', enoughAh: '6,5' })).toEqual({ series: 4, parallel: 3, model: '', duty: 'steady', enoughAh: 6.5 });
  expect(needOf({ series: 'four', parallel: '3' })).toBeNull();
  expect(needOf({})).toBeNull();
});
