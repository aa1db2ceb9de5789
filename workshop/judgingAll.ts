import type { JudgedCell } from '@/core/judging/judgeCell';

/** The next cells after a code, judged; fewer than asked for at the end. */
export type JudgeNext = (afterCode: string, most: number) => Promise<JudgedCell[]>;

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

/** Judges every cell, portion by portion, while the workshop goes on; what is judged is there at once. */
export function judgeAll(total: number, portion: number, next: JudgeNext): JudgingAll {
  const arrived: JudgedCell[] = [];
  let isOver = false;
  const superseded = new Set<number>();
  const ended = (async () => {
    for (let after = ''; !isOver;) {
      const cells = await next(after, portion);
      arrived.push(...cells);
      const last = cells.at(-1);
      if (cells.length < portion || !last) break;
      after = last.code;
    }
    isOver = true;
  })();
  return {
    progress: () => (isOver ? null : { done: arrived.length, total: Math.max(total, arrived.length) }),
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
