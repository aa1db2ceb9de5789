import type { Block } from './blocks';

/**
 * The question of a match as a mixed-integer program in the LP format, for an optimiser to be compared with: the most
 * that `t` can be where every group is full, holds at least `t`, and every block lies in one group at most.
 */
export function matchProgram(blocks: readonly Block[], series: number, parallel: number): string {
  const groups = Array.from({ length: series }, (_, g) => g);
  // The format knows no lines beyond 510 letters.
  const sum = (parts: string[]): string => parts.join(' + ').replace(/(.{200}\S*) /g, '$1\n ');
  const over = (g: number, of: (block: Block) => number): string =>
    sum(blocks.map((block, i) => `${of(block)} x${i}_${g}`));
  return [
    'Maximize',
    ' obj: t',
    'Subject To',
    ...groups.map((g) => ` full${g}: ${over(g, ({ size }) => size)} = ${parallel}`),
    ...groups.map((g) => ` above${g}: ${over(g, ({ capacityAh }) => capacityAh)} - t >= 0`),
    ...blocks.map((_, i) => ` once${i}: ${sum(groups.map((g) => `x${i}_${g}`))} <= 1`),
    'Bounds',
    ` 0 <= t <= ${parallel * Math.max(...blocks.map(({ capacityAh }) => capacityAh))}`,
    'Binary',
    ...blocks.map((_, i) => ` ${groups.map((g) => `x${i}_${g}`).join(' ')}`),
    'End',
  ].join('\n');
}
