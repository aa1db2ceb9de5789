import { computePackRun } from './packRun';
import { packRunRequest } from './schemas';

const ask = (request: unknown) => computePackRun(packRunRequest.parse(request), new AbortController().signal);
const cell = { capacityAh: 2.1, resistanceOhm: 0.045, stateOfCharge: 1 };
const groups = [
  [cell, cell],
  [cell, { ...cell, capacityAh: 1.5, resistanceOhm: 0.12 }],
];

test('the weak group ends it; what is left in the other, who carries what, and what is to be said', async () => {
  const run = await ask({ chemistry: 'li-ion', groups, load: { currentA: 4 }, cutoffPerGroupV: 3 });
  expect(run).toMatchObject({ ends: 'cutoff', limitingGroup: 2 });
  expect(run.deliveredAh).toBeCloseTo((4 * run.runTimeS) / 3600, 9);
  expect(run.strandedAh).toBeGreaterThan(0.4);
  expect(run.currentShare.start[1]?.[0]).toBeCloseTo(0.12 / 0.165, 2);
  expect(run.groupVoltagesV.byGroup).toHaveLength(2);
  expect(run.groupVoltagesV.byGroup[0]).toHaveLength(run.groupVoltagesV.atS.length);
  const said = run.warnings.map(({ message }) => message).join(' ');
  expect(said).toContain('Group 2: as the load comes on one cell carries 2.7 times');
  expect(said).toContain('three quarters were taken');
  expect(said).not.toContain('count as full');
});

test('branches serve as well as a ten-second resistance; cells without a charge are full; a profile ends', async () => {
  const branched = { capacityAh: 2, ohmicOhm: 0.03, branches: [{ resistanceOhm: 0.01, timeConstantS: 10 }] };
  const load = { profile: [{ forS: 100, currentA: 2 }] };
  const run = await ask({ chemistry: 'lipo', groups: [[branched]], load, cutoffPerGroupV: 3 });
  expect(run).toMatchObject({ ends: 'profile-over', strandedAh: 0 });
  expect(run.warnings.map(({ code }) => code)).toEqual(['profile-over', 'taken-as-full']);
});

test.each([
  [{ load: { currentA: 3, powerW: 20 } }],
  [{ load: {} }],
  [{ groups: [[{ capacityAh: 2 }]] }],
  [{ groups: [[{ ...cell, ohmicOhm: 0.03, branches: [] }]] }],
  [{ groups: [[{ ...cell, stateOfCharge: 1.2 }]] }],
  [{ groups: [] }],
  [{ chemistry: 'alkaline' }],
])('what is no pack and no load is refused: %#', (more) => {
  const request = { chemistry: 'li-ion', groups, load: { currentA: 4 }, cutoffPerGroupV: 3, ...more };
  expect(packRunRequest.safeParse(request).success).toBe(false);
});
