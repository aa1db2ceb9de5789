import type { IntakeVerdict } from '@/core/grading/intake';

interface Taken {
  code: string;
  intake: Pick<IntakeVerdict, 'class' | 'missing'>;
}

interface InHandQuery {
  /** A cell that was gone to: for one filing. */
  at?: string | undefined;
  /** A cell that was left for later. */
  after?: string | undefined;
  /** What was read last in this batch. */
  latest: string | null;
}

/**
 * The cell that has the screen of an intake: one that was gone to; else the one that was read last, until its steps are
 * done or it was left for later; else the next that waits, after the one left and round to those before it.
 */
export function cellInHand<Cell extends Taken>(
  cells: readonly Cell[],
  { at, after, latest }: InHandQuery,
): Cell | null {
  const gone = cells.find((cell) => cell.code === at);
  if (gone) return gone;
  const held = cells.find((cell) => cell.code === latest && cell.code !== after && cell.intake.missing.length > 0);
  if (held) return held;
  const from = cells.findIndex((cell) => cell.code === after) + 1;
  return (
    [...cells.slice(from), ...cells.slice(0, from)].find(
      (cell) => cell.intake.missing.length > 0 && cell.intake.class !== 'out',
    ) ?? null
  );
}
