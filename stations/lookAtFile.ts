import type { Logged } from '@/core/capacity/logColumns';
import type { LogPreview, Previewer, TableText } from '@/workers/preview.worker';
import { type Remote, wrap } from 'comlink';

/** Asks a worker of its own beside the page. */
async function beside<Answer>(ask: (previewer: Remote<Previewer>) => Promise<Answer>): Promise<Answer> {
  const worker = new Worker(new URL('../workers/preview.worker.ts', import.meta.url), { type: 'module' });
  try {
    return await ask(wrap<Previewer>(worker));
  } finally {
    worker.terminate();
  }
}

/** Looks at the beginning of a log: of a chosen file, or of one at an address of the workshop. */
export const lookAtLog = (source: File | string, logged: Logged, sheet?: string): Promise<LogPreview> =>
  beside((previewer) => previewer.preview(source, logged, sheet));

/** Reads a table that a person kept: a text, or a sheet of a workbook. */
export const lookAtTable = (file: File, mostChars: number, sheet?: string): Promise<TableText> =>
  beside<TableText>(async (previewer) => previewer.table(file, mostChars, sheet));
