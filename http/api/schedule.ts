import type { BenchRequest } from '@/core/planning/schedule';
import { unplacedText } from '@/words/schedule';
import { inBackground } from '@/workshop/pool';
import type { z } from 'zod';
import type { scheduleRequest, scheduleResponse } from './schemas';

const limitMs = 20_000;
const minuteMs = 60_000;

/** Which job is done where and when. Nothing is stored. */
export async function computeSchedule(
  { from, attended, stations, jobs }: z.infer<typeof scheduleRequest>,
  signal: AbortSignal,
): Promise<z.infer<typeof scheduleResponse>> {
  const startMs = new Date(from).getTime();
  const minuteOf = (moment: string): number => (new Date(moment).getTime() - startMs) / minuteMs;
  const momentOf = (minute: number): string => new Date(startMs + minute * minuteMs).toISOString();
  const asked: BenchRequest = {
    // What lies before the start is over.
    attended: attended
      .map((span) => ({ from: Math.max(0, minuteOf(span.from)), to: minuteOf(span.to) }))
      .filter((span) => span.to > span.from)
      .sort((a, b) => a.from - b.from),
    stations,
    jobs: jobs.map(({ due, after = [], restMin = 0, ...job }) => ({
      ...job,
      after,
      restMin,
      dueMin: due === undefined ? null : minuteOf(due),
    })),
  };
  const plan = await inBackground('plan', asked, { crew: 'asked', signal, limitMs });
  return {
    plan: plan.placed.map(({ id, station, from: begins, to }) => ({
      id,
      station,
      from: momentOf(begins),
      to: momentOf(to),
    })),
    endsAt: momentOf(plan.endsAt),
    bound: momentOf(plan.bound),
    proven: plan.isProven,
    unplaced: plan.unplaced.map(({ id, why }) => ({ id, code: why.code, why: unplacedText(why) })),
  };
}
