import { impossibleText } from '@/words/impossible';
import { createCsvLog } from '@/core/capacity/csvLog';
import type { LogColumn } from '@/core/capacity/logColumns';
import { ImpossibleInput } from '@/core/impossibleInput';
import type { Warning } from '@/core/warning';
import { expose } from 'comlink';

export type LogPreview =
  | { ok: true; columns: LogColumn[]; warnings: Warning[]; samples: number; whole: boolean }
  | { ok: false; said: string };

/** So much of a file shows how it is laid out. */
const glanceBytes = 1 << 18;

const previewer = {
  /** What the beginning of a log is understood as, before anything is sent. */
  async preview(file: File): Promise<LogPreview> {
    try {
      const text = await file.slice(0, glanceBytes).text();
      let samples = 0;
      const log = createCsvLog(() => samples++);
      log.push(file.size > glanceBytes ? text.slice(0, text.lastIndexOf('\n') + 1) : text);
      const end = log.finish();
      return { ok: true, columns: end.columns, warnings: end.warnings, samples, whole: file.size <= glanceBytes };
    } catch (error) {
      if (error instanceof ImpossibleInput) return { ok: false, said: impossibleText(error) };
      throw error;
    }
  },
};

export type Previewer = typeof previewer;
expose(previewer);
