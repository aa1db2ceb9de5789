import { presetRules } from '../chemistry/houseRules';
import type { PackFacts, StoredResistance } from './facts';
import { bareBench } from './equipment';
import { besideTwins, judgePack, timeOfReading } from './judgePack';

const rules = presetRules('workshop');
const protocol = {
  school: '',
  charge: null,
  restS: 0,
  rateC: 1.5,
  holdS: 60,
  archivedAt: null,
  method: 'told' as const,
};
const equipment = {
  ...bareBench,
  protocols: new Map([
    [1, { ...protocol, id: 1, name: 'brisk', temperature: { coldestC: 20, warmestC: 24 } }],
    [2, { ...protocol, id: 2, name: 'slow', temperature: null }],
    [3, { ...protocol, id: 3, name: 'loaded', method: 'ammeter' as const, holdS: 10, temperature: null }],
  ]),
};
const day = (text: string) => new Date(`${text}T12:00:00Z`);

/** Reported resistances of the groups of a pack at one time, from the negative terminal. */
const reported = (at: Date, milliohms: number[], change: Partial<StoredResistance> = {}): StoredResistance[] =>
  milliohms.map((milliohm, i) => ({
    together: 1,
    position: i + 1,
    roundId: 1,
    protocolId: 1,
    method: 'told',
    takenAt: at,
    temperatureC: 22,
    instrumentId: null,
    channel: null,
    ammeterId: null,
    disturbedAt: null,
    leadOhm: null,
    facts: { kind: 'resistance', resistanceOhm: milliohm / 1000, step: 1e-4, openV: null, zeroTaken: null },
    ...change,
  }));
const pack: PackFacts = {
  id: 1,
  code: 'PC3',
  name: 'test',
  chemistry: 'lipo',
  series: 3,
  parallel: 1,
  ratedCapacityAh: 2,
  board: 'full',
  buildId: null,
  apart: null,
  findings: null,
  asNew: null,
  label: null,
  cyclesNoted: null,
  chargeEnds: [],
  twins: [],
  rescues: 0,
  rescuedAt: null,
  mends: [],
  run: null,
  latest: null,
  rested: null,
  resistances: [],
  holds: [],
  partial: null,
  noted: null,
  afterUse: null,
  retiring: null,
  takenOut: null,
  uses: [],
};
const judged = (resistances: StoredResistance[], change: Partial<PackFacts> = {}) =>
  judgePack({ ...pack, ...change, resistances }, rules, equipment);

test('what was read in one evening is one time; of presses of a group the newest counts', () => {
  const evening = new Date('2026-03-01T18:00:00Z');
  const later = new Date('2026-03-01T18:20:00Z');
  const { resistanceTimes } = judged([
    ...reported(later, [8.1], { position: 2 }),
    ...reported(evening, [7.9, 9.9, 8.0]),
    ...reported(day('2025-03-01'), [7.5, 7.6, 7.4]),
  ]);
  expect(resistanceTimes.map(({ groups }) => groups.map(({ resistance }) => resistance.value))).toEqual([
    [0.0079, 0.0081, 0.008],
    [0.0075, 0.0076, 0.0074],
  ]);
});

test('what was just filed is shown, also where a newer day was read before', () => {
  const pack = judged([...reported(day('2026-03-01'), [8, 8, 8]), ...reported(day('2025-03-01'), [7, 7, 7])]);
  const medianAt = (takenAt?: Date) => timeOfReading(pack, { roundId: 1, takenAt })?.medianOhm;
  expect([medianAt(day('2025-03-01')), medianAt(), medianAt(day('2024-03-01'))]).toEqual([0.007, 0.008, 0.008]);
  expect(timeOfReading(pack, { roundId: 2, takenAt: undefined })).toBeUndefined();
});

