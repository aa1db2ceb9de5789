import type { Logged } from '@/core/capacity/logColumns';
import type { LogPreview, Previewer } from '@/workers/preview.worker';
import { wrap } from 'comlink';

/** Looks at the beginning of a log beside the page: of a chosen file, or of one at an address of the workshop. */
export async function lookAtLog(source: File | string, logged: Logged, sheet?: string): Promise<LogPreview> {
  const worker = new Worker(new URL('../../workers/preview.worker.ts', import.meta.url), { type: 'module' });
  try {
    return await wrap<Previewer>(worker).preview(source, logged, sheet);
  } finally {
    worker.terminate();
  }
}
