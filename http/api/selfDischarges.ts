import 'server-only';
import { toReadNow } from '@/core/judging/judgeSelfDischarge';
import { selfDischargeWhyText } from '@/words/selfDischarge';
import { now } from '@/workshop/clock';
import { allSelfDischarges } from '@/workshop/selfDischarges';
import { judgedWorkshop } from '@/workshop/judged';
import type { z } from 'zod';
import { mostReadingBytes, readJson } from './jsonBody';
import { Refusal } from './respond';
import { type selfDischargesResponse, newSelfDischargeRequest } from './schemas';

/** Every self-discharge test with what it says of each, the newest first. */
export async function selfDischarges(): Promise<z.infer<typeof selfDischargesResponse>> {
  const all = await allSelfDischarges(await judgedWorkshop());
  return {
    holds: all.map((selfDischarge) => {
      const wanted = new Set(toReadNow(selfDischarge, now()).map(({ code }) => code));
      return {
        id: selfDischarge.id,
        beganAt: selfDischarge.beganAt.toISOString(),
        endedAt: selfDischarge.endedAt?.toISOString() ?? null,
        dueAt: selfDischarge.dueAt?.toISOString() ?? null,
        subjects: selfDischarge.held.map(({ code, position, says: { drift, outlier, verdict, why }, lastAt }) => ({
          code,
          group: position,
          driftVPerDay: drift?.value ?? null,
          standardUncertaintyVPerDay: drift?.u ?? null,
          outlier,
          verdict,
          why: selfDischargeWhyText(why),
          readAt: lastAt?.toISOString() ?? null,
          readNow: wanted.has(code),
        })),
      };
    }),
  };
}

/** Whom to put to rest, and for how long. */
export const newSelfDischargeOf = async (request: Request): Promise<z.infer<typeof newSelfDischargeRequest>> =>
  newSelfDischargeRequest.parse(await readJson(request, mostReadingBytes));

/** @throws Refusal with 400 where it was not begun */
export function begunOrRefused(begun: { ok: true; value: number } | { ok: false; said: string }): { id: number } {
  if (begun.ok) return { id: begun.value };
  throw new Refusal(400, 'not-begun', begun.said);
}
