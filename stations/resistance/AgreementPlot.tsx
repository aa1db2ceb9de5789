'use client';

import { minus } from '@/core/quantity/format';
import { OddMark } from '@/ui/OddMark';
import { ticksOver, tickText } from '@/ui/ticks';
import { type Agreement, isApart } from '@/core/resistance/agreement';
import {
  CartesianGrid,
  Label,
  ReferenceLine,
  ResponsiveContainer,
  Scatter,
  ScatterChart,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import type { CellPair } from '@/core/judging/compareProtocols';

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
  pairs: CellPair[];
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
  const [middle, ...limits] = growing
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
          <XAxis
            type="number"
            dataKey="mean"
            domain={['auto', 'auto']}
            tick={{ className: 'axis' }}
            stroke="var(--soft)"
          >
            <Label value="mean of both, mΩ" position="bottom" className="axis" />
          </XAxis>
          <YAxis
            type="number"
            dataKey="shown"
            domain={[ticks[0] ?? -1, ticks.at(-1) ?? 1]}
            ticks={ticks}
            tickFormatter={tickText}
            tick={{ className: 'axis' }}
            stroke="var(--soft)"
            width={56}
          >
            <Label
              value={growing ? 'second over first' : 'first − second, mΩ'}
              angle={-90}
              position="insideLeft"
              className="axis"
              style={{ textAnchor: 'middle' }}
            />
          </YAxis>
          <ReferenceLine
            y={middle ?? 0}
            stroke="var(--sea)"
            strokeWidth={2}
            label={{ value: text(middle ?? 0), position: 'right', className: 'axis' }}
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
                <OddMark cx={cx} cy={cy} reach={8} name={payload.code} />
              ) : (
                <circle cx={cx} cy={cy} r={5} fill="var(--ink)" />
              )
            }
          />
        </ScatterChart>
      </ResponsiveContainer>
      <details>
        <summary>As a table</summary>
        <div className="table-scroll" tabIndex={0}>
          <table className="table">
            <thead>
              <tr>
                <th>Cell</th>
                <th className="num">{first}, mΩ</th>
                <th className="num">{second}, mΩ</th>
                <th className="num">Difference</th>
                <th className="num">Ratio</th>
              </tr>
            </thead>
            <tbody>
              {dots.map((dot) => (
                <tr key={dot.code} className={dot.outside ? 'odd-one' : ''}>
                  <td className="num">{dot.code}</td>
                  <td className="num">{(dot.first * 1000).toFixed(1)}</td>
                  <td className="num">{(dot.second * 1000).toFixed(1)}</td>
                  <td className="num">{minus(dot.difference.toFixed(1))}</td>
                  <td className="num">{(dot.second / dot.first).toFixed(2)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </details>
    </>
  );
}
