import { computeRemedies } from './rebalance';
import { rebalanceRequest } from './schemas';

const ask = (request: unknown) => computeRemedies(rebalanceRequest.parse(request), new AbortController().signal);
const groups = [3.98, 3.97, 3.71, 3.98].map((restVoltageV) => ({ restVoltageV, capacityAh: 6.4, resistanceOhm: 0.02 }));
const charger = { currentA: 3, bleedA: 0.15, timerS: 7200 };

test('three ways with their steps and cautions, one recommended and why', async () => {
  const { remedies, recommended, why } = await ask({ chemistry: 'li-ion', groups, charger });
  expect(remedies.map(({ kind }) => kind)).toEqual(['bleed', 'top-up', 'drain']);
  const [bleed, topUp, drain] = remedies;
  expect(bleed).toMatchObject({ timerEndsIt: true });
  expect(bleed?.steps.join(' ')).toContain('4 in series, 3.00 A, 4.200 V a cell');
  expect(topUp?.hours).toBeCloseTo((topUp?.movedAh ?? NaN) / 0.5, 2);
  expect(topUp?.steps.join(' ')).toContain('Group 3: 0.50 A until');
  expect(topUp?.cautions.join(' ')).toContain('The wrong way round shorts a group');
  expect(drain?.movedAh).toBeGreaterThan(2 * (topUp?.movedAh ?? NaN));
  expect(recommended).toBe('top-up');
  expect(why).toContain('at the leads of 1 group, against');
});

test('a state of charge serves as well as a voltage, not both', async () => {
  const groups = [0.9, 0.7].map((stateOfCharge) => ({ stateOfCharge, capacityAh: 2 }));
  expect((await ask({ chemistry: 'lfp', groups, charger, drainCurrentA: 0.2 })).remedies[2]?.hours).toBeCloseTo(2, 9);
  const both = rebalanceRequest.safeParse({
    chemistry: 'lfp',
    groups: [{ stateOfCharge: 0.4, restVoltageV: 3.3, capacityAh: 2 }, groups[1]],
    charger,
  });
  expect(both.success).toBe(false);
});

test('nickel is not bled; even groups need nothing; what is above its chemistry is refused', async () => {
  const nickel = [0.9, 0.6].map((stateOfCharge) => ({ stateOfCharge, capacityAh: 2 }));
  expect((await ask({ chemistry: 'nimh', groups: nickel, charger })).remedies.map(({ kind }) => kind)).toEqual([
    'top-up',
    'drain',
  ]);
  const even = groups.map((group) => ({ ...group, restVoltageV: 3.98 }));
  expect(await ask({ chemistry: 'li-ion', groups: even, charger })).toMatchObject({ recommended: 'none' });
  const high = [{ ...groups[0], restVoltageV: 4.33 }, groups[1]];
  await expect(ask({ chemistry: 'lipo', groups: high, charger })).rejects.toThrow('above-its-chemistry');
});
