import { intakeReasonText } from '@/words/intake';
import { presetRules } from '../chemistry/houseRules';
import { read } from '../quantity/quantity';
import {
  findingsOn,
  inspectionFindings,
  type IntakeFacts,
  type IntakeVerdict,
  judgeIntake,
  typedFindings,
} from './intake';

const workshop = presetRules('workshop');
const good: IntakeFacts = {
  chemistry: 'li-ion',
  ratedCapacityAh: 2.4,
  modelMassKg: 0.0452,
  restVoltagesV: [3.62],
  massKg: read(0.0451, 0.0001),
  findings: [],
  isWeighed: true,
  rescues: 0,
};
const judge = (change: Partial<IntakeFacts>, rules = workshop) => judgeIntake({ ...good, ...change }, rules);
const text = (verdict: IntakeVerdict) => verdict.reasons.map(intakeReasonText).join(' ');

test('a sound cell is usable once all three were read', () => {
  expect(judge({})).toMatchObject({ class: 'usable', missing: [], unsafe: false });
  expect(judge({ massKg: null, findings: null })).toMatchObject({ class: null, missing: ['weight', 'inspection'] });
});

test('common practice: 3.0 Ah claimed at 27.8 g is out because its weight cannot hold that', () => {
  const verdict = judge({ ratedCapacityAh: 3, modelMassKg: null, massKg: read(0.0278, 0.0001) });
  expect(verdict).toMatchObject({ class: 'out', unsafe: true });
  expect(text(verdict)).toContain('This weight cannot hold that capacity');
});

test('far from the weight of its model is out, within the tolerance is not', () => {
  expect(judge({ massKg: read(0.0405, 0.0001) }).reasons[0]?.rule).toBe('weightTolerance');
  expect(judge({ massKg: read(0.043, 0.0001) }).class).toBe('usable');
});

test('common practice: a swollen pack is out whatever its groups read; a damaged lead is not, and is said', () => {
  const pack = { isWeighed: false, massKg: null, modelMassKg: null, restVoltagesV: [3.81, 3.8, 3.82] };
  expect(judge(pack)).toMatchObject({ class: 'usable', missing: [], reasons: [{ code: 'in-range', group: 2 }] });
  expect(judge({ ...pack, findings: null })).toMatchObject({ class: null, missing: ['inspection'] });
  for (const finding of ['swollen', 'puffed'] as const)
    expect(judge({ ...pack, findings: [finding] })).toMatchObject({ class: 'out', unsafe: true });
  const worn = judge({ ...pack, findings: ['lead'] });
  expect(worn).toMatchObject({ class: 'usable', unsafe: false });
  expect(text(worn)).toContain('mend it before any charge');
});

test('the group of a pack that is below its floor is named; each that is', () => {
  const pack = { isWeighed: false, massKg: null, modelMassKg: null };
  const low = judge({ ...pack, restVoltagesV: [3.7, 2.5, 3.7, 2.6] });
  expect(low.class).toBe('rescue-only');
  expect(low.reasons.map(({ group }) => group)).toEqual([2, 4]);
  expect(text(low)).toContain('Group 2 at 2.500 V is below its floor of 2.8 V: only by the attended rescue.');
});

test('findings are typed by their keys, those of a pack on packs alone', () => {
  expect(typedFindings('OK', 'pack')).toEqual([]);
  expect(typedFindings('sce', 'pack')).toEqual(['swollen', 'connector', 'lead']);
  expect(typedFindings('sc', 'cell')).toBeNull();
  expect(typedFindings('r', 'pack')).toBeNull();
  for (const kind of ['cell', 'pack'] as const) {
    const keys = findingsOn(kind).map((finding) => inspectionFindings[finding].key);
    expect(new Set(keys).size).toBe(keys.length);
  }
});

describe('common practice: below the floor', () => {
  test.each([
    ['workshop', 2.79, 0, 'rescue-only'],
    ['workshop', 2.79, 1, 'out'],
    ['workshop', 1.4, 0, 'out'],
    ['careful', 2.79, 0, 'out'],
    ['thrifty', 2.4, 1, 'rescue-only'],
    ['thrifty', 2.79, 0, 'usable'],
  ] as const)('%s: %d V after %d rescues is %s', (preset, restVoltageV, rescues, expected) => {
    expect(judge({ restVoltagesV: [restVoltageV], rescues }, presetRules(preset)).class).toBe(expected);
  });

  test('a nickel cell is brought back gently, a primary one never', () => {
    const light = { modelMassKg: null, massKg: read(0.03, 0.0001) };
    expect(judge({ ...light, chemistry: 'nimh', restVoltagesV: [0.9] }).class).toBe('usable');
    expect(judge({ ...light, chemistry: 'alkaline', restVoltagesV: [0.7] }).class).toBe('out');
  });
});

test.each([
  [-0.2, 'reversed'],
  [4.3, 'overcharged'],
])('%d V is out at once, before weight and inspection', (restVoltageV, word) => {
  const verdict = judge({ restVoltagesV: [restVoltageV], massKg: null, findings: null });
  expect(verdict.class).toBe('out');
  expect(text(verdict)).toContain(word);
});

test('a safety finding overrides good numbers; a blemish is only noted', () => {
  expect(judge({ findings: ['swollen'] })).toMatchObject({ class: 'out', unsafe: true });
  expect(text(judge({ findings: ['smell'] }))).toContain('It smells of solvent');
  const blemished = judge({ findings: ['wrap', 'rust'] });
  expect(blemished.class).toBe('usable');
  expect(text(blemished)).toContain('Noted: wrap torn');
});

test('a shorted nickel cell is scrap; an empty one is charged at a low current, not rescued (common practice)', () => {
  const nickel = { chemistry: 'nicd' as const, modelMassKg: null, massKg: null, isWeighed: false };
  const shorted = judge({ ...nickel, restVoltagesV: [0.02] });
  expect(shorted).toMatchObject({ class: 'out', reasons: [{ code: 'shorted' }] });
  const empty = judge({ ...nickel, restVoltagesV: [0.9] });
  expect(empty).toMatchObject({ class: 'usable', reasons: [{ code: 'low-current-first' }] });
});
