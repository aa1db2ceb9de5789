'use client';

import { turningPoints } from '@/core/capacity/ageing';
import { AsTable } from '@/ui/AsTable';
import { AxisBelow, AxisBeside } from '@/ui/plotAxes';
import { ticksOver } from '@/ui/ticks';
import { When } from '@/ui/When';
import { format } from 'date-fns';
import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import {
  Area,
  CartesianGrid,
  ComposedChart,
  ErrorBar,
  Line,
  ReferenceLine,
  ResponsiveContainer,
  Scatter,
  Tooltip,
} from 'recharts';

/** One thing that was measured or noted, as a share of what it was when new or first. */
export interface AgeingMark {
  kind: 'capacity' | 'run-time' | 'resistance';
  key: string;
  at: number;
  /** How many cycles it had by then; null where not noted. */
  cycle: number | null;
  share: number;
  u: number | null;
}

type HealthCurve = readonly { at: number; health: number; low95: number; high95: number }[];

interface AgeingPictureProps {
  marks: AgeingMark[];
  /** How capacity runs and will run, ms since 1970, and over cycles; empty where that cannot be known. */
  overTime: HealthCurve;
  overCycles: HealthCurve;
  /** Under which the resistances were read. */
  protocol: string | null;
}

const names: Record<AgeingMark['kind'], string> = {
  capacity: 'capacity, of as new',
  'run-time': 'run time, of its first',
  resistance: 'resistance, of its first',
};
const shapes = { capacity: 'circle', 'run-time': 'diamond', resistance: 'triangle' } as const;
const kinds = ['capacity', 'run-time', 'resistance'] as const;
const percent = (fraction: number): string => `${Math.round(100 * fraction)} %`;
const dayText = (at: number): string => format(at, 'd MMM yyyy');

/** Capacity, run time and resistance over years or cycles, with the course of the capacity and its interval. */
export function AgeingPicture({ marks: all, overTime, overCycles, protocol }: AgeingPictureProps) {
  const [isByCycles, setIsByCycles] = useState(false);
  const course = isByCycles ? overCycles : overTime;
  const marks = isByCycles
    ? all.flatMap((mark) => (mark.cycle === null ? [] : [{ ...mark, at: mark.cycle, day: mark.at }]))
    : all.map((mark) => ({ ...mark, day: mark.at }));
  const there = kinds.filter((kind) => marks.some((mark) => mark.kind === kind));
  const fractions = [
    ...marks.map(({ share: fraction }) => fraction),
    ...course.flatMap(({ low95, high95 }) => [low95, high95]),
  ];
  const ticks = ticksOver(
    Math.max(0, Math.min(0.6, ...fractions)),
    Math.max(1, ...fractions),
    [0.1, 0.2, 0.25, 0.5, 1],
  );
  const lowest = ticks[0] ?? 0;
  const rows = [
    ...course.map(({ at, health, low95, high95 }) => ({ at, health, band: [Math.max(lowest, low95), high95] })),
    ...marks.map((mark) => ({ at: mark.at, [mark.kind]: mark.share, ...(mark.u && { bar: 2 * mark.u }), mark })),
  ].sort((one, other) => one.at - other.at);
  return (
    <figure className="mt-3 mb-0" aria-label={isByCycles ? 'Over its cycles' : 'Over its years'}>
      {overCycles.length > 0 && (
        <div className="d-flex gap-1">
          <Button variant="quiet" aria-pressed={!isByCycles} onClick={() => setIsByCycles(false)}>
            Over its years
          </Button>
          <Button variant="quiet" aria-pressed={isByCycles} onClick={() => setIsByCycles(true)}>
            Over its cycles
          </Button>
        </div>
      )}
      <figcaption className="soft">
        {there.map((kind) => `${{ circle: '●', diamond: '◆', triangle: '▲' }[shapes[kind]]} ${names[kind]}`).join('  ')}
        {protocol !== null && there.includes('resistance') && ` under ${protocol}`}
        {course.length > 0 && ' · the band holds one more discharge 95 times of 100'}
      </figcaption>
      <ResponsiveContainer width="100%" height={280} minWidth={0}>
        <ComposedChart data={rows} margin={{ top: 8, right: 44, bottom: 18, left: 10 }} accessibilityLayer={false}>
          <CartesianGrid stroke="var(--rule)" />
          <AxisBelow
            dataKey="at"
            label={isByCycles ? 'cycles' : ''}
            format={(at) => (isByCycles ? String(Math.round(at)) : format(at, 'MMM yyyy'))}
            domain={isByCycles ? [0, 'auto'] : ['dataMin', 'dataMax']}
          />
          <AxisBeside label="of as new" ticks={ticks} format={percent} />
          {turningPoints.map((health) => (
            <ReferenceLine key={health} y={health} stroke="var(--soft)" strokeDasharray="6 4" />
          ))}
          <Area
            dataKey="band"
            connectNulls
            stroke="none"
            fill="var(--ink)"
            fillOpacity={0.1}
            isAnimationActive={false}
            activeDot={false}
          />
          <Line
            dataKey="health"
            connectNulls
            stroke="var(--ink)"
            strokeWidth={1.8}
            dot={false}
            activeDot={false}
            isAnimationActive={false}
          />
          {there.map((kind) => (
            <Scatter
              key={kind}
              dataKey={kind}
              shape={shapes[kind]}
              fill={kind === 'capacity' ? 'var(--ink)' : 'var(--paper)'}
              stroke="var(--ink)"
              isAnimationActive={false}
            >
              {kind === 'capacity' && <ErrorBar dataKey="bar" direction="y" stroke="var(--ink)" width={4} />}
            </Scatter>
          ))}
          <Tooltip
            cursor={{ stroke: 'var(--soft)' }}
            isAnimationActive={false}
            content={({ label }) => {
              const near = rows.find((row) => row.at === label && 'mark' in row);
              return near && 'mark' in near ? (
                <div className="chart-note">
                  {dayText(near.mark.day)}
                  {isByCycles && `, after ${Math.round(near.at)} cycles`}
                  <div className="num">
                    {names[near.mark.kind]}: {percent(near.mark.share)}
                  </div>
                </div>
              ) : null;
            }}
          />
        </ComposedChart>
      </ResponsiveContainer>
      <AsTable
        columns={['Day', 'Cycles', 'What', 'Share']}
        rows={all
          .toSorted((one, other) => other.at - one.at)
          .map(({ key, at, cycle, kind, share: fraction, u }) => ({
            key,
            odd: false,
            cells: [
              <When key="at" at={at} as="d MMM yyyy" />,
              cycle === null ? '–' : Math.round(cycle),
              names[kind],
              u === null ? percent(fraction) : `${(100 * fraction).toFixed(1)} ± ${(100 * u).toFixed(1)} %`,
            ],
          }))}
      />
    </figure>
  );
}
