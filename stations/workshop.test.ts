import { presetRules } from '@/core/chemistry/houseRules';
import type { CellFacts, LoadStepFacts } from '@/records/cells';
import type { Pack, PackRound } from '@/records/packs';
import { cutoffsOf, judgeCell, judgePackRound, stepOf } from './workshop';

const rules = presetRules('workshop');
const step: LoadStepFacts = { openV: 3.95, loadedV: 3.87, afterV: null, currentA: null, step: 0.001, currentStep: null, loadResistanceOhm: 2, loadTolerance: 0.01, loadRatingW: null, roundId: 1 };
const facts: CellFacts = {
  id: 1, code: 'A1-001', batchCode: 'A1', place: 1, bond: null, maker: 'M', model: 'N', chemistry: 'li-ion', ratedCapacityAh: 2.4, modelMassKg: 0.045, rescues: 0,
  voltageV: 3.7, massKg: 0.0451, massStepKg: 0.0001, findings: [], step, run: { id: 3, capacityAh: 2.2, capacityU: 0.013, reachedCutoff: true }, unjudgedRun: false, buildId: null,
};
const judge = (change: Partial<CellFacts>) => judgeCell({ ...facts, ...change }, rules);

test('a cell with everything read waits on the shelf with its duty', () => {
  const cell = judge({});
  expect(cell.resistance?.value).toBeCloseTo((0.08 * 2) / 3.87, 9);
  expect(cell).toMatchObject({ waits: 'shelf', duty: { duty: 'steady' }, intake: { class: 'usable' } });
});

test.each([
  [{ voltageV: null }, 'intake'],
  [{ step: null }, 'resistance'],
  [{ run: null }, 'runs'],
  [{ buildId: 4 }, 'build'],
  [{ voltageV: 2.5 }, 'rescue'],
  [{ findings: ['swollen' as const] }, 'retired'],
])('with %j it waits at %s', (change, waits) => {
  expect(judge(change).waits).toBe(waits);
});

test('a swollen cell and a fake are retired whatever they can do', () => {
  expect(judge({ findings: ['swollen'] }).duty).toMatchObject({ duty: 'retire', because: expect.stringContaining('swollen') });
  expect(judge({ massKg: 0.03 }).duty.duty).toBe('retire');
});

describe('kept load steps', () => {
  test('the level after takes the droop off, at the price of its own uncertainty', () => {
    const plain = stepOf(step);
    const drooped = stepOf({ ...step, afterV: 3.94 });
    expect(drooped?.resistance.value).toBeCloseTo((0.07 * 2) / 3.87, 9);
    expect(drooped?.resistance.u ?? 0).toBeGreaterThan(plain?.resistance.u ?? 1);
  });

  test('an ammeter counts instead of the resistor', () => {
    expect(stepOf({ ...step, loadResistanceOhm: null, currentA: 1.6, currentStep: 0.01 })?.resistance.value).toBeCloseTo(0.05, 9);
  });

  test('a confirmed reading without sense gives no figure', () => {
    expect(stepOf({ ...step, loadedV: 4 })).toBeNull();
    expect(judge({ step: { ...step, loadedV: 4 } })).toMatchObject({ resistance: null, waits: 'resistance' });
  });
});

test('other rules, other verdict; the facts stay', () => {
  const low = judgeCell({ ...facts, voltageV: 2.9 }, presetRules('careful'));
  expect(low.intake.class).toBe('out');
  expect(judge({ voltageV: 2.9 }).intake.class).toBe('usable');
  expect(cutoffsOf(rules)).toMatchObject({ 'li-ion': 2.8, lipo: 3, lfp: 2.5, nimh: 1, sla: 1.75 });
});

test('a round of a pack is judged with its state and resolution', () => {
  const pack: Pack = { id: 1, code: 'PA', name: 'test', chemistry: 'li-ion', series: 2, parallel: 1, ratedCapacityAh: 2, board: 'none' };
  const round: PackRound = { id: 1, entry: '', packId: 1, series: 2, state: 'rest', groupVoltagesV: [3.9, 3.7], terminalV: 7.6, stepV: 0.01, instrument: '', confirmed: false, takenAt: new Date(0), voidReason: null };
  expect(judgePackRound(pack, round, rules)).toMatchObject({ level: 'out-of-service', sumCheck: { agrees: true } });
});
