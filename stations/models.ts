import type { JudgedCell } from '@/workshop/judgeCell';

/** Maker and model, as people call a cell. */
export const modelName = ({ maker, model }: Pick<JudgedCell, 'maker' | 'model'>): string => `${maker} ${model}`;

/** Each name with how often it stands there, the most frequent first. */
export function mostPlentiful(names: Iterable<string>): { name: string; count: number }[] {
  const counts = new Map<string, number>();
  for (const name of names) counts.set(name, (counts.get(name) ?? 0) + 1);
  return [...counts].map(([name, count]) => ({ name, count })).sort((a, b) => b.count - a.count);
}
