import type { Calibration, CrossCheck, CrossCheckReading, Instrument } from './facts';
import { bookOf } from './instrumentBook';
import { adjustmentOf, calibrationOf, judgeSheet, othersOn } from './judgeSheet';

const instrument = (id: number, code: string, change: Partial<Instrument> = {}): Instrument => ({
  id,
  code,
  name: code,
  kind: 'meter',
  channels: 1,
  wires: null,
  leads: null,
  certified: false,
  archivedAt: null,
  ranges: { voltage: { resolution: 0.001, accuracyShare: 0.0005, accuracyCounts: 2 } },
  noted: {},
  ...change,
});
const charger = instrument(4, 'CH', { kind: 'charger', channels: 2 });
const bench = [instrument(1, 'DM'), instrument(2, 'CK'), instrument(3, 'CX'), charger];
const check: CrossCheck = {
  id: 1,
  occasionId: 1,
  name: 'all',
  openedAt: new Date(0),
  batteries: ['half', 'full'],
  pack: null,
  readings: 0,
};
const day = (n: number) => new Date(n * 86_400_000);
const reading = (position: number, instrumentId: number, voltageV: number, channel = 1): CrossCheckReading => ({
  id: 0,
  crossCheckId: 1,
  position,
  instrumentId,
  channel,
  voltageV,
  step: 0.001,
  takenAt: day(5),
});
const readings = [
  ...[
    [1, 3.7],
    [2, 3.701],
    [3, 3.699],
  ].map(([id, volts]) => reading(1, id as number, volts as number)),
  reading(1, 4, 3.702, 1),
  reading(1, 4, 3.66, 2),
  ...[
    [1, 4.1],
    [2, 4.101],
    [3, 4.099],
  ].map(([id, volts]) => reading(2, id as number, volts as number)),
  reading(2, 4, 4.102, 1),
  reading(2, 4, 4.06, 2),
];
const judged = (given = readings, book = bookOf(bench, [])) => judgeSheet(check, given, book, day(9));
const channelOf = (sheet: ReturnType<typeof judged>, name: string) => {
  const found = sheet.channels.find((one) => one.name === name);
  if (!found) throw new Error(name);
  return found;
};

test('the channel that stands alone on every battery is named, the others agree', () => {
  const sheet = judged();
  expect(sheet.channels.map((one) => [one.name, one.apartOn])).toEqual([
    ['DM', 0],
    ['CK', 0],
    ['CX', 0],
    ['CH.1', 0],
    ['CH.2', 2],
  ]);
  expect(channelOf(sheet, 'CH.2').readings[0]?.difference?.value).toBeCloseTo(-0.04, 2);
  expect(othersOn(sheet, 1)).toBe(3.7);
});

test('a calibration from the sheet takes the error off, by offset as by line', () => {
  const sheet = judged();
  for (const kind of ['offset', 'line'] as const) {
    const verdict = calibrationOf(sheet, channelOf(sheet, 'CH.2'), kind);
    expect(verdict.ok).toBe(true);
    if (!verdict.ok) continue;
    const calibration: Calibration = {
      id: 1,
      instrumentId: 4,
      channel: 2,
      correction: verdict.correction,
      crossCheckId: 1,
      reference: 'DM',
      adjusted: null,
      calibratedAt: day(4),
      withdrawnAt: null,
      withdrawnBecause: null,
    };
    const after = judged(readings, bookOf(bench, [calibration]));
    expect(after.channels.every((one) => one.apartOn === 0)).toBe(true);
    expect(channelOf(after, 'CH.2')).toMatchObject({
      corrected: true,
      readings: [{ raw: { value: 3.66 }, reading: { value: expect.closeTo(3.7, 2) } }, {}],
    });
  }
});