test('a time is compared with the oldest of its own protocol, not with other protocols', () => {
  const now = reported(day('2026-03-01'), [10.4, 7.7, 7.8]);
  const otherwise = reported(day('2024-03-01'), [3, 3, 3], { protocolId: 2, roundId: 2 });
  const [newest] = judged([
    ...now,
    ...reported(day('2025-03-01'), [8, 7.6, 7.7]),
    ...reported(day('2024-06-01'), [7.5, 7.5, 7.5]),
    ...otherwise,
  ]).resistanceTimes;
  expect(newest?.groups[0]?.sinceFirst).toMatchObject({
    at: day('2024-06-01'),
    times: { value: expect.closeTo(10.4 / 7.5, 6) },
  });
  expect(judged([...now, ...otherwise]).resistanceTimes[0]?.groups[0]?.sinceFirst).toBeNull();
});

test('read too cold it is not compared with other days, yet its groups are with each other', () => {
  const cold = reported(day('2026-03-01'), [16, 16.4, 32], { temperatureC: 12 });
  const [newest] = judged([...cold, ...reported(day('2025-03-01'), [8, 8.1, 8])]).resistanceTimes;
  expect(newest?.leftOut).toMatchObject({ code: 'temperature-outside' });
  expect(newest?.groups.map(({ level, sinceFirst }) => [level, sinceFirst])).toEqual([
    ['even', null],
    ['even', null],
    ['failing', null],
  ]);
});

test('a failing group wants a hand, until the pack is taken apart', () => {
  const failing = reported(day('2026-03-01'), [8, 8.1, 17]);
  expect(judged(failing).isUrgent).toBe(true);
  expect(judged(failing, { apart: { at: day('2026-04-01'), because: 'worn' } }).isUrgent).toBe(false);
  expect(judged(reported(day('2026-03-01'), [8, 8.1, 8.2])).isUrgent).toBe(false);
});

test('a board lies between the terminals alone, and wires of a connector before a group alone', () => {
  const probed = { method: 'ac-meter' as const, leadOhm: 0.02 };
  const [whole] = judged(reported(day('2026-03-01'), [90], { ...probed, position: 0, leadOhm: null })).resistanceTimes;
  expect(whole).toMatchObject({ groups: [], whole: { value: 0.09 }, perGroup: { value: 0.03 } });
  const [group] = judged(reported(day('2026-03-01'), [29], { ...probed, position: 2 })).resistanceTimes;
  expect(group?.groups).toMatchObject([{ position: 2, resistance: { value: expect.closeTo(0.009, 9) } }]);
  // A charger measures behind the leads.
  const [byCharger] = judged(reported(day('2026-03-01'), [29, 29, 29], { leadOhm: 0.02 })).resistanceTimes;
  expect(byCharger?.medianOhm).toBe(0.029);
});

test('beside its twin: by the same protocol, odd from the house rule on', () => {
  const twin = { ...judged(reported(day('2026-02-01'), [7.8, 8, 8.1])), code: 'PC4' };
  const worn = judged(reported(day('2026-03-01'), [11.9, 12, 12.2]), { twins: ['PC4', 'PC5'] });
  expect(besideTwins(worn, [worn, twin], rules)).toEqual([{ code: 'PC4', times: expect.closeTo(1.5, 9), isOdd: true }]);
  const other = { ...judged(reported(day('2026-02-01'), [7.8, 8, 8.1], { protocolId: 2 })), code: 'PC4' };
  expect(besideTwins(worn, [worn, other], rules)).toEqual([]);
});

