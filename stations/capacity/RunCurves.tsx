'use client';

import { formatDuration } from '@/core/quantity/format';
import type { SampleColumns } from '@/core/capacity/sampleColumns';
import { type ReactNode, useEffect, useMemo, useState } from 'react';
import Button from 'react-bootstrap/Button';
import { CurveTable } from './CurveTable';
import {
  asOne,
  type CurveView,
  type DrawnRun,
  incrementalBinV,
  lineOf,
  nearestTo,
  rangeOf,
  timesShown,
  timesVolts,
  withDetail,
} from './curveViews';
import { OverRuns } from './OverRuns';
import { PlotPointer, type Span } from './PlotPointer';
import { plot, type RunMarks, RunPlot } from './RunPlot';
import { fetchRun, fetchSamples, type OtherRun } from './runSamples';

interface RunCurvesProps extends RunMarks {
  id: number;
  own: DrawnRun;
  /** Other runs of the same cell or pack, newest first. */
  others: { id: number; label: ReactNode }[];
  series: number;
  /** Of the whole; of a group where groups were logged. */
  cutoffV: number;
  /** Of a pack whose groups were logged: of each, whether it ended the discharge. */
  groups: boolean[] | null;
}

const views: Record<CurveView, string> = {
  time: 'Over time',
  charge: 'Over charge',
  left: 'Over state of charge',
  incremental: 'dQ/dV',
};
/** As many stretches as pixels, about; charge by voltage wants more. */
const stretches: Record<CurveView, number> = { time: 500, charge: 800, left: 800, incremental: 3000 };
const otherStretches = (runs: number): number => Math.round(Math.min(600, Math.max(60, 6000 / runs)));
/** Beyond this many runs dashes only fill the gaps of each other. */
const mostDashed = 10;
/** This many are laid over it from the beginning. */
const overAtFirst = 3;
/** A pointer further off the line than this share of what is shown reads nothing. */
const nearFraction = 0.02;

const isAbort = (error: unknown): boolean => error instanceof DOMException && error.name === 'AbortError';

/** What is known of curves for one question: of another it is not true. */
interface Answer {
  of: string;
  columns: ReadonlyMap<number, SampleColumns>;
}
const nothing: Answer['columns'] = new Map();

/**
 * A run's volts over time, charge or state of charge, of each group where they were logged, or its dQ/dV; other runs
 * laid over it; zoomed by a stroke over it, then all of them read again in as much detail as can be shown; as a table
 * for those who prefer it.
 */
