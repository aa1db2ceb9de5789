import { coldText, driftText } from './buildWords';

const fraction = (value: number, u: number) => ({ value, u });

test('a drift that is known names its group and the minutes of balancing; one that is not says so', () => {
  const drift = {
    byGroup: [fraction(0.01, 0.001), fraction(-0.02, 0.004), fraction(0.01, 0.001)],
    bledAh: fraction(0.005, 0.001),
  };
  expect(driftText(drift, 0.1, 100)).toBe(
    'Without balancing group 2 falls behind; 3 min of balancing at each charge keep it with the others, ' +
      '5 min at the most',
  );
  const unsure = { byGroup: [fraction(-0.001, 0.001), fraction(0.001, 0.001)], bledAh: fraction(0.0002, 0.0002) };
  expect(driftText(unsure, 0.1, 100)).toBe(
    'No group is known to fall behind in 100 cycles; 1 min of balancing at a charge is enough',
  );
});

test('what the cold does, and what is never done below freezing', () => {
  expect(coldText(0)).toBe('At 0 °C a cell resists about 2.0 times as much (from memory).');
  expect(coldText(-10)).toContain('never charged');
});
