import { onWatch, type Rest, usesOnWatch } from './due';

const at = (minutes: number) => new Date(Date.UTC(2026, 10, 20, 10, minutes));
const rest = (code: string, change: Partial<Rest> = {}): Rest => ({
  entry: code,
  code,
  batch: code,
  reason: 'charge',
  beganAt: at(0),
  plannedS: 3600,
  seen: false,
  ...change,
});

test('a rest is due once its time is over, and stays two hours longer, seen or not', () => {
  const due = (minutes: number) => onWatch([rest('S1', { seen: true })], 0, at(minutes)).map((one) => one.isDue);
  expect([due(59), due(60), due(179), due(180)]).toEqual([[false], [true], [true], []]);
});

test('the first to be due comes first; a log says nothing of how long, the house rules do', () => {
  const logged = rest('S2-001', { entry: null, reason: 'discharge', plannedS: null });
  const watch = onWatch([rest('S1'), logged], 1800, at(10));
  expect(watch.map(({ code, dueAt }) => [code, dueAt])).toEqual([
    ['S2-001', at(30)],
    ['S1', at(60)],
  ]);
});

test('a clock that is set back, or sleeps over the end, tells what is so at that time', () => {
  const due = (now: Date) => onWatch([rest('S1')], 0, now).map((one) => one.isDue);
  expect([due(at(70)), due(at(5)), due(at(-30)), due(at(100))]).toEqual([[true], [false], [false], [true]]);
  // Moments are kept, not wall clocks: the hour that summer time takes is no hour.
  const spring = rest('S1', { beganAt: new Date('2026-03-29T01:30:00+01:00') });
  expect(onWatch([spring], 0, new Date('2026-03-29T03:29:00+02:00'))[0]?.isDue).toBe(false);
  expect(onWatch([spring], 0, new Date('2026-03-29T03:30:00+02:00'))[0]?.isDue).toBe(true);
});

test('of a flood a hundred are watched', () => {
  expect(
    onWatch(
      Array.from({ length: 300 }, (_, i) => rest(`S${i}`)),
      0,
      at(1),
    ),
  ).toHaveLength(100);
});

test('what is on a resistor stays on the watch until somebody ends it, however long that is, also in a flood', () => {
  const resistor = rest('PR1', { reason: 'resistor', plannedS: 7200 });
  expect(onWatch([resistor], 0, at(119))).toMatchObject([{ isDue: false }]);
  expect(onWatch([resistor], 0, at(9000))).toMatchObject([{ code: 'PR1', isDue: true }]);
  const flood = Array.from({ length: 300 }, (_, i) => rest(`S${i}`));
  expect(onWatch([...flood, resistor], 0, at(1)).map(({ code }) => code)).toContain('PR1');
});

test('a pack that is out with a timer is on the watch until it is back', () => {
  const takenOut = { at: new Date('2026-05-01T10:00Z'), forWhat: null, currentA: 6, timerS: 1200 };
  const seen = (isOut: boolean, minute: number) =>
    usesOnWatch([{ code: 'PA1', isOut, takenOut }], new Date(`2026-05-01T10:${minute}:00Z`)).map(({ isDue }) => isDue);
  expect([seen(true, 10), seen(true, 25), seen(false, 25)]).toEqual([[false], [true], []]);
  expect(usesOnWatch([{ code: 'PA1', isOut: true, takenOut: { ...takenOut, timerS: null } }], new Date())).toEqual([]);
});
