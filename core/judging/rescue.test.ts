import { presetRules } from '../chemistry/houseRules';
import {
  judgeRescue,
  refusalsOf,
  type RescueAct,
  type RescueRequest,
  type RescueFacts,
  type RescueReading,
  type Rescued,
  withOwnLimits,
} from './rescue';

const rules = presetRules('workshop');
const beganAt = new Date('2026-11-12T09:00:00Z');
const at = (minutes: number): Date => new Date(beganAt.getTime() + minutes * 60_000);
const reading = (minutes: number, voltagesV: number[], more: Partial<RescueReading> = {}): RescueReading => ({
  entry: `r${minutes}`,
  takenAt: at(minutes),
  voltagesV,
  step: 0.01,
  skinC: null,
  isWarm: false,
  ...more,
});
const rescue = (readings: RescueReading[], acts: RescueAct[] = []): RescueFacts => ({
  entry: 'e',
  subjectId: 1,
  code: 'PX1',
  series: 3,
  chemistry: 'li-ion',
  beganAt,
  endedAt: null,
  currentA: 0.3,
  own: null,
  readings,
  acts,
});
const start = reading(0, [2.31, 2.36, 2.34], { skinC: 19 });

describe('a rescue under way (common practice)', () => {
  const atOnce = (readings: RescueReading[], minutes: number, acts: RescueAct[] = []) =>
    judgeRescue(rescue([start, ...readings], acts), rules, at(minutes));

  test('all is well: the next reading is due, nothing stops it', () => {
    const judged = atOnce([reading(5, [2.52, 2.57, 2.55], { skinC: 20 })], 7);
    expect(judged).toMatchObject({ phase: 'on', stop: null, isReached: false, readBy: at(10), onS: 420 });
  });

  test.each([
    ['warm to the hand', reading(5, [2.5, 2.55, 2.53], { isWarm: true }), 6, { code: 'warm', position: null }],
    ['warmer by six kelvin', reading(5, [2.5, 2.55, 2.53], { skinC: 25 }), 6, { code: 'warm', position: null }],
    ['one behind', reading(5, [2.34, 2.6, 2.61]), 6, { code: 'lag', position: 1 }],
    ['one ahead', reading(5, [2.5, 2.9, 2.52]), 6, { code: 'ahead', position: 2 }],
    ['nobody looked', reading(5, [2.5, 2.55, 2.53]), 12.5, { code: 'missed', position: null }],
  ] as const)('%s: STOP', (_, newest, minutes, stop) => {
    expect(atOnce([newest], minutes).stop).toEqual(stop);
  });

  /** Every five minutes until then, each group a little higher. */
  const followed = (minutes: number, volts: (k: number) => number[]) =>
    Array.from({ length: minutes / 5 }, (_, k) => reading(5 * (k + 1), volts(k + 1)));

  test('a group that does not move for a quarter of an hour, and what takes three hours: STOP', () => {
    const still = followed(20, (k) => [2.31, 2.36 + 0.02 * k, 2.34 + 0.02 * k]);
    expect(atOnce(still, 21).stop).toEqual({ code: 'lag', position: 1 });
    const slow = followed(185, (k) => [2.31 + 0.012 * k, 2.36 + 0.012 * k, 2.34 + 0.012 * k]);
    expect(atOnce(slow, 186).stop).toEqual({ code: 'too-long', position: null });
  });

  test('what asked for a STOP stands until the current is off, whatever is read afterwards', () => {
    const warm = reading(5, [2.5, 2.55, 2.53], { isWarm: true });
    expect(atOnce([warm, reading(6, [2.52, 2.57, 2.55])], 7).stop).toMatchObject({ code: 'warm' });
    expect(atOnce([reading(9, [2.6, 2.65, 2.63])], 10).stop).toMatchObject({ code: 'missed' });
  });

  test('where groups stood apart at first, that alone stops nothing', () => {
    const uneven = rescue([reading(0, [2.1, 2.6, 2.6]), reading(5, [2.32, 2.7, 2.71])]);
    expect(judgeRescue(uneven, rules, at(6)).stop).toBeNull();
  });

  test('every group at three volts: handed over', () => {
    const up = followed(20, (k) => [2.31 + 0.18 * k, 2.36 + 0.18 * k, 2.34 + 0.18 * k]);
    expect(atOnce(up, 21)).toMatchObject({ isReached: true, stop: null });
  });

  test('left in the middle it resumes where it is: the time with the current off does not count', () => {
    const off: RescueAct = { at: at(6), act: 'off', why: 'missed' };
    const paused = atOnce([reading(5, [2.5, 2.55, 2.53])], 60, [off]);
    expect(paused).toMatchObject({ phase: 'off', onS: 360, stays: 'read-first', stop: { code: 'missed' } });
    const readAgain = [reading(5, [2.5, 2.55, 2.53]), reading(60, [2.45, 2.5, 2.48])];
    expect(atOnce(readAgain, 61, [off]).stays).toBeNull();
    const on: RescueAct = { at: at(62), act: 'on', why: 'goes-on' };
    expect(atOnce(readAgain, 64, [off, on])).toMatchObject({ phase: 'on', onS: 480, readBy: at(67) });
  });

  test('warm goes on only when cooled; groups that part never do', () => {
    const off = (why: RescueAct['why']): RescueAct => ({ at: at(6), act: 'off', why });
    const warm = reading(5, [2.5, 2.55, 2.53], { skinC: 26 });
    expect(atOnce([warm, reading(20, [2.45, 2.5, 2.5], { skinC: 24 })], 21, [off('warm')]).stays).toBe('still-warm');
    expect(atOnce([warm, reading(50, [2.45, 2.5, 2.5], { skinC: 20 })], 51, [off('warm')]).stays).toBeNull();
    expect(atOnce([reading(20, [2.45, 2.5, 2.5])], 21, [off('lag')]).stays).toBe('groups-disagree');
    expect(atOnce([start], 21, [{ ...off('reached'), act: 'end' }]).phase).toBe('over');
  });

  test('limits of one rescue alone stand in the place of the house rules, for that one', () => {
    const slow = [reading(9, [2.52, 2.57, 2.55])];
    expect(atOnce(slow, 10).stop).toMatchObject({ code: 'missed' });
    const own = { limits: { rescueReadMin: 10 }, reason: 'a logger watches every group' };
    const judged = judgeRescue({ ...rescue([start, ...slow]), own }, rules, at(10));
    expect(judged).toMatchObject({ stop: null, readBy: at(19) });
  });

  test('a single cell has no neighbours: it has to move', () => {
    const single = { ...rescue([0, 5, 10, 16].map((minutes) => reading(minutes, [2.2 + minutes / 1600]))), series: 1 };
    expect(judgeRescue(single, rules, at(17)).stop).toEqual({ code: 'lag', position: 1 });
  });
});

