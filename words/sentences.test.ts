import { inspectionKeys, type IntakeReason } from '@/core/grading/intake';
import { type Impossible, ImpossibleInput } from '@/core/impossibleInput';
import type { SheetRefusal } from '@/core/planning/sheet';
import type { UnfitReason } from '@/core/judging/fitForUse';
import type { NotPlanned } from '@/core/planning/benchPlan';
import { sheetRefusalText } from './chargerSheets';
import { unplacedText } from './schedule';
import { unfitText } from './unfit';
import type { ResistanceSaying } from '@/core/packs/groupResistances';
import { display } from '@/core/quantity/format';
import type { RescueRefusal } from '@/core/judging/rescue';
import type { Question } from '@/core/quantity/question';
import type { Warning } from '@/core/warning';
import { dutyReasonText } from './duty';
import { impossibleText } from './impossible';
import { intakeReasonText } from './intake';
import { resistanceSayingText } from './packs';
import { questionText } from './questions';
import { rescueRefusalText } from './rescue';
import type { Under } from './say';
import { warningText } from './warnings';

/** One of each code: a new one is missed here by the compiler until it has its example. */
type OneOfEach<Said extends { code: string }> = {
  [Code in Said['code']]: Omit<Under<Said, Code>, 'code'>;
};
const eachOf = <Said extends { code: string }>(facts: OneOfEach<Said>): Said[] =>
  // The compiler holds the facts against their code above, not once the two are put together.
  Object.entries(facts).map(([code, own]) => ({ code, ...(own as object) }) as unknown as Said);

const window = { from: 0.3, to: 0.7 };
const warnings = eachOf<Warning>({
  'no-header': { columns: [{ index: 0, field: 'time' }] },
  'unit-assumed': { columns: [{ field: 'time', unit: 's' }] },
  'groups-as-taps': { turned: true },
  'terminals-among-groups': { index: 5 },
  'groups-not-sum': { apartV: -0.61, voltageV: 14.2 },
  'row-unreadable': { count: 7, rows: [2, 3] },
  'heading-again': { rows: [402] },
  'clock-reset': { count: 1, rows: [5] },
  'date-order': { order: 'month-first', isAssumed: true },
  'no-discharge': {},
  'wild-samples': { count: 2, atS: [3, 4] },
  'current-missing': { count: 1 },
  gap: { fromS: 10, toS: 70 },
  'current-negated': {},
  'charge-left-out': {},
  'rest-left-out': { beforeS: 60, betweenS: 0, afterS: 30 },
  'brief-dips': { count: 2 },
  'cutoff-in-gap': { silenceS: 60, uS: 20 },
  'cutoff-carried-on': { voltageV: 2.803, uS: 4 },
  'cutoff-not-reached': { voltageV: 3.1, cutoffV: 2.8 },
  'load-tolerance-assumed': { load: 'resistor', share: 0.01 },
  'steps-not-evaluated': { evaluated: 200, beyond: 12 },
  'segments-not-listed': { listed: 500, beyond: 3 },
  'current-accuracy-assumed': {},
  'voltage-accuracy-assumed': {},
  'first-run-taken-as-new': {},
  'other-rates-left-out': { count: 2 },
  'no-trend': {},
  'no-fade-seen': {},
  'far-beyond-seen': { times: 2.3 },
  'reading-uncertainty-assumed': { uV: 0.0005 },
  'charge-accuracy-assumed': { share: 0.02 },
  'charge-flat': { soc: 0.5 },
  'start-below-reserve': { soc: 0.1 },
  'load-overrated': { loadPowerW: 7, ratingW: 5 },
  'drop-not-resolved': { relativeU: 0.2 },
  'resolution-assumed': {},
  'leads-swamp': { leadOhm: 0.05, resistanceOhm: 0.06, zeroTaken: false },
  'zero-not-taken': {},
  'after-time-unknown': { assumedS: 5 },
  'temperature-unknown': { coldestC: 15, warmestC: 25 },
  'temperature-outside': { temperatureC: 4, coldestC: 15, warmestC: 25 },
  'not-rested': { restedS: 600, askedS: 3600 },
  'charge-outside': { openV: 4.1, soc: 0.9, asked: window },
  'charge-unknown': { asked: window },
  'surface-charge': { openV: 4.18 },
  'board-in-path': {},
  'cutoff-at-once': { group: 2 },
  'load-not-carried': { afterS: 3000 },
  'profile-over': {},
  'carries-unevenly': { group: 3, times: 1.8 },
  'cell-warms': { group: 2, cell: 3, riseK: 24 },
  'taken-as-full': {},
  'ten-seconds-split': {},
  'time-limit': {},
  'sharing-uneven': { group: 2, ratio: 1.7 },
  'models-mixed': { group: 3 },
  'groups-apart': { weakest: 4, apartFraction: 0.062 },
  'voltages-apart': { apartV: 0.03, joining: { group: 1, withinV: 0.01 } },
  'as-noted': { about: 'clock-reset', text: 'The clock went back once.' },
}).map(warningText);

