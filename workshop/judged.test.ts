import { judgePackRound } from '@/core/judging/judgePack';
import type { CellFacts, Instrument, Pack, PackRound, Protocol } from '@/core/judging/facts';
import { presetRules } from '@/core/chemistry/houseRules';
import { bareBench } from '@/core/judging/equipment';
import { bookOf } from '@/core/judging/instrumentBook';
import { cutoffsOf, judgeCell } from '@/core/judging/judgeCell';

const rules = presetRules('workshop');
const day = (n: number) => new Date(n * 86_400_000);
const voltage = (valueV: number): CellFacts['voltage'] => ({
  valueV,
  step: 0.001,
  instrumentId: null,
  channel: null,
  takenAt: day(5),
});
const protocol = (id: number, holdS: number, temperature: Protocol['temperature'] = null): Protocol => ({
  id,
  name: `P${id}`,
  school: '',
  method: 'resistor',
  charge: null,
  temperature,
  restS: 0,
  rateC: null,
  holdS,
  archivedAt: null,
});
const protocols = new Map(
  [protocol(1, 10, { coldestC: 15, warmestC: 25 }), protocol(2, 1)].map((one) => [one.id, one]),
);
const equipment = { ...bareBench, protocols };
const load: CellFacts['resistances'][number] = {
  together: 1,
  position: 1,
  leadOhm: null,
  roundId: 1,
  protocolId: 1,
  disturbedAt: null,
  method: 'resistor',
  takenAt: day(5),
  temperatureC: null,
  instrumentId: null,
  channel: null,
  ammeterId: null,
  facts: {
    kind: 'load-step',
    openV: 3.95,
    loadedV: 3.87,
    afterV: null,
    afterS: null,
    currentA: null,
    step: 0.001,
    currentStep: null,
    loadResistanceOhm: 2,
    loadTolerance: 0.01,
    loadRatingW: null,
  },
};
const facts: CellFacts = {
  id: 1,
  code: 'A1-001',
  batchCode: 'A1',
  place: 1,
  bond: null,
  weldedTo: [],
  putAway: false,
  maker: 'M',
  model: 'N',
  size: null,
  chemistry: 'li-ion',
  ratedCapacityAh: 2.4,
  modelMassKg: 0.045,
  board: false,
  asNewOhm: null,
  labelChargeA: null,
  labelDischargeA: null,
  rescues: 0,
  rescuedAt: null,
  voltage: voltage(3.7),
  massKg: 0.0451,
  massStepKg: 0.0001,
  findings: [],
  resistances: [load],
  holds: [],
  partial: null,
  noted: null,
  run: {
    id: 3,
    endedAt: new Date(0),
    capacityAh: 2.2,
    capacityU: 0.013,
    reachedCutoff: true,
    energyWh: 7.9,
    meanVoltageV: 3.6,
  },
  buildId: null,
  pack: null,
};
const judge = (change: Partial<CellFacts>) => judgeCell({ ...facts, ...change }, rules, equipment);

test('a cell with everything read waits on the shelf with its duty', () => {
  const cell = judge({});
  expect(cell.resistance?.value).toBeCloseTo((0.08 * 2) / 3.87, 9);
  expect(cell).toMatchObject({ waits: 'shelf', duty: { duty: 'steady' }, intake: { class: 'usable' } });
});

test.each([
  [{ voltage: null }, 'intake'],
  [{ resistances: [] }, 'resistance'],
  [{ resistances: [{ ...load, temperatureC: 4 }] }, 'resistance'],
  [{ resistances: [{ ...load, protocolId: 2 }] }, 'resistance'],
  [{ resistances: [{ ...load, facts: { ...load.facts, loadedV: 4 } as typeof load.facts }] }, 'resistance'],
  [{ run: null }, 'capacity'],
  [{ buildId: 4 }, 'build'],
  [{ voltage: voltage(2.5) }, 'rescue'],
  [{ findings: ['swollen' as const] }, 'out'],
])('case %#: it waits elsewhere', (change, waits) => {
  expect(judge(change).waits).toBe(waits);
});

test('the newest reading that was taken as its protocol asks grades the cell, and a newer one left out says why', () => {
  const cold = { ...load, temperatureC: 4, facts: { ...load.facts, loadedV: 3.6 } as typeof load.facts };
  expect(judge({ resistances: [cold, load] })).toMatchObject({
    resistance: judge({}).resistance,
    leftOut: { code: 'temperature-outside', temperatureC: 4, coldestC: 15, warmestC: 25 },
  });
  expect(judge({ resistances: [cold] })).toMatchObject({
    resistance: null,
    leftOut: { code: 'temperature-outside', temperatureC: 4 },
    duty: { duty: null, missing: ['resistance'] },
  });
  expect(judge({ resistances: [load, cold] })).toMatchObject({ leftOut: null });
});

