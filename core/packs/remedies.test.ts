import { ImpossibleInput } from '../impossibleInput';
import { compareRemedies, refuseUnfit, type RemedyKind, type Uneven } from './remedies';

const usual = { currentA: 2, bleedFromV: 4.1, overshootV: 0.01 };
const pack = (socs: readonly number[], changed: Partial<Uneven> = {}): Uneven => ({
  chemistry: 'li-ion',
  curve: null,
  groups: socs.map((value) => ({ soc: { value, u: 0.01 }, capacityAh: 5.2, resistanceOhm: 0.03 })),
  charger: { ...usual, bleedA: 0.2, timerS: null },
  connector: 'balance',
  floorV: 2.8,
  topUpCurrentA: 0.5,
  drainCurrentA: 0.1,
  combined: true,
  bad: [],
  ...changed,
});
const remedyOf = (request: Uneven, kind: RemedyKind) => {
  const found = compareRemedies(request).remedies.find((one) => one.kind === kind);
  if (!found) throw new Error(`no ${kind}`);
  return found;
};
const lowFourth = [0.8, 0.8, 0.8, 0.5, 0.8];
const missingAh = 0.3 * 5.2;

describe('time is missing charge by current, missing charge capacity by difference (common practice)', () => {
  test('topping up the low group', () => {
    const topUp = remedyOf(pack(lowFourth), 'top-up');
    expect(topUp.hours).toBeCloseTo(missingAh / 0.5, 2);
    expect(topUp.movedAh).toBeCloseTo(missingAh, 3);
    expect(topUp.moves.map(({ position }) => position)).toEqual([4]);
    expect(topUp.leftFraction).toBeCloseTo(0, 3);
  });

  test('draining the high ones, all at once', () => {
    const drain = remedyOf(pack(lowFourth), 'drain');
    expect(drain.hours).toBeCloseTo(missingAh / 0.1, 9);
    expect(drain.movedAh).toBeCloseTo(4 * missingAh, 9);
    expect(drain.moves).toHaveLength(4);
  });

  test('bleeding: the charge of the low group through a resistor, after the charge to full', () => {
    const bleed = remedyOf(pack(lowFourth), 'bleed');
    const toFullH = (0.2 * 5.2) / 2;
    expect(((bleed.hours ?? NaN) - toFullH) / (missingAh / 0.2)).toBeGreaterThan(0.9);
    expect(((bleed.hours ?? NaN) - toFullH) / (missingAh / 0.2)).toBeLessThan(1.1);
    expect(bleed.leftFraction).toBeLessThan(0.02);
    expect(bleed.highestV).toBeLessThan(4.212);
  });

  test('two low groups are topped up one after the other', () => {
    const topUp = remedyOf(pack([0.8, 0.5, 0.8, 0.6]), 'top-up');
    expect(topUp.hours).toBeCloseTo((0.5 * 5.2) / 0.5, 2);
    expect(topUp.course.groupsV.map((own) => own.length)).toEqual([121, 121, 121, 121]);
  });

  test('groups of other capacities are made to be full together', () => {
    const request = pack([0.7, 0.7]);
    const groups = [request.groups[0], { ...request.groups[1], capacityAh: 4 }] as Uneven['groups'];
    expect(remedyOf({ ...request, groups }, 'top-up').movedAh).toBeCloseTo(0.3 * 5.2 - 0.3 * 4, 3);
  });
});

test('no more goes through the thin leads of a balance plug than an ampere', () => {
  expect(remedyOf(pack(lowFourth, { topUpCurrentA: 3 }), 'top-up').hours).toBeCloseTo(missingAh, 2);
});

test('the timer ends it first, by chance, the more doubtful the charge', () => {
  const at = (timerH: number) =>
    remedyOf(pack(lowFourth, { charger: { ...usual, bleedA: 0.2, timerS: timerH * 3600 } }), 'bleed').timerChance;
  expect(at(2)).toBeGreaterThan(0.999);
  expect(at(24)).toBeLessThan(0.001);
  const midway = at(8.1);
  expect(midway).toBeGreaterThan(0.02);
  expect(midway).toBeLessThan(0.98);
});

test('the soonest is recommended; work at the leads by hand counts double', () => {
  expect(compareRemedies(pack(lowFourth)).recommended).toBe('top-up');
  const strong = { ...usual, bleedA: 1, timerS: null };
  expect(compareRemedies(pack(lowFourth, { charger: strong })).recommended).toBe('bleed');
  expect(compareRemedies(pack([0.8, 0.81, 0.8]))).toMatchObject({ recommended: null, isEven: true });
});

