import type { JudgedCell } from './judgeCell';
import { type CellShelf, withChanged } from './shelf';

/** The next cells after a code, judged; fewer than asked for at the end. */
export type JudgeNext = (afterCode: string, most: number) => Promise<JudgedCell[]>;

export interface JudgingAll {
  /** Cells judged so far, and of how many. */
  progress(): { done: number; total: number } | null;
  /** Settles when all are judged, or rejects when that failed. */
  ended: Promise<void>;
  /** These were judged from newer facts: what is still under way of them does not count. */
  supersede(cellIds: Iterable<number>): void;
  /** The shelf with what came since it was asked last. */
  withArrived(shelf: CellShelf): CellShelf;
  cancel(): void;
}

/** Judges every cell, portion by portion, while the workshop goes on; what is judged is there at once. */
export function judgeAll(total: number, portion: number, next: JudgeNext): JudgingAll {
  let arrived: JudgedCell[] = [];
  let done = 0;
  let isOver = false;
  const superseded = new Set<number>();
  const ended = (async () => {
    for (let after = ''; !isOver; ) {
      const cells = await next(after, portion);
      arrived.push(...cells);
      done += cells.length;
      const last = cells.at(-1);
      if (cells.length < portion || !last) break;
      after = last.code;
    }
    isOver = true;
  })();
  return {
    progress: () => (isOver ? null : { done, total: Math.max(total, done) }),
    ended,
    supersede: (cellIds) => {
      for (const id of cellIds) superseded.add(id);
    },
    withArrived(shelf) {
      const anew = arrived.filter((cell) => !superseded.has(cell.id));
      arrived = [];
      return anew.length === 0 ? shelf : withChanged(shelf, anew);
    },
    cancel: () => {
      isOver = true;
    },
  };
}