describe('what rules out a rescue (common practice; limits are house rules)', () => {
  const pack: Rescued = { chemistry: 'li-ion', series: 3, capacityAh: 3, rescues: 0, connector: 'balance' };
  const request: RescueRequest = { findings: [], voltagesV: [2.31, 2.36, 2.34], belowSince: null, currentA: 0.3 };
  const codes = (subject: Partial<Rescued>, answers: Partial<RescueRequest> | null = {}, preset = rules) =>
    refusalsOf({ ...pack, ...subject }, preset, answers && { ...request, ...answers }).map(({ code }) => code);

  test.each([
    ['nothing', {}, {}, []],
    ['swollen', {}, { findings: ['swollen'] }, ['signs']],
    ['rescued before', { rescues: 1 }, {}, ['rescued-before']],
    ['no balance connector', { connector: 'none' as const }, {}, ['not-watched']],
    ['a group below 1.5 V', {}, { voltagesV: [2.3, 1.4, 2.3] }, ['too-low']],
    ['unknown time below 2 V', {}, { voltagesV: [2.3, 1.8, 2.3] }, ['unknown-time']],
    ['a known time below 2 V', {}, { voltagesV: [2.3, 1.8, 2.3], belowSince: beganAt }, []],
    ['more than a tenth of its capacity an hour', {}, { currentA: 0.31 }, ['too-much-current']],
    ['nothing below the floor', {}, { voltagesV: [3.1, 3.2, 3.1] }, ['nothing-low']],
    ['nickel', { chemistry: 'nimh' as unknown as 'li-ion' }, null, ['not-lithium']],
  ] as [string, Partial<Rescued>, Partial<RescueRequest> | null, string[]][])('%s', (_, subject, answers, expected) => {
    expect(codes(subject, answers)).toEqual(expected);
  });

  test('a limit of its own opens one gate, and the others stay', () => {
    const own = withOwnLimits(rules, { limits: { rescueFloorV: 1.2, rescuesAllowed: 2 }, reason: 'a rare pack' });
    const deep = { voltagesV: [2.3, 1.4, 2.3], belowSince: beganAt };
    expect(codes({ rescues: 1 }, deep)).toEqual(['rescued-before', 'too-low']);
    expect(codes({ rescues: 1 }, deep, own)).toEqual([]);
    expect(codes({ rescues: 1 }, { ...deep, findings: ['swollen'] }, own)).toEqual(['signs']);
  });

  test('schools differ: careful never, thrifty twice and with more current', () => {
    expect(codes({}, null, presetRules('careful'))).toEqual(['never-here']);
    expect(codes({ rescues: 1 }, { currentA: 0.75 }, presetRules('thrifty'))).toEqual([]);
    expect(codes({ rescues: 2 }, null, presetRules('thrifty'))).toEqual(['rescued-before']);
  });
});
