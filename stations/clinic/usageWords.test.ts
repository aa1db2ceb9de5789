import { usageWords } from './usageWords';

test('a pack goes out, at a current and for something, where given', () => {
  expect(usageWords(['out'], null)).toEqual({
    code: 'out',
    bodies: [{ kind: 'taken-out', forWhat: null, currentA: null, timerS: null }],
  });
  expect(usageWords(['OUT', 'ferry', 'light'], 9)).toMatchObject({ bodies: [{ forWhat: 'ferry light', currentA: 9 }] });
  expect(usageWords(['out', 'x'.repeat(90)], null)).toMatchObject({ code: 'wrong' });
});

test('it comes back with what it gave, in any order; the words left are its groups', () => {
  expect(usageWords(['back', '3.72', '3,71', '9.5min', 'lowest', '2', '3.41', '1,4Ah'], null)).toEqual({
    code: 'back',
    groups: ['3.72', '3,71'],
    told: ['back', '9.5min', 'lowest', '2', '3.41', '1,4Ah'],
    bodies: [
      { kind: 'brought-back', usedAh: 1.4, lowestV: 3.41, lowestPosition: 2 },
      { kind: 'run-time', durationS: 570 },
    ],
  });
  expect(usageWords(['3.72', 'back', 'lowest', '3.4', '850mAh'], null)).toMatchObject({
    groups: ['3.72'],
    bodies: [{ usedAh: 0.85, lowestV: 3.4, lowestPosition: null }],
  });
  expect(usageWords(['back', 'lowest'], null)).toMatchObject({ code: 'wrong' });
  expect(usageWords(['back', '0min'], null)).toMatchObject({ code: 'wrong' });
  expect(usageWords(['3.72', '3.71'], null)).toBeNull();
});
