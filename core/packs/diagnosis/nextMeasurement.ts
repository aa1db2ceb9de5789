import type { OpenCircuitCurve } from '../../chemistry/openCircuit';
import type { PackDiagnosis } from './diagnose';
import type { Unknowns, Way } from './faults';
import { predicted, startOf } from './likelihood';
import { type Middle, usualOhmAh } from './middles';

/** What somebody can measure next. */
export const measurements = ['load', 'days', 'discharge-end', 'other-instrument', 'reseat', 'terminals'] as const;
export type Measurement = (typeof measurements)[number];

export interface NextMeasurement {
  what: Measurement;
  /** The group whose case it would settle, from the black lead. */
  position: number;
  /** What it would tell apart, the likelier first. */
  between: [one: Way, other: Way];
}

/** Minutes that it takes somebody; waiting for days costs patience. */
const minutes: Record<Measurement, number> = {
  load: 4,
  days: 15,
  'discharge-end': 90,
  'other-instrument': 5,
  reseat: 3,
  terminals: 2,
};
const loadRate = 0.5;
const restedDays = 3;
const nearlyEmpty = 0.04;
/** A single reading tells a difference of this (standard), V, and of what is predicted this share. */
const readingU = 0.004;
const predictedShare = 0.15;
/** Below so much doubt nothing more is asked for, nats. */
const settled = 0.35;
/** Of two tools about the terminals, V a group. */
const terminalsU = 0.008;

const entropy = (probabilities: readonly number[]): number =>
  probabilities.reduce((sum, p) => (p > 0 ? sum - p * Math.log(p) : sum), 0);

/**
 * The measurement that would tell most a minute about the group that is least settled: how much less doubt would be
 * left on average, each way of what may be wrong being true in turn. Null where all is settled, or nothing would tell.
 * Source: expected information, D. V. Lindley, Ann. Math. Stat. 27 (1956).
 */
export function nextMeasurement({ groups, middles }: PackDiagnosis, curve: OpenCircuitCurve): NextMeasurement | null {
  const known = middles.filter((middle) => middle !== null);
  const [first, last] = [known[0], known.at(-1)];
  // What is dead or run down is not loaded to learn more.
  if (!first || !last || groups.some(({ ways, isRunDown }) => ways.length === 0 || isRunDown)) return null;
  const open = groups
    .map(({ position, ways }) => ({ position, ways, doubt: entropy(ways.map(({ probability }) => probability)) }))
    .sort((one, other) => other.doubt - one.doubt)[0];
  if (!open || open.doubt < settled) return null;
  const jointV = known.find((middle) => middle.jointV > 0)?.jointV ?? usualOhmAh * loadRate;
  const start = startOf(first, true);
  const rest: Middle = { ...last, jointV: 0 };
  const another: Middle = { ...rest, meter: -1 };
  const seen: Record<Measurement, (look: Unknowns, way: Way) => number> = {
    load: (look) => predicted(look, { ...rest, jointV }, start, curve),
    days: (look) => predicted(look, { ...rest, hours: rest.hours + 24 * restedDays }, start, curve),
    'discharge-end': (look) => predicted(look, { ...rest, soc: nearlyEmpty, jointV }, start, curve),
    'other-instrument': (look) => predicted(look, another, start, curve),
    reseat: (look, { faults }) =>
      predicted(faults.includes('sense-tap') ? { ...look, misreadV: 0 } : look, rest, start, curve),
    terminals: (look, { faults }) => (faults.includes('meter-channel') ? -look.misreadV : 0),
  };
  const gains = measurements.map((what) => {
    const u = what === 'terminals' ? terminalsU * groups.length : readingU;
    const expected = open.ways.map((way) => seen[what](way.look, way));
    const left = open.ways.reduce(
      (sum, { probability }, i) => sum + probability * doubtAfter(open.ways, expected, i, u),
      0,
    );
    return { what, perMinute: (open.doubt - left) / minutes[what], gain: open.doubt - left };
  });
  const worth = gains.filter(({ gain }) => gain >= settled / 4);
  const [best] = worth.sort((a, b) => b.perMinute - a.perMinute);
  const [one, other] = open.ways.toSorted((a, b) => b.probability - a.probability);
  if (!best || !one || !other) return null;
  return { what: best.what, position: open.position, between: [one, other] };
}

/** What doubt is left where the measurement shows what way `i` would show. */
function doubtAfter(ways: readonly Way[], expected: readonly number[], i: number, readU: number): number {
  const y = expected[i] as number;
  const weights = ways.map(({ probability }, k) => {
    const at = expected[k] as number;
    const u = Math.hypot(readU, predictedShare * at);
    return (probability / u) * Math.exp(-0.5 * ((y - at) / u) ** 2);
  });
  const total = weights.reduce((a, b) => a + b, 0);
  return total > 0 ? entropy(weights.map((weight) => weight / total)) : 0;
}