const cell = { voltageV: 2.1, floorV: 2.8 };
const weighed = { ratedCapacityAh: 3, massKg: 0.028, specificEnergyWhPerKg: 400, mostAh: 2.1 };
const failing = dutyReasonText({ code: 'group-failing', position: 4, times: 2.7 });
const reasons = [
  ...eachOf<IntakeReason>({
    finding: { finding: 'smell' },
    'weight-impossible': weighed,
    'weight-doubtful': weighed,
    'weight-off': { massKg: 0.04, modelMassKg: 0.045 },
    reversed: { voltageV: -0.2 },
    overcharged: { voltageV: 4.4, fullV: 4.2 },
    'in-range': { voltageV: 3.7 },
    'empty-primary': { voltageV: 0.7 },
    shorted: { voltageV: 0.02 },
    'low-current-first': cell,
    'attended-rescue': cell,
    'never-rescued-here': cell,
    'beyond-rescue': { voltageV: 1.1, rescueFloorV: 1.5 },
    'rescued-already': { ...cell, rescues: 2 },
  }),
  ...inspectionKeys.map((finding): IntakeReason => ({ code: 'finding', finding })),
].map(intakeReasonText);

const typed = { value: 3.7, step: 0.1 };
const questions = eachOf<Question>({
  'voltage-not-as-others': { typed, othersV: 3.6 },
  'voltage-not-as-neighbours': { typed, neighboursV: 3.6 },
  'voltage-below-zero': { typed },
  'probes-reversed': { typed },
  'voltage-beyond-cell': { typed, chemistry: 'li-ion' },
  'voltage-beyond-pack': { typed, series: 3, meant: '3.70 V' },
  'perhaps-a-pair': { typed, usualKg: 0.045 },
  'weight-unusual': { typed, usualKg: null, together: 2 },
  'resistance-not-above-zero': { computed: { value: -1, step: null } },
  'resistance-not-as-batch': { computed: typed, batchMedianOhm: 0.04 },
  'perhaps-volts': {},
  'whole-not-sum': { typed: { value: 0.04, step: 0.001 }, sumOhm: 0.027 },
  'perhaps-from-red': {},
  'currents-swapped': {},
  'voltages-swapped': { at: 'a load' },
  'still-settling': {},
  'load-still-on': {},
  'digits-too-fine': { instrument: 'DM1' },
  'digits-missing': { instrument: 'DM1', decimals: 2, typed, as: display.voltage },
  'beyond-records': {
    dimension: 'voltage',
    typed,
    limit: { least: -1, most: 1, aboveLeast: false, as: display.voltage },
  },
}).map(questionText);

