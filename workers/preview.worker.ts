import { impossibleText } from '@/words/impossible';
import { createCsvLog } from '@/core/capacity/csvLog';
import { momentOf } from '@/core/capacity/loggedMoment';
import type { LogColumn, Logged } from '@/core/capacity/logColumns';
import { ImpossibleInput } from '@/core/impossibleInput';
import type { Warning } from '@/core/warning';
import { expose } from 'comlink';

export type LogPreview =
  | { ok: true; columns: LogColumn[]; warnings: Warning[]; samples: number; whole: boolean; endedAt: Date | null }
  | { ok: false; said: string };

/** So much of a file shows how it is laid out. */
const glanceBytes = 1 << 18;
/** And so much of its end holds its last row. */
const tailBytes = 1 << 14;

/** When a log ended whose beginning tells dates, by its last rows. */
async function endOf(file: File, logged: Logged, beginning: string): Promise<Date | null> {
  const tail = await file.slice(-tailBytes).text();
  const log = createCsvLog(() => undefined, logged);
  log.push(beginning.slice(0, beginning.lastIndexOf('\n') + 1));
  if (file.size > glanceBytes) log.push(tail.slice(tail.indexOf('\n') + 1));
  else log.push(beginning.slice(beginning.lastIndexOf('\n') + 1));
  const { endedAt } = log.finish();
  return endedAt && momentOf(endedAt);
}

const previewer = {
  /** What the beginning of a log is understood as, before anything is sent. */
  async preview(file: File, logged: Logged): Promise<LogPreview> {
    try {
      const text = await file.slice(0, glanceBytes).text();
      let samples = 0;
      const log = createCsvLog(() => samples++, logged);
      log.push(file.size > glanceBytes ? text.slice(0, text.lastIndexOf('\n') + 1) : text);
      const end = log.finish();
      const endedAt = end.endedAt && (await endOf(file, logged, text));
      const whole = file.size <= glanceBytes;
      return { ok: true, columns: end.columns, warnings: end.warnings, samples, whole, endedAt };
    } catch (error) {
      if (error instanceof ImpossibleInput) return { ok: false, said: impossibleText(error) };
      throw error;
    }
  },
};

export type Previewer = typeof previewer;
expose(previewer);
