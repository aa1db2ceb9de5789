'use client';

import type { JobKind } from '@/core/planning/benchPlan';
import { jobName } from '@/words/schedule';
import { addDays, differenceInCalendarDays, format, startOfDay } from 'date-fns';
import { useSyncExternalStore } from 'react';

/** A job in its lane, ms since 1970. */
export interface Lain {
  id: string;
  of: string;
  kind: JobKind;
  station: string;
  fromMs: number;
  toMs: number;
  isRunning: boolean;
}

interface LanesProps {
  jobs: readonly Lain[];
  /** In the order in which they are drawn. */
  stations: readonly string[];
  attended: readonly { fromMs: number; toMs: number }[];
  nowMs: number;
}

const hourMs = 3_600_000;
/**
 * The end of a day's lane that a job of two days takes up: with less than this fraction of it no finger could hit it.
 */
const leastFraction = 9;
/** A plan of more days is a list. */
const mostDays = 7;
const never = () => () => undefined;

/** Each day with something to do: a lane for every station, and the attended hours. */
export function Lanes(props: LanesProps) {
  // Days are the reader's, whom the server does not know.
  const isHere = useSyncExternalStore(
    never,
    () => true,
    () => false,
  );
  if (!isHere) return <p className="soft mb-0">The lanes are drawn …</p>;
  const short = props.jobs.filter(({ kind }) => kind !== 'hold');
  const spans = [...short, ...props.attended];
  if (spans.length === 0) return null;
  const first = startOfDay(Math.min(...spans.map(({ fromMs }) => fromMs)));
  const last = Math.max(...spans.map(({ toMs }) => toMs));
  const days = Array.from({ length: differenceInCalendarDays(last, first) + 1 }, (_, i) => addDays(first, i))
    .filter((day) => spans.some((span) => touches(span, day.getTime(), addDays(day, 1).getTime())))
    .slice(0, mostDays);
  return (
    <>
      {days.map((day) => (
        <Day key={day.getTime()} day={day} {...props} />
      ))}
    </>
  );
}

const touches = ({ fromMs, toMs }: { fromMs: number; toMs: number }, from: number, to: number): boolean =>
  toMs > from && fromMs < to;

const titleOf = ({ of, kind, fromMs, toMs }: Lain): string =>
  `${of}: ${jobName(kind)}, ${format(fromMs, 'HH:mm')} to ${format(toMs, 'HH:mm')}`;

function Day({ day, jobs, stations, attended, nowMs }: LanesProps & { day: Date }) {
  const [dayFrom, dayTo] = [day.getTime(), addDays(day, 1).getTime()];
  const own = <T extends { fromMs: number; toMs: number }>(some: readonly T[]): T[] =>
    some.filter((one) => touches(one, dayFrom, dayTo));
  const framing = [...own(jobs.filter(({ kind }) => kind !== 'hold')), ...own(attended)];
  const from = Math.max(dayFrom, Math.floor(Math.min(...framing.map(({ fromMs }) => fromMs)) / hourMs) * hourMs);
  const to = Math.min(dayTo, Math.ceil(Math.max(...framing.map(({ toMs }) => toMs)) / hourMs) * hourMs);
  const place = (at: number): number => (100 * (Math.min(to, Math.max(from, at)) - from)) / (to - from);
  const span = ({ fromMs, toMs }: { fromMs: number; toMs: number }) => ({
    left: `${place(fromMs)}%`,
    width: `${place(toMs) - place(fromMs)}%`,
  });
  const hours = (to - from) / hourMs;
  const everyH = hours <= 6 ? 1 : Math.ceil(hours / 6);
  const ticks = Array.from({ length: Math.floor(hours / everyH) + 1 }, (_, i) => from + i * everyH * hourMs);
  const used = stations.filter((station) => own(jobs).some((job) => job.station === station));
  return (
    <div className="lanes" role="group" aria-label={format(day, 'EEEE d MMMM')}>
      <b>{format(day, 'EEE d MMM')}</b>
      <div className="lane-hours num" aria-hidden>
        {ticks.map((tick) => (
          <span key={tick} style={{ left: `${place(tick)}%` }}>
            {format(tick, 'HH:mm')}
          </span>
        ))}
      </div>
      {used.map((station) => (
        <div className="lane" key={station}>
          <span className="num">{station}</span>
          <div className="lane-track">
            {own(attended).map((hours) => (
              <i key={hours.fromMs} className="lane-there" style={span(hours)} />
            ))}
            {own(jobs)
              .filter((job) => job.station === station)
              .map((job) => {
                const drawn = {
                  className: `lane-job ${job.kind}${job.isRunning ? ' running' : ''}`,
                  style: span(job),
                  title: titleOf(job),
                };
                const isOfTwoDays = job.fromMs < dayFrom || job.toMs > dayTo;
                if (isOfTwoDays && place(job.toMs) - place(job.fromMs) < leastFraction)
                  return <i key={job.id} {...drawn} />;
                return (
                  <a key={job.id} href={`#job-${job.id}`} {...drawn}>
                    <b className="num">{job.of}</b> <span>{jobName(job.kind)}</span>
                  </a>
                );
              })}
            {nowMs > from && nowMs < to && <i className="lane-now" style={{ left: `${place(nowMs)}%` }} />}
          </div>
        </div>
      ))}
    </div>
  );
}