test.each([
  ['above', 0.029],
  ['below', -0.029],
])('a channel 29 mV %s its siblings is seen, alone or beside other instruments', (_, offV) => {
  const checker = instrument(6, 'CK5', {
    channels: 5,
    ranges: { voltage: { resolution: 0.001, accuracyShare: 0.005, accuracyCounts: 2 } },
  });
  const five = [0, 0.001, offV, -0.001, 0.001].map((off, i) => reading(1, 6, 3.7 + off, i + 1));
  const book = bookOf([...bench, checker], []);
  for (const given of [five, [...five, reading(1, 1, 3.7), reading(1, 2, 3.701)]]) {
    const apart = judged(given, book).channels.filter(({ apartOn }) => apartOn > 0);
    expect(apart.map(({ name }) => name)).toEqual(['CK5.3']);
  }
});

test('a device that is adjusted itself shows the reference; an earlier correction no longer counts', () => {
  const sheet = judged();
  const off = channelOf(sheet, 'CH.2');
  const adjustment = adjustmentOf(sheet, off);
  expect(adjustment).toMatchObject({ position: 2, showedV: 4.06, setToV: expect.closeTo(4.1, 2) });
  expect(adjustment?.correction).toMatchObject({ kind: 'adjusted', offset: { value: 0 } });
  const offset = calibrationOf(sheet, off, 'offset');
  if (!offset.ok || !adjustment) throw new Error('nothing to correct');
  const of = {
    instrumentId: 4,
    channel: 2,
    crossCheckId: 1,
    reference: 'B2',
    withdrawnAt: null,
    withdrawnBecause: null,
  };
  const before = { ...of, id: 1, correction: offset.correction, adjusted: null, calibratedAt: day(6) };
  const after = {
    ...of,
    id: 2,
    correction: adjustment.correction,
    adjusted: { showedV: 4.06, setToV: 4.1 },
    calibratedAt: day(7),
  };
  const book = bookOf(bench, [after, before]);
  expect(book.calibrationAt(4, 2, day(6.5))?.correction.offset.value).toBeCloseTo(-0.04, 2);
  expect(book.calibrationAt(4, 2, day(8))?.correction.offset.value).toBe(0);
});

test('a certified instrument is believed against the majority', () => {
  const sheet = judged(
    readings,
    bookOf([instrument(1, 'DM'), instrument(2, 'CK'), instrument(3, 'CX'), { ...charger, certified: true }], []),
  );
  expect(sheet.consensus[0]).toMatchObject({ kind: 'declared', by: 'CH.1', reference: { value: 3.702 } });
});

test('two alone: nobody knows, nothing is apart, nothing can be corrected', () => {
  const sheet = judged([reading(1, 1, 3.7), reading(1, 2, 3.8)]);
  expect(sheet.consensus).toMatchObject([{ kind: 'nobody-knows' }, null]);
  expect(sheet.channels.map((one) => one.apartOn)).toEqual([0, 0]);
  expect(calibrationOf(sheet, channelOf(sheet, 'CK'), 'offset')).toEqual({
    ok: false,
    because: { code: 'no-level' },
  });
});

test('an instrument of which nobody noted a range is taken by the last digit that was typed', () => {
  const crude = instrument(5, 'OLD', { ranges: {} });
  const off = (voltageV: number) =>
    judged([...readings, { ...reading(1, 5, voltageV), step: 0.01 }], bookOf([...bench, crude], []));
  const near = off(3.71);
  expect(channelOf(near, 'OLD')).toMatchObject({
    apartOn: 0,
    readings: [{ stepV: 0.01, raw: { u: expect.closeTo(Math.hypot(0.01 / Math.sqrt(12), 0.01 / Math.sqrt(3)), 9) } }],
  });
  // A correction of a centivolt from a tool that shows centivolts is no correction.
  expect(calibrationOf(near, channelOf(near, 'OLD'), 'offset')).toMatchObject({ ok: false });
  const far = off(4.2);
  expect(channelOf(far, 'OLD').apartOn).toBe(1);
  expect(calibrationOf(far, channelOf(far, 'OLD'), 'offset')).toMatchObject({
    ok: true,
    correction: { offset: { value: expect.closeTo(0.5, 1) } },
  });
});