test('a charger that does not balance: charged, the full ones drained, charged again', () => {
  const plain = pack(lowFourth, { charger: { ...usual, bleedA: 0, timerS: null }, drainCurrentA: 0.4 });
  const { remedies } = compareRemedies(plain);
  expect(remedies.map(({ kind }) => kind)).toEqual(['top-up', 'drain', 'charge-drain']);
  expect(remedies[2]?.hours).toBeGreaterThan(missingAh / 0.4 + (0.4 * 5.2) / 2);
  expect(remedies[2]?.leftFraction).toBeLessThan(0.04);
});

test('what takes more than four days has no hours and is not recommended', () => {
  const huge = pack([0.9, 0.2], { charger: { ...usual, bleedA: 0.02, timerS: 7200 }, topUpCurrentA: 0.02 });
  expect(remedyOf(huge, 'bleed')).toMatchObject({ hours: null, timerChance: 1 });
});

test('it tells how far it is, up to the end', () => {
  const fractions: number[] = [];
  compareRemedies(pack(lowFourth), (fraction) => fractions.push(fraction));
  expect(fractions.at(-1)).toBe(1);
  expect(fractions.length).toBeGreaterThan(3);
});

test('groups below their floor, and groups that stand above their chemistry’s full, are refused', () => {
  expect(() => refuseUnfit('lipo', [4.2, 4.34, 4.1])).toThrow(ImpossibleInput);
  expect(() => refuseUnfit('li-ion', [3.9, 2.1])).toThrow(ImpossibleInput);
  expect(() => refuseUnfit('lihv', [4.34, null, 3.4])).not.toThrow();
});

test('a bad group is replaced: the spare is brought to its neighbours, rests, is joined; evening out would not last', () => {
  const { remedies, recommended } = compareRemedies(pack(lowFourth, { bad: [4] }));
  expect(recommended).toBe('replace');
  const replaced = remedies.find(({ kind }) => kind === 'replace');
  // From half full to 0.8 at 2 A, an hour of rest, an hour of work.
  expect(replaced?.hours).toBeCloseTo((0.3 * 5.2) / 2 + 2, 9);
  expect(replaced?.attendedHours).toBeCloseTo((0.3 * 5.2) / 2 + 1, 9);
  expect(replaced?.leftFraction).toBeCloseTo(0, 9);
  expect(replaced?.moves).toMatchObject([{ position: 4 }]);
  const lower = remedyOf(pack([0.5, 0.5, 0.1], { bad: [3] }), 'replace');
  expect(lower.movedAh).toBe(0);
  expect(lower.course.groupsV.flat().every(Number.isFinite)).toBe(true);
  expect(compareRemedies(pack([0.5, 0.2], { bad: [1, 2] })).remedies.map(({ kind }) => kind)).not.toContain('replace');
});

describe('no group above its end or below its reserve', () => {
  test('topped up beside nearly full groups, a one-cell charger holds its end: its current tapers', () => {
    const request = pack([0.99, 0.99, 0.6], { topUpCurrentA: 1 });
    const groups = request.groups.map((group) => ({ ...group, capacityAh: 2, resistanceOhm: 0.12 }));
    const topUp = remedyOf({ ...request, groups }, 'top-up');
    expect(topUp.highestV).toBeLessThanOrEqual(4.2 + 1e-6);
    expect(topUp.impossible).toBeNull();
    // Longer than charge by current.
    expect(topUp.hours).toBeGreaterThan(1.1 * (0.39 * 2));
    expect(topUp.moves[0]?.stopV).toBeLessThanOrEqual(4.2 + 1e-6);
  });

  test('a group that holds less than is to be drained is not drained below zero', () => {
    const request = pack([0.9, 0.9, 0.2]);
    const groups = request.groups.map((group, i) => ({ ...group, capacityAh: [6, 3, 6][i] as number }));
    const compared = compareRemedies({ ...request, groups });
    const drain = compared.remedies.find(({ kind }) => kind === 'drain');
    expect(drain?.impossible).toMatchObject({ code: 'group-emptied', position: 2 });
    expect(drain?.lowestSoc).toBeLessThan(0.05);
    expect(compared.recommended).not.toBe('drain');
  });

  test('without a balance connector nothing is bled; clips on the group itself carry more', () => {
    const request = pack(lowFourth, { connector: 'none', topUpCurrentA: 2 });
    expect(remedyOf(request, 'bleed').impossible).toEqual({ code: 'no-connector' });
    expect(remedyOf(request, 'top-up').hours).toBeCloseTo(missingAh / 2, 1);
    expect(compareRemedies(request).recommended).toBe('top-up');
  });
});
