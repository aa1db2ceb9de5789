import type { Sample } from '@/core/capacity/logReader';

/**
 * The first and the last place of a stretch, and those at which any of its columns is highest or lowest, in order.
 *
 * @param columns of equal length; NaN where nothing was logged
 */
export function extremePlaces(columns: readonly Float64Array[]): number[] {
  const length = columns[0]?.length ?? 0;
  const places = new Set([0, length - 1]);
  for (const values of columns) {
    let [lowest, highest] = [-1, -1];
    let [low, high] = [Infinity, -Infinity];
    for (let i = 0; i < length; i++) {
      const value = values[i] as number;
      if (value < low) [lowest, low] = [i, value];
      if (value > high) [highest, high] = [i, value];
    }
    if (lowest >= 0) places.add(lowest).add(highest);
  }
  return [...places].sort((a, b) => a - b);
}

/** Of each sample the lowest or the highest of several columns. */
export const across = (columns: readonly Float64Array[], one: (...values: number[]) => number): Float64Array =>
  (columns[0] ?? new Float64Array()).map((_, i) => one(...columns.map((values) => values[i] as number)));

/**
 * The first and the last of some samples, and those at which voltage, current, temperature or a group is highest
 * or lowest: what a stretch too narrow to be drawn is reduced to, in the order of time.
 */
function extremesOf(samples: readonly Sample[]): Sample[] {
  const figures: ((sample: Sample) => number | null)[] = [
    ({ voltageV }) => voltageV,
    ({ currentA }) => currentA,
    ({ temperatureC }) => temperatureC,
    ...(samples[0]?.groupsV
      ? [Math.min, Math.max].map(
          (one) =>
            ({ groupsV }: Sample) =>
              groupsV ? one(...groupsV) : null,
        )
      : []),
  ];
  const columns = figures.map((figure) => Float64Array.from(samples, (sample) => figure(sample) ?? NaN));
  return extremePlaces(columns).flatMap((place) => samples[place] ?? []);
}

/**
 * Reduces samples to what this many stretches of equal time can show; no extreme of any stretch is lost. Few samples
 * stay as they are.
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
