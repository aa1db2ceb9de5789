import { findings } from './states';

/** A quick round of what `npm run coverage` does with 2 000 histories. */
test('sheet, plan, upkeep, use and next step agree; no sheet takes a group beyond its limits', () => {
  const { contradictions, carried, beyond, within } = findings(60, 31);
  expect(contradictions).toEqual([]);
  expect(carried).toBeGreaterThan(60);
  // One of a hundred is allowed.
  expect(beyond.length).toBeLessThanOrEqual(2);
  for (const { held, of } of Object.values(within))
    expect(held / of).toBeGreaterThan(0.95 - 3 * Math.sqrt(0.0475 / of));
});
