import type { EntryLine } from '@/ui/entryLine';
import type { FiledReading } from './fileReading';

/** Rejects while the server cannot be reached. */
export async function sendReading(roundId: number, line: EntryLine): Promise<FiledReading> {
  const response = await fetch(`/resistance/${roundId}/readings`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(line),
  });
  if (response.ok) return (await response.json()) as FiledReading;
  const { error } = (await response.json().catch(() => ({}))) as { error?: { message: string } };
  return {
    ok: false,
    away: response.status === 503,
    said: error?.message ?? `The server answered ${response.status}.`,
  };
}
