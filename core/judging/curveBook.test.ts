import { curveOfMake } from '../chemistry/openCircuit';
import { curveBook, type TeachingRun } from './curveBook';
import { bareBench } from './equipment';

const now = new Date('2026-09-01T12:00:00Z');
const day = (n: number) => new Date(now.getTime() - n * 86_400_000);
const book = (runs: TeachingRun[], at = now) => curveBook(runs, bareBench.instruments, at);

/** A slow discharge of a cell that rests 40 mV above the table; without its course it shows the mean voltage alone. */
function run(given: Partial<TeachingRun>, withCourse = true, offV = 0.04): TeachingRun {
  const curve = curveOfMake('mixed-oxide');
  const points = Array.from({ length: 61 }, (_, i): [number, number] => [
    (2.4 * i) / 60,
    curve.voltageAt(1 - i / 60) + offV,
  ]);
  return {
    runId: 7,
    endedAt: day(1),
    chemistry: 'li-ion',
    code: 'A1-001',
    maker: 'Quillon',
    model: 'Q18',
    groups: 1,
    loggerId: null,
    cutoffV: 3,
    startV: 4.18,
    result: {
      capacityAh: { value: 2.4, u: 0.01 },
      edges: [],
      course: withCourse ? { by: 'slow', points, currentA: 0.1 } : null,
      meanVoltageV: points.reduce((sum, [, volts]) => sum + volts, 0) / 61,
      meanCurrentA: 0.1,
      reachedCutoff: true,
    },
    ...given,
  };
}
const cell = { chemistry: 'li-ion', code: 'A1-002', maker: 'Quillon', model: 'Q18' } as const;

test('a learnt curve is that of its model, not of its batch or size', () => {
  const measured = book([run({})]);
  expect(measured.basisOf(cell)).toEqual({ by: 'learnt', runId: 7 });
  expect(measured.of(cell)?.voltageAt(0.5)).toBeCloseTo(3.75, 1);
  expect(measured.basisOf({ ...cell, model: 'Q21' })).toEqual({ by: 'unknown' });
  // A cell of unknown model teaches itself alone.
  const own = book([run({ model: null, maker: null })]);
  expect(own.basisOf({ chemistry: 'li-ion', code: 'A1-001', model: null })).toEqual({ by: 'learnt', runId: 7 });
  expect(own.basisOf({ chemistry: 'li-ion', code: 'A1-002', model: null })).toEqual({ by: 'unknown' });
});

test('the uncertainty of a learnt curve grows with its age', () => {
  const [young, old] = [book([run({})]), book([run({ endedAt: day(3 * 365) })])].map(
    (one) => one.of(cell)?.uAt(0.5) ?? NaN,
  );
  expect(old).toBeGreaterThan(young ?? NaN);
});

test('a usual discharge from full shows the make; one that began elsewhere, or ended early, does not', () => {
  const shows = book([run({}, false, 0.13)]);
  expect(shows.basisOf(cell)).toMatchObject({ by: 'discharges', make: 'cobalt', runIds: [7] });
  expect(book([run({}, false, 0)]).basisOf(cell)).toMatchObject({ by: 'discharges', make: 'mixed-oxide' });
  expect(book([run({ startV: 3.9 }, false)]).basisOf(cell)).toEqual({ by: 'unknown' });
  const early = run({}, false);
  expect(book([{ ...early, result: { ...early.result, meanCurrentA: NaN } }]).basisOf(cell)).toEqual({ by: 'unknown' });
  expect(book([{ ...early, result: { ...early.result, reachedCutoff: false } }]).basisOf(cell).by).toBe('unknown');
});

test('a designation names the make of a cell, not of a pack; other chemistries have one table', () => {
  const none = book([]);
  expect(none.basisOf({ ...cell, model: 'ICR18650-22' })).toEqual({ by: 'designation', make: 'cobalt' });
  expect(none.basisOf({ ...cell, model: 'ICR18650-22', series: 4 })).toEqual({ by: 'unknown' });
  expect(none.basisOf({ chemistry: 'lipo' })).toEqual({ by: 'table' });
  expect(none.of({ chemistry: 'alkaline' })).toBeNull();
});

test('one more discharge that says the same leaves the state of the book, so that nothing is judged again', () => {
  const [one, two] = [[run({}, false, 0)], [run({ runId: 8 }, false, 0.002), run({}, false, 0)]].map(
    (runs) => book(runs).state,
  );
  expect(two).toBe(one);
});
