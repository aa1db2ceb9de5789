'use server';

import { upkeepActs } from '@/core/judging/upkeep';
import { idsTogether } from '@/core/judging/shelf';
import { inTransaction } from '@/records/database';
import { fileEntry } from '@/records/ledger';
import { acting, reasonText } from '@/stations/answer';
import { now } from '@/workshop/clock';
import { subjectNamed } from '@/workshop/judged';
import { randomUUID } from 'node:crypto';
import { revalidatePath } from 'next/cache';
import { z } from 'zod';

const postponeS = 7 * 86_400;
const codes = z.array(z.string().max(40)).min(1).max(5000);

/** Postpones a due task for a week, with the reason; then it comes back. */
export async function postponeAction(of: string[], act: string, why: string): Promise<void> {
  await acting(async () => {
    const reason = reasonText.parse(why);
    const chosen = z.enum(upkeepActs).parse(act);
    const [first = '', ...more] = codes.parse(of);
    const { subject, workshop } = await subjectNamed(first);
    if (!subject) return;
    const others = workshop.cells.filter(({ code }) => more.includes(code)).map(({ id }) => id);
    const ids = [...new Set([...idsTogether(subject, workshop), ...others])];
    const at = now();
    await inTransaction((db) =>
      fileEntry(db, {
        entry: randomUUID(),
        subjectIds: ids,
        takenAt: at,
        bodies: [
          { kind: 'put-off', act: chosen, untilAt: new Date(at.getTime() + 1000 * postponeS).toISOString(), reason },
        ],
      }),
    );
  });
  revalidatePath('/', 'layout');
}
