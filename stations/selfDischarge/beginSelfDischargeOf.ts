import 'server-only';
import { inTransaction } from '@/records/database';
import { beginSelfDischarge } from '@/records/selfDischarges';
import { type Answer, done, refuse } from '@/stations/answer';
import { now } from '@/workshop/clock';
import { judgedWorkshop } from '@/workshop/judged';
import { randomUUID } from 'node:crypto';
import { namedBy } from './testSubjects';

export const mostHeld = 500;

/** Puts to rest what these codes name: batches, cells, packs. Answers with the number of the self-discharge test. */
export async function beginSelfDischargeOf(codes: readonly string[], days: number): Promise<Answer<number>> {
  const named = await namedBy(codes, await judgedWorkshop());
  const unknown = [...named].filter(([, subjects]) => subjects.length === 0).map(([code]) => code);
  if (unknown.length > 0)
    return refuse(`Nothing here is called ${unknown.slice(0, 5).join(', ')}.`, { codes: 'Codes that are here.' });
  const subjects = [...named.values()].flat();
  const out = subjects.filter(({ intake }) => intake.class === 'out').map(({ code }) => code);
  if (out.length > 0)
    return refuse(`${out.join(', ')}: scrapped, so no self-discharge test.`, { codes: 'Leave those out.' });
  const subjectIds = [...new Set(subjects.map(({ id }) => id))];
  if (subjectIds.length > mostHeld)
    return refuse(`These are ${subjectIds.length}; at most ${mostHeld} rest in one test.`, { codes: 'Fewer at once.' });
  const selfDischarge = { entry: randomUUID(), subjectIds, plannedS: days * 86_400, beganAt: now() };
  return done((await inTransaction((db) => beginSelfDischarge(db, selfDischarge))).id);
}
