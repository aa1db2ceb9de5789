'use client';

import { decimalsOfStep } from '@/core/quantity/format';
import { AsTable } from '@/ui/AsTable';
import { AxisBelow, AxisBeside } from '@/ui/plotAxes';
import { OutlierMark } from '@/ui/OutlierMark';
import { ticksOver } from '@/ui/ticks';
import { Area, CartesianGrid, ComposedChart, Line, ResponsiveContainer, Scatter, Tooltip } from 'recharts';
import type { Predicted, Prediction } from '@/core/judging/predict';

const tickSteps = [0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20];

interface PredictPlotProps {
  cells: Predicted[];
  band: Prediction['band'];
  outside: string[];
  label: string;
  decimals: number;
  /** What the resistance is, with its unit. */
  below: string;
}

/** What cells delivered over their resistance, a dot a cell, with the line and its prediction band. */
export function PredictPlot({ cells, band, outside, label, decimals, below }: PredictPlotProps) {
  const dots = cells.map((cell) => ({ ...cell, milliohm: cell.ohm * 1000, outside: outside.includes(cell.code) }));
  const line = band.map((point) => ({
    milliohm: point.ohm * 1000,
    fitted: point.value,
    range: [point.low, point.high],
  }));
  const values = [...dots.map((dot) => dot.value), ...line.flatMap((point) => point.range)];
  const ticks = ticksOver(Math.min(...values), Math.max(...values), tickSteps);
  return (
    <>
      <ResponsiveContainer width="100%" height={360} minWidth={0}>
        <ComposedChart data={line} margin={{ top: 10, right: 20, bottom: 26, left: 10 }} accessibilityLayer={false}>
          <CartesianGrid stroke="var(--rule)" />
          <AxisBelow dataKey="milliohm" label={below} />
          <AxisBeside
            label={label}
            ticks={ticks}
            format={(value) => value.toFixed(decimalsOfStep((ticks[1] ?? 1) - (ticks[0] ?? 0)))}
          />
          <Area
            dataKey="range"
            stroke="none"
            fill="var(--sea-wash)"
            fillOpacity={1}
            isAnimationActive={false}
            activeDot={false}
          />
          <Line
            dataKey="fitted"
            stroke="var(--sea)"
            strokeWidth={2}
            dot={false}
            activeDot={false}
            isAnimationActive={false}
          />
          <Scatter
            data={dots}
            dataKey="value"
            isAnimationActive={false}
            shape={({ cx = 0, cy = 0, payload }: { cx?: number; cy?: number; payload?: (typeof dots)[number] }) => (
              <g>
                <title>
                  {`${payload?.code ?? ''}: ${payload?.milliohm.toFixed(1) ?? ''} mΩ, ` +
                    `${payload?.value.toFixed(decimals) ?? ''}`}
                </title>
                {payload?.outside ? (
                  <OutlierMark cx={cx} cy={cy} reach={8} name={payload.code} />
                ) : (
                  <circle cx={cx} cy={cy} r={4.5} fill="var(--ink)" />
                )}
              </g>
            )}
          />
          <Tooltip content={() => null} cursor={false} />
        </ComposedChart>
      </ResponsiveContainer>
      <AsTable
        columns={['Cell', 'mΩ', label]}
        rows={dots.map((dot) => ({
          key: dot.code,
          odd: dot.outside,
          cells: [dot.code, dot.milliohm.toFixed(1), dot.value.toFixed(decimals)],
        }))}
      />
    </>
  );
}
