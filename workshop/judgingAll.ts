import type { JudgedCell } from '@/core/judging/judgeCell';

export interface JudgingAll {
  /** Cells judged so far, and of how many. */
  progress(): { done: number; total: number } | null;
  /** Settles when all are judged, or rejects when that failed. */
  ended: Promise<void>;
  /** These were judged from newer facts: what is still under way of them does not count. */
  supersede(cellIds: Iterable<number>): void;
  /** What was judged behind the first `from`; what was superseded is left out. `upTo` is where to go on. */
  arrivedSince(from: number): { cells: JudgedCell[]; upTo: number };
  cancel(): void;
}

/** Portions under way at once: while one is judged, the facts of the next are read. */
const atOnce = 2;

/**
 * Judges these cells in their order, portion by portion, while the workshop goes on; what is judged is there at once.
 */
export function judgeAll(
  ids: readonly number[],
  portion: number,
  judge: (ids: readonly number[]) => Promise<JudgedCell[]>,
): JudgingAll {
  const arrived: JudgedCell[] = [];
  const superseded = new Set<number>();
  let isOver = false;
  let begun = 0;
  let before = Promise.resolve();
  const arrive = async (judged: Promise<JudgedCell[]>, earlier: Promise<void>) => {
    const [cells] = await Promise.all([judged, earlier]);
    arrived.push(...cells);
  };
  const portions = async () => {
    while (!isOver && begun < ids.length) {
      const some = ids.slice(begun, (begun += portion));
      before = arrive(judge(some), before);
      await before;
    }
  };
  const ended = Promise.all(Array.from({ length: atOnce }, portions))
    .then(() => undefined)
    .finally(() => {
      isOver = true;
    });
  return {
    progress: () => (isOver ? null : { done: arrived.length, total: ids.length }),
    ended,
    supersede: (cellIds) => {
      for (const id of cellIds) superseded.add(id);
    },
    arrivedSince: (from) => ({
      cells: arrived.slice(from).filter((cell) => !superseded.has(cell.id)),
      upTo: arrived.length,
    }),
    cancel: () => {
      isOver = true;
    },
  };
}
