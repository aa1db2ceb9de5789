import type { SampleColumns } from '@/core/capacity/sampleColumns';
import type { DischargeLoad } from '@/core/capacity/discharge';
import type { Segment } from '@/core/capacity/segments';
import type { Span } from './PlotPointer';
import type { DrawnRun } from './curveViews';

/** What the API gives of a run, as far as it is drawn. */
interface RunAnswer {
  subject: string;
  series: number;
  endedAt: string;
  load: DischargeLoad;
  segments: readonly Segment[];
}

/** A run that is laid over another. */
export interface OtherRun extends DrawnRun {
  id: number;
  subject: string;
  /** Cells or groups in series. */
  series: number;
  endedAt: Date;
}

/** @throws Error where they did not come */
export async function fetchSamples(
  id: number,
  window: Span | null,
  points: number,
  signal: AbortSignal,
): Promise<SampleColumns> {
  const query = new URLSearchParams({
    points: String(points),
    ...(window && { fromS: String(window.fromS), toS: String(window.toS) }),
  });
  const answer = await fetch(`/api/v1/runs/${id}/samples?${query}`, { signal });
  if (!answer.ok) throw new Error(`The samples of run ${id} did not come: ${answer.status}.`);
  return (await answer.json()) as SampleColumns;
}

/**
 * A run with its samples.
 *
 * @throws Error where there is none, or it did not come
 */
export async function fetchRun(id: number, points: number, signal: AbortSignal): Promise<OtherRun> {
  const answer = await fetch(`/api/v1/runs/${id}`, { signal });
  if (answer.status === 404) throw new Error(`There is no run ${id}.`);
  if (!answer.ok) throw new Error(`Run ${id} did not come: ${answer.status}.`);
  const { subject, series, endedAt, load, segments } = (await answer.json()) as RunAnswer;
  return {
    id,
    subject,
    series,
    endedAt: new Date(endedAt),
    load,
    segments,
    columns: await fetchSamples(id, null, points, signal),
  };
}