test('a swollen cell and a fake are retired whatever they can do', () => {
  expect(judge({ findings: ['swollen'] }).duty).toMatchObject({
    duty: 'retire',
    because: { code: 'unsafe', because: { code: 'finding', finding: 'swollen' } },
  });
  expect(judge({ massKg: 0.03 }).duty.duty).toBe('retire');
});

test('other rules, other verdict; the facts stay', () => {
  const low = judgeCell({ ...facts, voltage: voltage(2.9) }, presetRules('careful'), equipment);
  expect(low.intake.class).toBe('out');
  expect(judge({ voltage: voltage(2.9) }).intake.class).toBe('usable');
  expect(cutoffsOf(rules)).toMatchObject({ 'li-ion': 2.8, lipo: 3, lfp: 2.5, nimh: 1, sla: 1.75 });
});

describe('calibrations', () => {
  const checker: Instrument = {
    id: 7,
    code: 'CK',
    name: 'checker',
    kind: 'checker',
    channels: 3,
    wires: null,
    leads: null,
    certified: false,
    archivedAt: null,
    ranges: { voltage: { resolution: 0.001, accuracyShare: 0, accuracyCounts: 5 } },
    noted: {},
  };
  const calibration = (channel: number, offsetV: number, from: number, withdrawn = false) => ({
    id: channel * 10 + from,
    instrumentId: 7,
    channel,
    crossCheckId: null,
    adjusted: null,
    reference: 'DM',
    calibratedAt: day(from),
    withdrawnAt: withdrawn ? day(9) : null,
    withdrawnBecause: null,
    correction: {
      kind: 'offset' as const,
      offset: { value: offsetV, u: 0.001 },
      gain: { value: 0, u: 0 },
      covariance: 0,
      residual: 0,
      degrees: Infinity,
    },
  });
  const read = (takenOn: number): CellFacts['voltage'] => ({
    valueV: 3.7,
    step: 0.001,
    instrumentId: 7,
    channel: 2,
    takenAt: day(takenOn),
  });

  test.each([
    ['read before it', 3, [calibration(2, -0.03, 4)], 3.7],
    ['read after it', 5, [calibration(2, -0.03, 4)], 3.73],
    ['read after a newer one', 9, [calibration(2, -0.01, 8), calibration(2, -0.03, 4)], 3.71],
    ['withdrawn since', 5, [calibration(2, -0.03, 4, true)], 3.7],
    ['of another channel', 5, [calibration(1, -0.03, 4)], 3.7],
  ])('apply to later readings, raw values untouched: %s', (_, takenOn, calibrations, expected) => {
    const cell = judgeCell({ ...facts, voltage: read(takenOn) }, rules, {
      ...equipment,
      instruments: bookOf([checker], calibrations),
    });
    expect(cell.voltageV).toBeCloseTo(expected, 9);
    expect(cell.voltage?.valueV).toBe(3.7);
  });

  const pack: Pack = {
    id: 1,
    code: 'PA',
    name: 'test',
    chemistry: 'li-ion',
    series: 3,
    parallel: 1,
    ratedCapacityAh: 2,
    board: 'none',
    buildId: null,
    apart: null,
  };
  const round: PackRound = {
    id: 1,
    entry: '',
    packId: 1,
    series: 3,
    state: 'rest',
    groupVoltagesV: [3.9, 3.87, 3.9],
    groupStepsV: [0.001, 0.001, 0.001],
    terminalV: 11.7,
    terminalStepV: 0.001,
    instrument: 'CK',
    instrumentId: 7,
    terminalInstrumentId: null,
    confirmed: false,
    takenAt: day(5),
    voidReason: null,
  };

  test('the groups of a pack are corrected channel by channel, and then their sum agrees with the terminals', () => {
    expect(judgePackRound(pack, round, rules, { ...bareBench, instruments: bookOf([checker], []) })).toMatchObject({
      sumCheck: { agrees: true },
      level: 'good',
    });
    const judged = judgePackRound(pack, round, rules, {
      ...bareBench,
      instruments: bookOf([checker], [calibration(2, -0.03, 4)]),
    });
    expect(judged).toMatchObject({
      level: 'excellent',
      sumCheck: { agrees: true, differenceV: { value: expect.closeTo(0, 9) } },
    });
    expect(judged.groups[1]?.voltageV).toBeCloseTo(3.9, 9);
  });

  test('without instruments a round is judged by its last digit', () => {
    const plain = {
      ...round,
      instrumentId: null,
      groupVoltagesV: [3.9, 3.7, 3.9],
      groupStepsV: [0.01, 0.01, 0.01],
      terminalV: 11.5,
      terminalStepV: 0.01,
    };
    expect(judgePackRound(pack, plain, rules, bareBench)).toMatchObject({
      level: 'out-of-service',
      sumCheck: { agrees: true },
    });
  });
});
