'use client';

import { minus } from '@/core/quantity/format';
import { AsTable } from '@/ui/AsTable';
import { AxisBelow, AxisBeside } from '@/ui/plotAxes';
import { OutlierMark } from '@/ui/OutlierMark';
import { ticksOver, tickText } from '@/ui/ticks';
import { type Agreement, isApart } from '@/core/resistance/agreement';
import { CartesianGrid, ReferenceLine, ResponsiveContainer, Scatter, ScatterChart, Tooltip } from 'recharts';
import type { CodedPair } from '@/core/judging/compareProtocols';

/**
 * Difference against mean of two methods, a dot a cell, with bias and limits; the ratio where differences grow. Source:
 * Bland and Altman 1986.
 */
export function AgreementPlot({
  pairs,
  agreement,
  first,
  second,
}: {
  pairs: CodedPair[];
  agreement: Agreement;
  first: string;
  second: string;
}) {
  const { growing, ratio } = agreement;
  const dots = pairs.map((pair) => {
    const difference = (pair.first - pair.second) * 1000;
    return {
      ...pair,
      mean: (pair.first + pair.second) * 500,
      difference,
      shown: growing ? pair.second / pair.first : difference,
      outside: isApart(pair, agreement),
    };
  });
  const [mid, ...limits] = growing
    ? [ratio, agreement.ratioLow, agreement.ratioHigh]
    : [agreement.bias.value * 1000, agreement.low * 1000, agreement.high * 1000];
  const text = (value: number): string => minus(value.toFixed(growing ? 2 : 1));
  const shown = [...limits, ...dots.map((dot) => dot.shown)];
  const ticks = ticksOver(
    Math.min(...shown),
    Math.max(...shown),
    [0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200],
  );
  return (
    <>
      <ResponsiveContainer width="100%" height={320} minWidth={0}>
        <ScatterChart margin={{ top: 10, right: 70, bottom: 26, left: 14 }} accessibilityLayer={false}>
          <CartesianGrid stroke="var(--rule)" />
          <AxisBelow dataKey="mean" label="mean of both, mΩ" />
          <AxisBeside
            dataKey="shown"
            label={growing ? 'second over first' : 'first − second, mΩ'}
            ticks={ticks}
            format={tickText}
          />
          <ReferenceLine
            y={mid ?? 0}
            stroke="var(--sea)"
            strokeWidth={2}
            label={{ value: text(mid ?? 0), position: 'right', className: 'axis' }}
          />
          {limits.map((limit) => (
            <ReferenceLine
              key={limit}
              y={limit}
              stroke="var(--ember)"
              strokeDasharray="5 4"
              label={{ value: text(limit), position: 'right', className: 'axis' }}
            />
          ))}
          <Tooltip
            cursor={false}
            isAnimationActive={false}
            content={({ payload }) => {
              const dot = payload?.[0]?.payload as (typeof dots)[number] | undefined;
              return dot ? (
                <div className="chart-note">
                  <b className="num">{dot.code}</b> {(dot.first * 1000).toFixed(1)} and {(dot.second * 1000).toFixed(1)}{' '}
                  mΩ
                </div>
              ) : null;
            }}
          />
          <Scatter
            data={dots}
            isAnimationActive={false}
            shape={({ cx = 0, cy = 0, payload }: { cx?: number; cy?: number; payload?: (typeof dots)[number] }) =>
              payload?.outside ? (
                <OutlierMark cx={cx} cy={cy} reach={8} name={payload.code} />
              ) : (
                <circle cx={cx} cy={cy} r={5} fill="var(--ink)" />
              )
            }
          />
        </ScatterChart>
      </ResponsiveContainer>
      <AsTable
        columns={['Cell', `${first}, mΩ`, `${second}, mΩ`, 'Difference', 'Ratio']}
        rows={dots.map((dot) => ({
          key: dot.code,
          odd: dot.outside,
          cells: [
            dot.code,
            (dot.first * 1000).toFixed(1),
            (dot.second * 1000).toFixed(1),
            minus(dot.difference.toFixed(1)),
            (dot.second / dot.first).toFixed(2),
          ],
        }))}
      />
    </>
  );
}
