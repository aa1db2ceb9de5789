'use client';

import type { HouseRules } from '@/core/chemistry/houseRules';
import type { Duty } from '@/core/grading/duty';
import { ticksOver } from '@/ui/ticks';
import { dutyColours, DutyShape } from '@/ui/DutyMark';
import { dutyNames } from '@/words/duty';
import { useRouter, useSearchParams } from 'next/navigation';
import {
  CartesianGrid,
  ComposedChart,
  ReferenceLine,
  ResponsiveContainer,
  Scatter,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';

export interface MapPoint {
  code: string;
  isPack: boolean;
  /** Share of what it held when new. */
  health: number;
  /** Ten-second resistance of a cell, or of a pack's weakest group, times the capacity. */
  milliohmAh: number;
  duty: Duty | null;
  /** How many cells it is drawn for. */
  count: number;
}

interface ShelfMapProps {
  points: MapPoint[];
  nominalV: number;
  limits: HouseRules;
  chosen: string | null;
}

const borders = [
  { duty: 'surge', health: 'surgeHealth', rate: 'surgeCRate' },
  { duty: 'steady', health: 'steadyHealth', rate: 'steadyCRate' },
  { duty: 'light', health: 'lightHealth', rate: 'lightCRate' },
] as const;

/**
 * Health against resistance made comparable across sizes, cells and packs alike, with the duty borders drawn in: strong
 * ones at the upper right. A click opens one.
 */
export function ShelfMap({ points, nominalV, limits, chosen }: ShelfMapProps) {
  const router = useRouter();
  const parameters = useSearchParams();
  const open = (code: string) =>
    router.push(`/shelf?${new URLSearchParams({ ...Object.fromEntries(parameters), cell: code })}`, { scroll: false });
  const healths = points.map(({ health }) => health);
  const [least, most] = [
    Math.min(...healths, limits.lightHealth) - 0.02,
    Math.max(...healths, limits.surgeHealth + 0.1) + 0.02,
  ];
  /** Beyond it a name is on the left of its point, so that none is cut off. */
  const nearEdge = least + 0.85 * (most - least);
  /** At which mΩ·Ah a duty's rate is just reached. */
  const borderOf = (rateC: number) => (1000 * limits.sagShare * nominalV) / rateC;
  const tallest = Math.max(borderOf(limits.surgeCRate), ...points.map(({ milliohmAh }) => milliohmAh)) * 1.08;

  return (
    <>
      <ResponsiveContainer width="100%" height={500} minWidth={0}>
        <ComposedChart margin={{ top: 10, right: 14, bottom: 22, left: 6 }} accessibilityLayer={false}>
          <CartesianGrid stroke="var(--rule)" />
          <XAxis
            type="number"
            dataKey="health"
            domain={[least, most]}
            ticks={ticksOver(least, most, [0.05, 0.1, 0.2]).filter((tick) => tick >= least && tick <= most)}
            tickFormatter={(v: number) => `${Math.round(100 * v)} %`}
            tick={{ className: 'axis' }}
            stroke="var(--soft)"
            allowDataOverflow
            label={{ value: 'health', position: 'insideBottomRight', offset: -14, className: 'axis' }}
          />
          <YAxis
            type="number"
            domain={[0, tallest]}
            ticks={ticksOver(0, tallest, [5, 10, 20, 50, 100, 200]).filter((tick) => tick <= tallest)}
            reversed
            tickFormatter={(v: number) => v.toFixed(0)}
            tick={{ className: 'axis' }}
            stroke="var(--soft)"
            width={54}
            label={{
              value: 'mΩ·Ah, worse below',
              angle: -90,
              position: 'insideBottomLeft',
              className: 'axis',
              offset: 14,
            }}
          />
          {borders.map(({ duty, health, rate }) => {
            const corner = { x: limits[health], y: Math.min(tallest, borderOf(limits[rate])) };
            const line = { stroke: dutyColours[duty], strokeWidth: 2 };
            return [
              <ReferenceLine
                key={`${duty} health`}
                segment={[{ x: corner.x, y: 0 }, corner]}
                {...line}
                label={{
                  value: dutyNames[duty],
                  position: 'insideTopLeft',
                  className: 'axis',
                  style: { fill: dutyColours[duty], fontWeight: 700 },
                }}
              />,
              corner.y < tallest && (
                <ReferenceLine key={`${duty} rate`} segment={[corner, { x: most, y: corner.y }]} {...line} />
              ),
            ];
          })}
          <Tooltip
            cursor={false}
            isAnimationActive={false}
            content={({ payload }) => {
              const point = payload
                ?.map((entry) => entry.payload as Partial<MapPoint>)
                .find((one) => one.code !== undefined);
              return point ? (
                <div className="chart-note num">
                  <b>{point.code}</b>
                  {(point.count ?? 1) > 1 && ` and ${(point.count ?? 1) - 1} more`} ·{' '}
                  {(100 * (point.health ?? 0)).toFixed(0)} % · {point.milliohmAh?.toFixed(0)} mΩ·Ah
                  {point.duty && ` · ${dutyNames[point.duty]}`}
                </div>
              ) : null;
            }}
          />
          <Scatter
            data={points}
            dataKey="milliohmAh"
            isAnimationActive={false}
            onClick={(point: { payload?: MapPoint }) => point.payload && open(point.payload.code)}
            shape={(dot: { cx?: number; cy?: number; payload?: MapPoint }) => {
              const { cx = 0, cy = 0, payload } = dot;
              return (
                <g opacity={0.85} style={{ cursor: 'pointer' }}>
                  {payload?.code === chosen && (
                    <circle cx={cx} cy={cy} r={13} fill="none" stroke="var(--ember)" strokeWidth={3} />
                  )}
                  <DutyShape
                    duty={payload?.duty ?? null}
                    x={cx}
                    y={cy}
                    size={5.5 + Math.min(6, Math.log2(payload?.count ?? 1))}
                  />
                  {payload?.isPack && (
                    <>
                      <rect x={cx - 9} y={cy - 9} width={18} height={18} fill="none" stroke="var(--ink)" />
                      <text
                        x={payload.health > nearEdge ? cx - 13 : cx + 13}
                        y={cy + 4}
                        textAnchor={payload.health > nearEdge ? 'end' : 'start'}
                        className="axis"
                        style={{ fill: 'var(--ink)', fontWeight: 700 }}
                      >
                        {payload.code}
                      </text>
                    </>
                  )}
                </g>
              );
            }}
          />
        </ComposedChart>
      </ResponsiveContainer>
      {points.some(({ isPack }) => isPack) && (
        <p className="soft mb-0">In a frame: a pack, by its weakest group. Cells and packs of any size compare here.</p>
      )}
    </>
  );
}
