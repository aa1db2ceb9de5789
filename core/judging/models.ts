import type { JudgedCell } from './judgeCell';
import type { JudgedPack } from './judgePack';

/**
 * Maker and model, as people call a cell; of an unknown one its size and batch, since two boxes of unknown cells are
 * not known to be alike.
 */
export const modelName = ({
  maker,
  model,
  size,
  batchCode,
}: Pick<JudgedCell, 'maker' | 'model' | 'size' | 'batchCode'>): string =>
  model === null ? `unknown ${size}, batch ${batchCode}` : `${maker} ${model}`;

/** The same where the batch is said already. */
export const modelText = ({ maker, model, size }: Pick<JudgedCell, 'maker' | 'model' | 'size'>): string =>
  model === null ? `unknown ${size}` : `${maker} ${model}`;

/** What a pack is called among packs of its size. */
export const packSizeName = ({
  series,
  parallel,
  ratedCapacityAh,
  chemistry,
}: Pick<JudgedPack, 'series' | 'parallel' | 'ratedCapacityAh' | 'chemistry'>): string =>
  `packs ${series}s${parallel}p ${Number(ratedCapacityAh.toPrecision(2))} Ah ${chemistry}`;

/** Each name with its count, the most frequent first. */
export function mostPlentiful(names: Iterable<string>): { name: string; count: number }[] {
  const counts = new Map<string, number>();
  for (const name of names) counts.set(name, (counts.get(name) ?? 0) + 1);
  return [...counts].map(([name, count]) => ({ name, count })).sort((a, b) => b.count - a.count);
}