describe('graded by its weakest group', () => {
  const run = {
    id: 1,
    endedAt: day('2026-03-02'),
    capacityAh: 1.9,
    capacityU: 0.01,
    reachedCutoff: true,
    meanCurrentA: 1,
    energyWh: 21,
    meanVoltageV: 11.1,
    groups: null,
  };
  const tenSecond = { protocolId: 3, roundId: 3 };
  /** Open 12 V, loaded at 5 A. */
  const whole = (dropV: number) =>
    reported(day('2026-03-01'), [1], {
      ...tenSecond,
      position: 0,
      method: 'ammeter',
      facts: {
        kind: 'load-step',
        openV: 12,
        step: 0.001,
        loadedV: 12 - dropV,
        afterV: null,
        currentA: 5,
        currentStep: 0.001,
        loadResistanceOhm: null,
        loadTolerance: null,
        loadRatingW: null,
        afterS: null,
      },
    });

  test('each read after ten seconds: the highest counts', () => {
    const pack = judged(reported(day('2026-03-01'), [20, 24, 21], tenSecond), { run });
    expect(pack.weakest).toMatchObject({ position: 2, by: 'read' });
    expect(pack.duty.rateC?.value).toBeCloseTo((0.05 * 3.7) / 0.024 / 1.9, 6);
    expect([pack.duty.duty, pack.standing, pack.waits]).toEqual(['surge', 'surge', 'intake']);
  });

  test('the whole alone tells a mean, not the weakest; with its groups told it is shared out as they stand', () => {
    expect(judged(whole(0.3), { run }).duty).toMatchObject({ duty: null, missing: ['resistance'] });
    // 60 mΩ over three groups in the ratio 8 : 8 : 9.6.
    const shared = judged([...whole(0.3), ...reported(day('2026-02-01'), [8, 8, 9.6])], { run });
    expect(shared.weakest).toMatchObject({ position: 3, by: 'shared' });
    expect(shared.resistance?.value).toBeCloseTo((0.06 * 9.6) / 25.6, 3);
    expect(shared.duty.duty).toBe('surge');
  });

  test('what a charger tells alone does not grade; swelling ends it whatever the figures say', () => {
    expect(judged(reported(day('2026-03-01'), [8, 8, 8]), { run }).duty.missing).toEqual(['resistance']);
    const swollen = judged(reported(day('2026-03-01'), [20, 20, 21], tenSecond), { run, findings: ['swollen'] });
    expect([swollen.duty.duty, swollen.standing]).toEqual(['retire', 'out']);
  });

  test('a failing group leaves light duty at best, said with its times', () => {
    const { duty } = judged(reported(day('2026-03-01'), [6, 8, 22], tenSecond), { run });
    expect(duty).toMatchObject({ duty: 'light', because: { code: 'group-failing', position: 3, times: 22 / 8 } });
  });

  test('health is of what was noted when new, else of the rating; a lower bound never retires', () => {
    const asNew = { at: day('2024-01-01'), capacityAh: 2.4, price: null, resistancesOhm: null };
    expect(judged([], { run, asNew }).duty.health?.value).toBeCloseTo(1.9 / 2.4, 9);
    expect(judged([], { run }).duty.health?.value).toBeCloseTo(0.95, 9);
    expect(judged([], { run: { ...run, capacityAh: 0.6, reachedCutoff: false } }).duty.duty).toBeNull();
    expect(judged([], { run: { ...run, capacityAh: 0.6 } }).duty.duty).toBe('retire');
  });
});

test('what was measured before a rescue grades nothing after it (common practice)', () => {
  const run = {
    id: 1,
    endedAt: day('2026-02-01'),
    capacityAh: 1.9,
    capacityU: 0.01,
    reachedCutoff: true,
    meanCurrentA: 1,
    energyWh: 7,
    meanVoltageV: 11.1,
    groups: null,
  };
  const before = judged([], { run, rescues: 1, rescuedAt: day('2026-02-10') });
  expect(before.capacity).toBeNull();
  expect(before.duty.missing).toContain('capacity');
  expect(judged([], { run, rescues: 1, rescuedAt: day('2026-01-10') }).capacity?.value).toBe(1.9);
});

test('what was read before it was mended says nothing of it; of a group that stayed its past is still its past', () => {
  const old = [...reported(day('2026-02-01'), [20, 21, 40]), ...reported(day('2026-01-01'), [8, 8.2, 14])];
  expect(judged(old).amongGroups?.groups).toHaveLength(3);
  const mends = [{ at: day('2026-02-10'), position: 3 }];
  const mended = judged(old, { mends });
  expect([mended.amongGroups, mended.resistance]).toEqual([null, null]);
  expect(mended.resistanceTimes).toHaveLength(2);
  const since = judged([...reported(day('2026-02-20'), [20, 21, 22]), ...old], { mends }).amongGroups;
  expect(since?.groups.map(({ sinceFirst }) => sinceFirst?.at ?? null)).toEqual([
    day('2026-01-01'),
    day('2026-01-01'),
    null,
  ]);
});
