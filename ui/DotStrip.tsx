'use client';

import { type Display, minus } from '@/core/quantity/format';
import type { Population } from '@/core/statistics/population';
import { OutlierMark } from './OutlierMark';
import {
  CartesianGrid,
  ReferenceArea,
  ReferenceLine,
  ResponsiveContainer,
  Scatter,
  ScatterChart,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';

interface DotStripProps {
  /** In SI. */
  points: { code: string; value: number; odd: boolean }[];
  /** The one read last. */
  now: string | null;
  as: Display;
  /** Where most lie; null while too few are there. */
  population: Pick<Population, 'median' | 'spread'> | null;
  /** Beyond these is odd. */
  limits: number[];
}

/** Each of a population as a dot by its figure; odd ones are diamonds. The height only keeps dots apart. */
export function DotStrip({ points, now, as: { unit, factor, decimals }, population, limits }: DotStripProps) {
  const dots = points.map((point, i) => ({ ...point, value: factor * point.value, lane: (i * 37) % 80 }));
  return (
    <ResponsiveContainer width="100%" height={150} minWidth={0}>
      <ScatterChart margin={{ top: 6, right: 34, bottom: 4, left: 12 }} accessibilityLayer={false}>
        <CartesianGrid horizontal={false} stroke="var(--rule)" />
        <XAxis
          type="number"
          dataKey="value"
          domain={['auto', 'auto']}
          unit={` ${unit}`}
          tick={{ className: 'axis' }}
          stroke="var(--soft)"
        />
        <YAxis type="number" dataKey="lane" domain={[-10, 90]} hide />
        {population && (
          <ReferenceArea
            x1={factor * (population.median - population.spread)}
            x2={factor * (population.median + population.spread)}
            fill="var(--sea-wash)"
            fillOpacity={1}
            ifOverflow="hidden"
          />
        )}
        {population && <ReferenceLine x={factor * population.median} stroke="var(--sea)" strokeWidth={2} />}
        {limits.map((limit) => (
          <ReferenceLine
            key={limit}
            x={factor * limit}
            stroke="var(--ember)"
            strokeDasharray="5 4"
            ifOverflow="extendDomain"
          />
        ))}
        <Tooltip
          cursor={false}
          isAnimationActive={false}
          content={({ payload }) => {
            const point = payload?.[0]?.payload as (typeof dots)[number] | undefined;
            return point ? (
              <div className="chart-note">
                <b className="num">{point.code}</b> {minus(point.value.toFixed(decimals))} {unit}
              </div>
            ) : null;
          }}
        />
        <Scatter
          data={dots}
          isAnimationActive={false}
          shape={(dot: { cx?: number; cy?: number; payload?: (typeof dots)[number] }) => {
            const { cx = 0, cy = 0, payload } = dot;
            if (!payload?.odd)
              return (
                <circle
                  cx={cx}
                  cy={cy}
                  r={payload?.code === now ? 8 : 5.5}
                  fill={payload?.code === now ? 'var(--ember)' : 'var(--ink)'}
                />
              );
            return <OutlierMark cx={cx} cy={cy} reach={10} name={payload.code} below={payload.lane % 2 === 1} />;
          }}
        />
      </ScatterChart>
    </ResponsiveContainer>
  );
}
