import type { Sample } from '@/core/capacity/logReader';

type Figure = (sample: Sample) => number | null;

/** What a curve is drawn of: each figure of a sample that can stand highest or lowest. */
const ofWhole: Figure[] = [({ voltageV }) => voltageV, ({ currentA }) => currentA, ({ temperatureC }) => temperatureC];
const ofGroups: Figure[] = [
  ({ groupsV }) => (groupsV ? Math.min(...groupsV) : null),
  ({ groupsV }) => (groupsV ? Math.max(...groupsV) : null),
];

/**
 * The first and the last of some samples, and those at which voltage, current, temperature or a group stands highest
 * or lowest: what a stretch too narrow to be drawn is reduced to, in the order of time.
 */
export function extremesOf(samples: readonly Sample[]): Sample[] {
  const kept = new Set([0, samples.length - 1]);
  for (const figure of samples[0]?.groupsV ? [...ofWhole, ...ofGroups] : ofWhole) {
    let [lowest, highest] = [-1, -1];
    let [low, high] = [Infinity, -Infinity];
    samples.forEach((sample, i) => {
      const value = figure(sample);
      if (value === null) return;
      if (value < low) [lowest, low] = [i, value];
      if (value > high) [highest, high] = [i, value];
    });
    kept.add(lowest).add(highest);
  }
  return [...kept].sort((a, b) => a - b).flatMap((i) => samples[i] ?? []);
}

/**
 * Reduces samples to what so many stretches of equal time can show; no extreme of any stretch is lost. Few samples stay
 * as they are.
 */
export function reducedCurve(samples: readonly Sample[], stretches: number): Sample[] {
  const [first, last] = [samples[0], samples.at(-1)];
  if (!first || !last || samples.length <= 2 * stretches) return [...samples];
  const stretchS = (last.timeS - first.timeS) / stretches;
  const stretchOf = ({ timeS }: Sample): number =>
    Math.min(stretches - 1, Math.floor((timeS - first.timeS) / stretchS));
  const kept: Sample[] = [];
  let from = 0;
  for (let i = 1; i <= samples.length; i++) {
    const sample = samples[i];
    if (sample && stretchOf(sample) === stretchOf(samples[from] as Sample)) continue;
    kept.push(...extremesOf(samples.slice(from, i)));
    from = i;
  }
  return kept;
}
