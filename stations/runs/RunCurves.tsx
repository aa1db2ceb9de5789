'use client';

import { formatDuration } from '@/core/quantity/format';
import type { SampleColumns } from '@/core/capacity/sampleColumns';
import { dashes, endNames } from '@/ui/lineEnds';
import { tickText, ticksOver, ticksWithin } from '@/ui/ticks';
import { memo, type ReactNode, useEffect, useMemo, useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import {
  CartesianGrid,
  Line,
  LineChart,
  ReferenceArea,
  ReferenceDot,
  ReferenceLine,
  ResponsiveContainer,
  XAxis,
  YAxis,
} from 'recharts';
import { CurveTable } from './CurveTable';
import {
  asOne,
  type CurvePoint,
  type CurveView,
  type DrawnRun,
  incrementalBinV,
  lineOf,
  nearestTo,
  rangeOf,
} from './curveViews';
import { PlotPointer, type Span } from './PlotPointer';

interface RunCurvesProps {
  id: number;
  own: DrawnRun;
  /** Other runs of the same cell or pack, newest first. */
  others: { id: number; label: ReactNode }[];
  series: number;
  cutoffV: number;
  /** Of a pack whose groups were logged: of each, whether it ended the discharge. */
  groups: boolean[] | null;
  fromS: number;
  toS: number;
  gaps: Span[];
  wild: { timeS: number; voltageV: number }[];
}

const views: Record<CurveView, string> = { time: 'Over time', charge: 'Over charge', incremental: 'dQ/dV' };
/** Where the plot begins and ends within the chart, px. */
const plot = { left: 58, top: 8, bottom: 18 + 30, height: 400 };
/** As many stretches as pixels, about; charge by voltage wants more. */
const stretches: Record<CurveView, number> = { time: 500, charge: 800, incremental: 3000 };
const otherStretches = (runs: number): number => Math.round(Math.min(600, Math.max(60, 6000 / runs)));
/** Beyond so many runs dashes only fill the gaps of each other. */
const mostDashed = 10;
/** A pointer further off the line than this share of what is shown reads nothing. */
const nearShare = 0.02;

const samplesOf = async (id: number, window: Span | null, points: number): Promise<SampleColumns> => {
  const query = new URLSearchParams({
    points: String(points),
    ...(window && { fromS: String(Math.max(0, window.fromS)), toS: String(window.toS) }),
  });
  const answer = await fetch(`/api/v1/runs/${id}/samples?${query}`);
  if (!answer.ok) throw new Error(`The samples of run ${id} did not come: ${answer.status}.`);
  return (await answer.json()) as SampleColumns;
};
const drawnOf = async (id: number, stretches: number): Promise<DrawnRun> => {
  const [columns, answer] = await Promise.all([samplesOf(id, null, stretches), fetch(`/api/v1/runs/${id}`)]);
  if (!answer.ok) throw new Error(`Run ${id} did not come: ${answer.status}.`);
  const { segments, load } = (await answer.json()) as Omit<DrawnRun, 'columns'>;
  return { columns, segments, load };
};

/**
 * A run's volts over time or charge, of each group where they were logged, or its dQ/dV; other runs laid over it;
 * zoomed by a stroke over it, then read anew in as much detail as can be shown; as a table for those who prefer it.
 */
export function RunCurves({ id, own: given, others, series, cutoffV, groups, fromS, toS, gaps, wild }: RunCurvesProps) {
  const [view, setView] = useState<CurveView>('time');
  const [asTable, setAsTable] = useState(false);
  const [zoom, setZoom] = useState<Span | null>(null);
  const [detail, setDetail] = useState<{ of: string; columns: SampleColumns } | null>(null);
  const [over, setOver] = useState<number[]>(() => (groups ? [] : others.slice(0, 3).map((other) => other.id)));
  const [fetched, setFetched] = useState<ReadonlyMap<number, DrawnRun>>(new Map());
  const [failed, setFailed] = useState<string | null>(null);

  /** What is asked for anew: charge is reckoned from the whole. */
  const window = view === 'time' ? zoom : null;
  const isWholeTime = view === 'time' && zoom === null;
  const key = `${view} ${window?.fromS} ${window?.toS}`;
  // What was asked for another view or stretch is not this one's: the charge of a stretch is not that of the whole.
  const columns = !isWholeTime && detail?.of === key ? detail.columns : given.columns;

  useEffect(() => {
    if (isWholeTime) return;
    let isStale = false;
    samplesOf(id, window, stretches[view]).then(
      (seen) => !isStale && setDetail({ of: key, columns: seen }),
      (error: unknown) => setFailed(String(error)),
    );
    return () => {
      isStale = true;
    };
  }, [id, view, window, isWholeTime, key]);
  useEffect(() => {
    const missing = over.filter((one) => !fetched.has(one));
    if (missing.length === 0) return;
    let isStale = false;
    Promise.all(missing.map(async (other) => [other, await drawnOf(other, otherStretches(over.length))] as const)).then(
      (drawn) => !isStale && setFetched((known) => new Map([...known, ...drawn])),
      (error: unknown) => setFailed(String(error)),
    );
    return () => {
      isStale = true;
    };
  }, [over, fetched]);

  const own = useMemo(() => ({ ...given, columns }), [given, columns]);
  const lines = useMemo(
    () => (groups ? groups.map((_, i) => lineOf(own, view, i, series)) : [lineOf(own, view, null, series)]),
    [own, view, groups, series],
  );
  const behind = useMemo(
    () => asOne(over.flatMap((other) => fetched.get(other) ?? []).map((drawn) => lineOf(drawn, view, null, series))),
    [over, fetched, view, series],
  );
  const [first = []] = lines;
  const whole: Span = useMemo(() => {
    const [firstX, lastX] = rangeOf([...lines.flat(), ...behind].map(({ x }) => x));
    // Zoomed, the lines are a part only.
    const lastS = view === 'time' ? (given.columns.timeS.at(-1) ?? 0) : 0;
    return { fromS: view === 'incremental' ? firstX : 0, toS: Math.max(lastX, lastS) };
  }, [lines, behind, view, given]);
  const shown = zoom ?? whole;

  const show = (to: CurveView) => {
    setView(to);
    setZoom(null);
  };
  const read = (x: number): string => {
    const nearest = nearestTo(first, x);
    if (!nearest || Math.abs(nearest.x - x) > nearShare * (shown.toS - shown.fromS)) return '';
    if (view === 'incremental') return `${nearest.x.toFixed(2)} V · ${(nearest.y ?? 0).toFixed(2)} Ah/V`;
    const i = nearest.index ?? 0;
    const volts = columns.groupsV
      ? columns.groupsV.map((one) => one[i]?.toFixed(3) ?? '–').join(' ')
      : columns.voltageV[i]?.toFixed(3);
    return [
      formatDuration(columns.timeS[i] ?? 0),
      view === 'charge' ? `${nearest.x.toFixed(3)} Ah` : null,
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
          <Button variant="quiet" aria-pressed={asTable} onClick={() => setAsTable(!asTable)}>
            {asTable ? 'As a curve' : 'As a table'}
          </Button>
        </div>
      </div>
      {asTable ? (
        <CurveTable id={id} columns={columns} />
      ) : (
        <PlotPointer
          plot={{ ...plot, right: groups ? 60 : 30 }}
          shown={shown}
          whole={whole}
          onZoom={setZoom}
          read={read}
        >
          <Plot
            {...{
              view,
              lines,
              behind,
              isDashed: over.length <= mostDashed,
              shown,
              cutoffV,
              groups,
              fromS,
              toS,
              gaps,
              wild,
            }}
          />
        </PlotPointer>
      )}
      {view === 'incremental' && (
        <p className="soft mb-1">
          The charge given in each {(1000 * incrementalBinV).toFixed(0)} mV a cell, the mean of three neighbours.
        </p>
      )}
      {failed && (
        <p className="hot mb-1" role="alert">
          ◆ {failed} Reload the page.
        </p>
      )}
      {/* Groups against each other: other runs would hide them. */}
      {groups && others.length > 0 && (
        <div className="laid-over soft">
          {others.map((other) => (
            <div key={other.id}>{other.label}</div>
          ))}
        </div>
      )}
      {!groups && others.length > 0 && (
        <fieldset className="laid-over">
          <legend className="soft">Laid over it, thinner</legend>
          {others.map((other) => (
            <Form.Check
              key={other.id}
              id={`over-${other.id}`}
              label={other.label}
              checked={over.includes(other.id)}
              onChange={(event) =>
                setOver(event.target.checked ? [...over, other.id] : over.filter((one) => one !== other.id))
              }
            />
          ))}
          {others.length > 4 && (
            <Button variant="quiet" onClick={() => setOver(over.length > 0 ? [] : others.map((other) => other.id))}>
              {over.length > 0 ? 'None' : 'All'}
            </Button>
          )}
        </fieldset>
      )}
    </>
  );
}

interface PlotProps extends Pick<RunCurvesProps, 'cutoffV' | 'groups' | 'fromS' | 'toS' | 'gaps' | 'wild'> {
  view: CurveView;
  lines: CurvePoint[][];
  behind: CurvePoint[];
  isDashed: boolean;
  shown: Span;
}

/** Marks of wild samples beyond this only cover each other. */
const mostMarks = 60;

/** The lines and their axes; drawn anew only when these change, not as the pointer moves. */
const Plot = memo(function Plot({
  view,
  lines,
  behind,
  isDashed,
  shown,
  cutoffV,
  groups,
  fromS,
  toS,
  gaps,
  wild,
}: PlotProps) {
  const isSeen = ({ x, y }: CurvePoint) => y !== null && x >= shown.fromS && x <= shown.toS;
  const [lowestY, highestY] = rangeOf([...lines.flat(), ...behind].filter(isSeen).map(({ y }) => y as number));
  // The whole of it shows how far it is from the cut-off.
  const wholeLowest = shown.fromS === 0 ? Math.min(cutoffV, lowestY) : lowestY;
  const lowest = view === 'incremental' ? 0 : wholeLowest;
  const volts = ticksOver(lowest, highestY, [0.001, 0.005, 0.01, 0.05, 0.1, 0.2, 0.5, 1, 2, 5]);
  const times = [1, 10, 60, 300, 600, 1800, 3600, 7200, 14_400];
  const ticks = ticksWithin(shown.fromS, shown.toS, view === 'time' ? times : [0.01, 0.05, 0.1, 0.2, 0.5, 1, 2, 5]);
  const span = shown.toS - shown.fromS;
  const names = endNames(
    lines.map((line, i) => ({ name: String(i + 1), value: line.filter(isSeen).at(-1)?.y ?? 0 })),
    ((volts.at(-1) ?? 5) - (volts[0] ?? 0)) / 25,
  );
  const axisNames: Record<CurveView, string> = {
    time: span > 600 ? 'hours : minutes' : 'hours : minutes : seconds',
    charge: 'Ah',
    incremental: 'V',
  };
  const decimals = volts.length > 1 && (volts[1] as number) - (volts[0] as number) < 0.01 ? 3 : 2;
  return (
    <ResponsiveContainer width="100%" height={plot.height} minWidth={0}>
      <LineChart margin={{ top: plot.top, right: groups ? 60 : 30, bottom: 18, left: 0 }} accessibilityLayer={false}>
        <CartesianGrid stroke="var(--rule)" />
        <XAxis
          type="number"
          dataKey="x"
          domain={[shown.fromS, shown.toS]}
          allowDataOverflow
          ticks={ticks}
          tickFormatter={(x: number) =>
            view === 'time' ? formatDuration(x).slice(0, span > 600 ? -3 : undefined) : tickText(x)
          }
          tick={{ className: 'axis' }}
          stroke="var(--soft)"
          label={{ value: axisNames[view], position: 'insideBottomRight', offset: -12, className: 'axis' }}
        />
        <YAxis
          domain={[volts[0] ?? 0, volts.at(-1) ?? 5]}
          allowDataOverflow
          ticks={volts}
          tickFormatter={(v: number) => (view === 'incremental' ? tickText(v) : v.toFixed(decimals))}
          tick={{ className: 'axis' }}
          stroke="var(--soft)"
          width={plot.left}
          label={{ value: view === 'incremental' ? 'Ah/V' : 'V', position: 'insideTopLeft', className: 'axis' }}
        />
        {view === 'time' &&
          gaps.map((gap) => (
            <ReferenceArea key={gap.fromS} x1={gap.fromS} x2={gap.toS} fill="var(--ember-wash)" fillOpacity={1} />
          ))}
        {view !== 'incremental' && (
          <ReferenceLine
            y={cutoffV}
            stroke="var(--ember)"
            strokeDasharray="5 4"
            label={{ value: `cut-off ${cutoffV} V`, position: 'insideBottomLeft', className: 'axis' }}
          />
        )}
        {view === 'time' && fromS > 0 && <ReferenceLine x={fromS} stroke="var(--ember)" strokeDasharray="5 4" />}
        {view === 'time' && <ReferenceLine x={toS} stroke="var(--ember)" strokeDasharray="5 4" />}
        <Line
          data={behind}
          dataKey="y"
          type="linear"
          dot={false}
          isAnimationActive={false}
          activeDot={false}
          stroke="var(--soft)"
          strokeWidth={1.2}
          {...(isDashed && { strokeDasharray: '4 4' })}
        />
        {lines.map((line, i) => {
          const isFirst = groups?.[i] ?? true;
          return (
            <Line
              key={i}
              data={line}
              dataKey="y"
              type="linear"
              dot={false}
              isAnimationActive={false}
              activeDot={false}
              stroke={isFirst ? 'var(--sea)' : 'var(--soft)'}
              strokeWidth={isFirst ? 2.5 : 1.2}
              {...(isFirst ? {} : { strokeDasharray: dashes[1 + (i % (dashes.length - 1))] ?? '' })}
              {...(groups && {
                label: ({ x, y, index }: { x?: string | number; y?: string | number; index?: number }) =>
                  index === line.length - 1 ? (
                    <text x={Number(x) + 4} y={Number(y) + 4} className="axis" fontWeight={isFirst ? 700 : 400}>
                      {names[i]}
                    </text>
                  ) : (
                    <></>
                  ),
              })}
            />
          );
        })}
        {view === 'time' &&
          wild
            .slice(0, mostMarks)
            .map(({ timeS, voltageV }) => (
              <ReferenceDot
                key={timeS}
                x={timeS}
                y={voltageV}
                r={3}
                fill="none"
                stroke="var(--ember)"
                ifOverflow="hidden"
              />
            ))}
      </LineChart>
    </ResponsiveContainer>
  );
});
