'use client';

import type { Crowd } from '@/core/statistics/crowd';
import { OddMark } from '@/ui/OddMark';
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

interface StripPoint {
  code: string;
  ohm: number;
  odd: boolean;
}

/** Every cell of the batch as a dot by its resistance; odd ones are diamonds. The height only keeps dots apart. */
export function BatchStrip({ points, now, crowd }: { points: StripPoint[]; now: string | null; crowd: Crowd | null }) {
  const dots = points.map((point, i) => ({ ...point, milliohm: point.ohm * 1000, lane: (i * 37) % 80 }));
  return (
    <ResponsiveContainer width="100%" height={150} minWidth={0}>
      <ScatterChart margin={{ top: 6, right: 34, bottom: 4, left: 12 }} accessibilityLayer={false}>
        <CartesianGrid horizontal={false} stroke="var(--rule)" />
        <XAxis
          type="number"
          dataKey="milliohm"
          domain={['auto', 'auto']}
          unit=" mΩ"
          tick={{ className: 'axis' }}
          stroke="var(--soft)"
        />
        <YAxis type="number" dataKey="lane" domain={[-10, 90]} hide />
        {crowd && (
          <ReferenceArea
            x1={(crowd.median - crowd.spread) * 1000}
            x2={(crowd.median + crowd.spread) * 1000}
            fill="var(--sea-wash)"
            fillOpacity={1}
            ifOverflow="hidden"
          />
        )}
        {crowd && <ReferenceLine x={crowd.median * 1000} stroke="var(--sea)" strokeWidth={2} />}
        {crowd && (
          <ReferenceLine x={crowd.high * 1000} stroke="var(--ember)" strokeDasharray="5 4" ifOverflow="hidden" />
        )}
        <Tooltip
          cursor={false}
          isAnimationActive={false}
          content={({ payload }) => {
            const point = payload?.[0]?.payload as (typeof dots)[number] | undefined;
            return point ? (
              <div className="chart-note">
                <b className="num">{point.code}</b> {point.milliohm.toFixed(1)} mΩ
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
            return <OddMark cx={cx} cy={cy} reach={10} name={payload.code} below={payload.lane % 2 === 1} />;
          }}
        />
      </ScatterChart>
    </ResponsiveContainer>
  );
}
