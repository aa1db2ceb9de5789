import 'server-only';
import { isApiKey } from '@/records/access';
import { plannedJobs } from '@/records/benchPlans';
import { database } from '@/records/database';
import { counted } from '@/words/counted';
import { beginText } from '@/words/schedule';
import { upkeepText } from '@/words/upkeep';
import { judgedWorkshop } from '@/workshop/judged';
import { upkeepComing } from '@/workshop/upkeep';
import { createEvents, type EventAttributes } from 'ics';
import { Refusal } from './respond';

const lookMin = 15;
const headers = { 'Content-Type': 'text/calendar; charset=utf-8', 'Cache-Control': 'no-store' };

/** The bench plan, as a calendar. */
export async function planCalendar(): Promise<Response> {
  const text = calendarOf('Bench plan', await planned());
  return new Response(text, {
    headers: { ...headers, 'Content-Disposition': 'attachment; filename="bench-plan.ics"' },
  });
}

/**
 * The bench plan and what is due, for anyone who knows the secret address.
 *
 * @throws Refusal where that address was never made, or was withdrawn
 */
export async function secretCalendar(file: string): Promise<Response> {
  const secret = /^([\w-]{1,100})\.ics$/.exec(file)?.[1];
  if (secret === undefined || !(await isApiKey(database(), secret, 'calendar')))
    throw new Refusal(
      404,
      'no-calendar',
      'This address opens no calendar: a part of it is missing, or it was withdrawn. Make another under Access.',
    );
  const due = (await upkeepComing(await judgedWorkshop())).map(({ name, codes, act, dueAt }): EventAttributes => ({
    ...timed(dueAt, new Date(dueAt.getTime() + lookMin * 60_000)),
    uid: `${name.toLowerCase()}-${act}@bold-ember`,
    title: `${name}: ${upkeepText(act)}`,
    ...(codes.length > 1 && { description: counted(codes.length, 'cell') }),
  }));
  return new Response(calendarOf('Bench and upkeep', [...(await planned()), ...due]), { headers });
}

async function planned(): Promise<EventAttributes[]> {
  return (await plannedJobs(database())).flatMap(({ id, of, kind, planned: at, begun }): EventAttributes[] => {
    if (begun) return [];
    return at
      ? [{ ...timed(at.fromAt, at.toAt), uid: `${id}@bold-ember`, title: beginText(kind, of, at.station) }]
      : [];
  });
}

/** In coordinated universal time: a calendar shows it by its own zone, summer time or not. */
const timed = (fromAt: Date, toAt: Date) => ({
  start: fromAt.getTime(),
  end: toAt.getTime(),
  startInputType: 'utc' as const,
  startOutputType: 'utc' as const,
  endInputType: 'utc' as const,
  endOutputType: 'utc' as const,
});

/** Source of the format: RFC 5545. */
function calendarOf(calName: string, events: EventAttributes[]): string {
  const { error, value } = createEvents(events, { calName, productId: '-//Bold Ember//Bench//EN' });
  if (error) throw error;
  return value ?? '';
}
