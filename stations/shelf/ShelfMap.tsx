'use client';

import type { HouseRules } from '@/core/chemistry/houseRules';
import type { Duty } from '@/core/grading/duty';
import { ticksOver } from '@/ui/ticks';
import { dutyColours, dutyNames, DutyShape } from '@/ui/DutyMark';
import { useRouter, useSearchParams } from 'next/navigation';
import {
  CartesianGrid,
  ComposedChart,
  Line,
  ReferenceLine,
  ResponsiveContainer,
  Scatter,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';

export interface MapPoint {
  code: string;
  ah: number;
  milliohm: number;
  duty: Duty | null;
  /** How many cells it stands for. */
  count: number;
}

interface ShelfMapProps {
  cells: MapPoint[];
  rated: number;
  nominalV: number;
  limits: HouseRules;
  chosen: string | null;
}

const borders = [
  { duty: 'surge', health: 'surgeHealth', rate: 'surgeCRate' },
  { duty: 'steady', health: 'steadyHealth', rate: 'steadyCRate' },
  { duty: 'trickle', health: 'trickleHealth', rate: 'trickleCRate' },
] as const;

/**
 * Capacity against resistance with the duty borders drawn in: strong cells at the upper right. A click opens a cell.
 */
export function ShelfMap({ cells, rated, nominalV, limits, chosen }: ShelfMapProps) {
  const router = useRouter();
  const parameters = useSearchParams();
  const open = (code: string) =>
    router.push(`/shelf?${new URLSearchParams({ ...Object.fromEntries(parameters), cell: code })}`, { scroll: false });
  const capacities = cells.map((cell) => cell.ah);
  const [least, most] = [
    Math.min(...capacities, limits.trickleHealth * rated) * 0.97,
    Math.max(...capacities, rated) * 1.02,
  ];
  const tallest = Math.max(...cells.map((cell) => cell.milliohm)) * 1.08;

  /** The resistance at which a capacity just reaches a duty's rate, from the capacity that its health asks for. */
  const borderOf = (health: number, rateC: number) =>
    Array.from({ length: 41 }, (_, i) => health * rated + ((most - health * rated) * i) / 40).map((ah) => ({
      ah,
      border: Math.min(tallest, (1000 * limits.sagShare * nominalV) / (rateC * ah)),
    }));

  return (
    <>
      <ResponsiveContainer width="100%" height={500} minWidth={0}>
        <ComposedChart margin={{ top: 10, right: 14, bottom: 22, left: 6 }} accessibilityLayer={false}>
          <CartesianGrid stroke="var(--rule)" />
          <XAxis
            type="number"
            dataKey="ah"
            domain={[least, most]}
            ticks={ticksOver(least, most, [0.05, 0.1, 0.2, 0.5, 1, 2]).filter((tick) => tick >= least && tick <= most)}
            tickFormatter={(v: number) => v.toFixed(1)}
            tick={{ className: 'axis' }}
            stroke="var(--soft)"
            allowDataOverflow
            label={{ value: 'capacity, Ah', position: 'insideBottomRight', offset: -14, className: 'axis' }}
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
              value: 'mΩ, worse below',
              angle: -90,
              position: 'insideBottomLeft',
              className: 'axis',
              offset: 14,
            }}
          />
          {borders.map(({ duty, health, rate }) => (
            <Line
              key={duty}
              data={borderOf(limits[health], limits[rate])}
              dataKey="border"
              dot={false}
              activeDot={false}
              isAnimationActive={false}
              stroke={dutyColours[duty]}
              strokeWidth={2}
              tooltipType="none"
            />
          ))}
          {borders.map(({ duty, health, rate }) => (
            <ReferenceLine
              key={duty}
              segment={[
                { x: limits[health] * rated, y: 0 },
                {
                  x: limits[health] * rated,
                  y: Math.min(tallest, (1000 * limits.sagShare * nominalV) / (limits[rate] * limits[health] * rated)),
                },
              ]}
              stroke={dutyColours[duty]}
              strokeWidth={2}
              label={{
                value: dutyNames[duty],
                position: 'insideTopLeft',
                className: 'axis',
                style: { fill: dutyColours[duty], fontWeight: 700 },
              }}
            />
          ))}
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
                  {(point.count ?? 1) > 1 && ` and ${(point.count ?? 1) - 1} more`} · {point.ah?.toFixed(2)} Ah ·{' '}
                  {point.milliohm?.toFixed(1)} mΩ
                  {point.duty && ` · ${dutyNames[point.duty]}`}
                </div>
              ) : null;
            }}
          />
          <Scatter
            data={cells}
            dataKey="milliohm"
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
                </g>
              );
            }}
          />
        </ComposedChart>
      </ResponsiveContainer>
    </>
  );
}