const impossible = eachOf<Impossible>({
  'not-above-zero': { value: 0 },
  'not-a-count': { what: 'series' },
  'no-finite-result': {},
  'too-few-points': { points: 1, least: 2 },
  'parameters-not-told': {},
  'points-at-one-place': {},
  'points-not-rising': {},
  'loaded-above-open': { openV: 3.7, loadedV: 3.9, droopV: 0.1 },
  'resistance-not-above-zero': {},
  'no-resistance-there': {},
  'currents-in-wrong-order': { lowCurrentA: 2, highCurrentA: 1 },
  'no-group-voltages': {},
  'no-rested-voltage': {},
  'no-start-voltage': {},
  'start-near-end': { least: 0.05 },
  'no-such-resistor': {},
  'columns-swapped': { row: 203, columns: [2, 3] },
  'another-heading': { row: 402 },
  'other-count': { highestV: 16.61, series: 1, likely: 4 },
  'times-backwards': { count: 398, rows: 400 },
  'mapped-twice': { what: 'day' },
  'not-mapped': { what: 'time' },
  'no-text-table': {},
  'empty-file': {},
  'packing-broken': {},
  'workbook-broken': {},
  'no-such-sheet': { sheet: 'Log' },
  'unpacks-too-large': { bytes: 3e8 },
  'no-columns': { seen: 'Dear customer' },
  'more-fields': { headings: 2, fields: 3 },
  'too-few-samples': { count: 1 },
  'group-columns': { columns: 1, series: 4 },
  'unreadable-rows': { count: 9, rows: 10, first: 2 },
  'gap-too-long': { hours: 700 },
  'log-too-long': { days: 300, assumedUnit: 's' },
  'above-its-chemistry': { position: 2, voltageV: 4.33, fullV: 4.2 },
  'needs-rescue': { position: 2, voltageV: 1.9, lowestV: 2.5 },
  'too-few-cells': { series: 2, parallel: 2, given: 1 },
  'cell-twice': { cell: 'a' },
  'cell-without-figures': { cell: 'a' },
  'bond-too-large': { bond: 'w1', cells: 3, parallel: 2 },
  'bonds-do-not-fit': { series: 2, parallel: 3 },
  'group-without-cells': {},
  'pin-not-there': { cell: 'S1-004' },
  'pin-beyond': { cell: 'S1-004', group: 7, series: 4 },
  'pins-contradict': { cell: 'S1-004', groups: [1, 3] },
  'no-amount': {},
  'no-count-within': { low: 20, high: 22 },
  'beyond-use': { temperatureC: -30, coldestC: -20, warmestC: 60 },
  'too-few-of-a-model': { series: 4, parallel: 3 },
  'bond-of-models': { bond: 'B1' },
  'pins-by-group': {},
  'pins-too-many': { cells: 4, places: 3 },
}).map((why) => impossibleText(new ImpossibleInput('Figure', why)));

const ohm = { value: 0.022, u: 0.0003 };
const resistances = eachOf<ResistanceSaying>({
  'group-failing': { position: 4, resistance: ohm, medianOhm: 0.007, times: 3.1, urgent: false },
  'group-watch': { position: 2, resistance: ohm, medianOhm: 0.018, times: 1.22, urgent: false },
  'groups-even': { lowestOhm: 0.008, highestOhm: 0.009, urgent: false },
  risen: { positions: [1], times: 1.4, urgent: false },
  'risen-since-new': { positions: [1, 3], times: 1.5, urgent: false },
  'whole-not-sum': { sum: ohm, whole: ohm, urgent: false },
}).map(resistanceSayingText);

const refusals = eachOf<RescueRefusal>({
  'not-lithium': {},
  'never-here': {},
  'rescued-before': { rescues: 1 },
  'not-watched': {},
  signs: { findings: ['swollen', 'smell'] },
  'too-low': { position: 2, voltageV: 1.2, limitV: 1.5 },
  'unknown-time': { voltageV: 1.8 },
  'nothing-low': { floorV: 3 },
  'too-much-current': { limitA: 0.3 },
}).map(rescueRefusalText);

