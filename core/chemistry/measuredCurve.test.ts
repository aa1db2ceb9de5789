import type { OpenCourse } from '../capacity/openCourse';
import { learnCurve } from './measuredCurve';
import { curveOfMake, openCircuitOf } from './openCircuit';

/** A make that rests 40 mV above the table at half charge. */
const make = (soc: number): number => openCircuitOf('li-ion').voltageAt(soc) + 0.04 * Math.sin(Math.PI * soc);
const socs = Array.from({ length: 41 }, (_, i) => 1 - i / 40);

const course = (by: OpenCourse['by'], given: Partial<OpenCourse> = {}, lagV = 0): OpenCourse => ({
  by,
  currentA: by === 'slow' ? 0.1 : 0,
  points: socs.map((soc) => [2 * (1 - soc), make(soc) - lagV]),
  ...given,
});
const plain = {
  chemistry: 'li-ion' as const,
  series: 1,
  capacityAh: 2,
  resistanceOhm: 0.05,
  voltmeterU: 0.001,
};

test('a slow discharge teaches the curve of its model, without what its load took off', () => {
  const curve = learnCurve({ ...plain, course: course('slow', {}, 1.7 * 0.05 * 0.1) });
  for (const soc of [0.1, 0.5, 0.9]) expect(curve?.voltageAt(soc)).toBeCloseTo(make(soc), 3);
  expect(curve?.source).toBe('learnt');
  expect(curve && curve.uAt(0.5) < curveOfMake('mixed-oxide').uAt(0.5) / 2).toBe(true);
  // The table reads 3.78 V as several per cent more than there is.
  const [own, table] = [curve, openCircuitOf('li-ion')].map((one) => one?.socAt({ value: make(0.55), u: 0 }).value);
  expect(own).toBeCloseTo(0.55, 2);
  expect(Math.abs((table ?? 0) - 0.55)).toBeGreaterThan(0.03);
});

test('rests teach it as well; of a pack each group has its share', () => {
  const points = course('rests').points.map(([ah, v]): [number, number] => [ah, 4 * v]);
  const curve = learnCurve({ ...plain, series: 4, course: course('rests', { points }), resistanceOhm: null });
  expect(curve?.voltageAt(0.5)).toBeCloseTo(make(0.5), 6);
});

test('what did not begin full, or stopped far from empty, teaches nothing', () => {
  const late = course('slow', { points: course('slow').points.slice(12) });
  const short = course('slow', { points: course('slow').points.slice(0, 30) });
  for (const one of [late, short]) expect(learnCurve({ ...plain, course: one })).toBeNull();
});

test('a step up in the log never makes it fall with charge', () => {
  const points = course('slow').points.map(([ah, v], i): [number, number] => [ah, i === 20 ? v - 0.1 : v]);
  const curve = learnCurve({ ...plain, course: course('slow', { points }) });
  const volts = socs.toReversed().map((soc) => curve?.voltageAt(soc) ?? NaN);
  volts.slice(1).forEach((v, i) => expect(v).toBeGreaterThanOrEqual(volts[i] ?? NaN));
});