export function RunCurves({
  id,
  own: given,
  others,
  series,
  cutoffV: givenCutoffV,
  groups: logged,
  ...marks
}: RunCurvesProps) {
  const [view, setView] = useState<CurveView>('time');
  const [asTable, setAsTable] = useState(false);
  const [zoom, setZoom] = useState<Span | null>(null);
  const [whole, setWhole] = useState<{ view: CurveView; columns: SampleColumns } | null>(null);
  const [detail, setDetail] = useState<Answer | null>(null);
  const [isByGroup, setIsByGroup] = useState(logged !== null);
  const [over, setOver] = useState<number[]>(() => others.slice(0, overAtFirst).map((other) => other.id));
  const [fetched, setFetched] = useState<ReadonlyMap<number, OtherRun>>(new Map());
  const [failed, setFailed] = useState<string | null>(null);

  const own = useMemo(
    () => (view !== 'time' && whole?.view === view ? { ...given, columns: whole.columns } : given),
    [given, view, whole],
  );
  const groups = isByGroup ? logged : null;
  // The first group ended it: the whole met no cut-off of its own.
  const cutoffV = logged && !isByGroup ? null : givenCutoffV;
  // Groups are compared with each other: other runs would hide them.
  const laidOver = useMemo(
    () => (groups ? [] : over.flatMap((other) => fetched.get(other) ?? [])),
    [groups, over, fetched],
  );

  useEffect(() => {
    if (view === 'time') return;
    const asked = new AbortController();
    fetchSamples(id, null, stretches[view], asked.signal).then(
      (columns) => setWhole({ view, columns }),
      (error: unknown) => !isAbort(error) && setFailed(String(error)),
    );
    return () => asked.abort();
  }, [id, view]);
  useEffect(() => {
    const missing = groups ? [] : over.filter((one) => !fetched.has(one));
    if (missing.length === 0) return;
    const asked = new AbortController();
    Promise.all(missing.map((other) => fetchRun(other, otherStretches(over.length), asked.signal))).then(
      (runs) => setFetched((known) => new Map([...known, ...runs.map((run) => [run.id, run] as const)])),
      (error: unknown) => !isAbort(error) && setFailed(String(error)),
    );
    return () => asked.abort();
  }, [groups, over, fetched]);

  const question = `${view} ${zoom?.fromS} ${zoom?.toS} ${laidOver.map((run) => run.id).join()}`;
  useEffect(() => {
    const wanted = [{ ...own, id, points: stretches[view] }].concat(
      laidOver.map((run) => ({ ...run, points: otherStretches(laidOver.length) })),
    );
    const asked = new AbortController();
    const parts = wanted.flatMap((run) => {
      const times = timesShown(run, view, zoom);
      return times === null
        ? []
        : [fetchSamples(run.id, times, run.points, asked.signal).then((columns) => [run.id, columns] as const)];
    });
    if (parts.length === 0) return;
    Promise.all(parts).then(
      (columns) => setDetail({ of: question, columns: new Map(columns) }),
      (error: unknown) => !isAbort(error) && setFailed(String(error)),
    );
    return () => asked.abort();
  }, [id, own, laidOver, view, zoom, question]);

  const closer = detail?.of === question ? detail.columns : nothing;
  const inDetail = useMemo(
    () =>
      <Run extends DrawnRun>(run: Run, runId: number): Run => {
        const columns = closer.get(runId);
        return columns ? { ...run, columns: withDetail(run.columns, columns) } : run;
      },
    [closer],
  );
  const drawn = useMemo(() => inDetail(own, id), [inDetail, own, id]);
  const { columns } = drawn;
  const lines = useMemo(
    () => (groups ? groups.map((_, i) => lineOf(drawn, view, i, series)) : [lineOf(drawn, view, null, series)]),
    [drawn, view, groups, series],
  );
  const behind = useMemo(
    () =>
      asOne(laidOver.map((run) => lineOf(timesVolts(inDetail(run, run.id), series / run.series), view, null, series))),
    [laidOver, inDetail, view, series],
  );
  const [first = []] = lines;
  const all: Span = useMemo(() => {
    const [firstX, lastX] = rangeOf([...lines.flat(), ...behind].map(({ x }) => x));
    return { fromS: view === 'incremental' ? firstX : 0, toS: lastX };
  }, [lines, behind, view]);
  const shown = zoom ?? all;

  const show = (to: CurveView) => {
    setView(to);
    setZoom(null);
  };
  const read = (x: number): string => {
    const nearest = nearestTo(first, x);
    if (!nearest || Math.abs(nearest.x - x) > nearFraction * (shown.toS - shown.fromS)) return '';
    if (view === 'incremental') return `${nearest.x.toFixed(2)} V · ${(nearest.y ?? 0).toFixed(2)} Ah/V`;
    const i = nearest.index ?? 0;
    const volts =
      groups && columns.groupsV
        ? columns.groupsV.map((one) => one[i]?.toFixed(3) ?? '–').join(' ')
        : columns.voltageV[i]?.toFixed(3);
    return [
      formatDuration(columns.timeS[i] ?? 0),
      view === 'charge' ? `${nearest.x.toFixed(3)} Ah` : null,
      view === 'left' ? `${(100 - nearest.x).toFixed(1)} %` : null,
      `${volts} V`,
      columns.currentA?.[i] == null ? null : `${columns.currentA[i].toFixed(3)} A`,
      columns.temperatureC?.[i] == null ? null : `${columns.temperatureC[i].toFixed(1)} °C`,
    ]
      .filter(Boolean)
      .join(' · ');
  };

  return (
    <>
      <div className="d-flex justify-content-between flex-wrap gap-2">
        <h2>{view === 'incremental' ? 'Charge by voltage' : `Volts ${views[view].toLowerCase()}`}</h2>
        <div className="d-flex gap-1 flex-wrap">
          {(Object.keys(views) as CurveView[]).map((one) => (
            <Button key={one} variant="quiet" aria-pressed={view === one} onClick={() => show(one)}>
              {views[one]}
            </Button>
          ))}
          {logged && (
            <Button
              variant="quiet"
              onClick={() => {
                setIsByGroup(!isByGroup);
                setZoom(null);
              }}
            >
              {isByGroup ? 'The whole, with other tests' : 'Each group'}
            </Button>
          )}
          <Button variant="quiet" aria-pressed={asTable} onClick={() => setAsTable(!asTable)}>
            {asTable ? 'As a curve' : 'As a table'}
          </Button>
        </div>
      </div>
      {asTable ? (
        <CurveTable id={id} columns={closer.get(id) ?? columns} />
      ) : (
        <PlotPointer plot={{ ...plot, right: groups ? 60 : 30 }} shown={shown} whole={all} onZoom={setZoom} read={read}>
          <RunPlot
            {...marks}
            {...{ view, lines, behind, shown, cutoffV, groups }}
            isDashed={over.length <= mostDashed}
          />
        </PlotPointer>
      )}
      {view === 'incremental' && (
        <p className="soft mb-1">
          The charge given in each {(1000 * incrementalBinV).toFixed(0)} mV a cell, the mean of three neighbours.
        </p>
      )}
      {view === 'left' && (
        <p className="soft mb-1">
          Of what each of them gave itself: 100 % where its discharge began, 0 % where it ended.
        </p>
      )}
      {view === 'time' && marks.resetsS.length > 0 && (
        <p className="soft mb-1">Dotted: the clock of the logger started again, and was continued one step later.</p>
      )}
      {failed && (
        <p className="hot mb-1" role="alert">
          ◆ {failed} Reload the page.
        </p>
      )}
      {groups ? (
        others.length > 0 && (
          <div className="laid-over soft">
            {others.map((other) => (
              <div key={other.id}>{other.label}</div>
            ))}
          </div>
        )
      ) : (
        <OverRuns
          id={id}
          series={series}
          offered={others}
          over={over}
          onChange={setOver}
          onAdded={(run) => {
            setFetched((known) => new Map(known).set(run.id, run));
            setOver((laid) => [...laid, run.id]);
          }}
        />
      )}
    </>
  );
}