const four = { chemistry: 'lipo' as const, series: 4 };
const couldBe = [{ chemistry: 'lipo' as const, series: 3 }, four];
const sheetRefusals = eachOf<SheetRefusal>({
  'group-count': { series: 4, groups: 3 },
  'sum-apart': { sumV: 15.2, measuredV: 11.4 },
  'dead-terminals': { measuredV: 0.12, series: 5 },
  scrapped: {},
  retired: {},
  apart: {},
  'put-away': {},
  'built-in': {},
  'primary-cell': {},
  'measure-first': {},
  'board-cut-off': {},
  'not-watched': {},
  'balance-first': { lowest: 5, apartV: 0.48, rule: 'spreadGoodV' },
  empty: { position: 2 },
  'rescued-untested': {},
  unfit: { reason: { code: 'leaks', position: 2 } },
  'charger-blind': { packV: 9.1, lowestPackV: 9.6 },
  'too-few-channels': { channels: 4, series: 5 },
  'end-beyond-limits': { perGroupV: 4.4, fromV: 3, toV: 4.2 },
  'group-above-full': { position: 2, voltageV: 4.3, fullV: 4.2 },
  'not-its-voltage': { told: four, measuredV: 21, couldBe },
  'perhaps-fewer': { told: four, measuredV: 12.4, couldBe },
  'perhaps-iron-phosphate': { told: four, measuredV: 13.2, couldBe },
  'below-floor': { position: 2, perGroupV: 2.2, floorV: 3 },
  'not-below-floor': { floorV: 3 },
  'only-lithium-is-rescued': {},
  'rescue-forbidden': { rescues: 1, rescuesAllowed: 1, rule: 'rescuesAllowed' },
  'too-low-for-rescue': { position: 2, perGroupV: 1.2, rescueFloorV: 1.5, rule: 'rescueFloorV' },
  'no-mode': { needs: '3.65' },
  'does-not-balance': {},
  'one-group': {},
  'balanced-otherwise': { family: 'nickel' },
  'cannot-discharge': {},
  'step-too-coarse': { stepA: 0.5, mostA: 0.06, by: 'house' },
  'cycling-harms': {},
  'run-down-elsewhere': {},
}).map(sheetRefusalText);

const unfit = eachOf<UnfitReason>({
  out: {},
  apart: {},
  'rescue-first': {},
  retiring: {},
  retire: {},
  'group-low': { position: 3, belowV: 0.21, afterUse: true, at: new Date(0) },
  'apart-by': { spreadV: 0.3, at: new Date(0) },
  'ran-too-low': { lowestV: 2.7, position: 1, floorV: 3, at: new Date(0) },
  leaks: { position: 2 },
  'group-failing': { position: 4 },
}).map(unfitText);

const unplaced = eachOf<NotPlanned>({
  'no-station': { kind: 'weld' },
  'in-a-circle': {},
  'longer-than-any-span': { longestMin: 180 },
  'no-attended-time-left': {},
  'after-unplaced': { id: 'PF1 charge' },
  'after-unknown': { id: 'PF9 charge' },
  'sheet-refused': { refusal: { code: 'does-not-balance' } },
  'subject-gone': {},
}).map((why) => unplacedText(why));

test.each([
  failing,
  ...refusals,
  ...sheetRefusals,
  ...unplaced,
  ...unfit,
  ...warnings,
  ...reasons,
  ...questions,
  ...impossible,
  ...resistances,
])('%s', (sentence) => {
  expect(sentence).toMatch(/^[A-Z0-9−].*[.?]$/);
  expect(sentence).not.toMatch(/undefined|NaN|\[object|null| {2}|\.\./);
  // Units and codes beside a figure are no words of their own.
  for (const part of sentence.split(/(?<=[.?:;]) /))
    expect(part.split(' ').filter((word) => /[a-z]{2}/i.test(word)).length).toBeLessThanOrEqual(30);
  // One thing is one thing.
  expect(sentence).not.toMatch(/(^| )1 (cells|rows|samples|points|groups|times)\b/);
});
