import 'server-only';
import { toReadNow } from '@/core/judging/judgeHold';
import { holdWhyText } from '@/words/hold';
import { now } from '@/workshop/clock';
import { allHolds } from '@/workshop/holds';
import { judgedWorkshop } from '@/workshop/judged';
import type { z } from 'zod';
import { mostReadingBytes, readJson } from './jsonBody';
import { Refusal } from './respond';
import { type holdsResponse, newHoldRequest } from './schemas';

/** Every self-discharge test with what it says of each, the newest first. */
export async function holds(): Promise<z.infer<typeof holdsResponse>> {
  const all = await allHolds(await judgedWorkshop());
  return {
    holds: all.map((hold) => {
      const wanted = new Set(toReadNow(hold, now()).map(({ code }) => code));
      return {
        id: hold.id,
        beganAt: hold.beganAt.toISOString(),
        endedAt: hold.endedAt?.toISOString() ?? null,
        dueAt: hold.dueAt?.toISOString() ?? null,
        subjects: hold.held.map(({ code, position, says: { drift, outlier, verdict, why }, lastAt }) => ({
          code,
          group: position,
          driftVPerDay: drift?.value ?? null,
          standardUncertaintyVPerDay: drift?.u ?? null,
          outlier,
          verdict,
          why: holdWhyText(why),
          readAt: lastAt?.toISOString() ?? null,
          readNow: wanted.has(code),
        })),
      };
    }),
  };
}

/** Whom to put to rest, and for how long. */
export const newHoldOf = async (request: Request): Promise<z.infer<typeof newHoldRequest>> =>
  newHoldRequest.parse(await readJson(request, mostReadingBytes));

/** @throws Refusal with 400 where it was not begun */
export function begunOrRefused(begun: { ok: true; value: number } | { ok: false; said: string }): { id: number } {
  if (begun.ok) return { id: begun.value };
  throw new Refusal(400, 'not-begun', begun.said);
}
