'use client';

import { formatDuration } from '@/core/quantity/format';
import type { Sample } from '@/core/capacity/logReader';
import { dashes, endNames } from '@/ui/lineEnds';
import { ticksOver } from '@/ui/ticks';
import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import {
  CartesianGrid,
  Line,
  LineChart,
  ReferenceArea,
  ReferenceLine,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';

interface Curve {
  id: number;
  points: Sample[];
}

interface DischargeChartProps {
  curves: Curve[];
  shown: number;
  cutoffV: number;
  /** Of a pack whose groups were logged: of each, whether it ended the discharge. */
  groups: boolean[] | null;
  fromS: number;
  toS: number;
  gaps: { fromS: number; toS: number }[];
}

/**
 * Voltage over time, of each group where they were logged, with the cut-off, gaps, and the span that was counted;
 * other runs dashed behind; as a table for those who prefer it.
 */
export function DischargeChart({ curves: given, shown, cutoffV, groups, fromS, toS, gaps }: DischargeChartProps) {
  const [asTable, setAsTable] = useState(false);
  const points = given.find((curve) => curve.id === shown)?.points ?? [];
  // Groups against each other: other runs would hide them.
  const curves = groups ? given.filter((curve) => curve.id === shown) : given;
  const all = curves.flatMap((curve) => curve.points);
  const drawnV = all.flatMap((point) => (groups ? (point.groupsV ?? []) : [point.voltageV]));
  const volts = ticksOver(Math.min(cutoffV, ...drawnV), Math.max(...drawnV), [0.05, 0.1, 0.2, 0.5, 1]);
  const names = endNames(
    (points.at(-1)?.groupsV ?? []).map((value, i) => ({ name: String(i + 1), value })),
    ((volts.at(-1) ?? 5) - (volts[0] ?? 0)) / 25,
  );
  const lastS = Math.max(...all.map((point) => point.timeS));
  const times = ticksOver(0, lastS, [60, 300, 600, 1800, 3600, 7200, 14_400]).filter((time) => time <= lastS);
  return (
    <>
      <div className="d-flex justify-content-between">
        <h2>Volts over time</h2>
        <Button variant="quiet" onClick={() => setAsTable(!asTable)}>
          {asTable ? 'As a curve' : 'As a table'}
        </Button>
      </div>
      {asTable ? (
        <PointTable points={points} />
      ) : (
        <ResponsiveContainer width="100%" height={400} minWidth={0}>
          <LineChart margin={{ top: 8, right: groups ? 60 : 30, bottom: 18, left: 0 }} accessibilityLayer={false}>
            <CartesianGrid stroke="var(--rule)" />
            <XAxis
              type="number"
              dataKey="timeS"
              domain={[0, 'dataMax']}
              ticks={times}
              tickFormatter={(s: number) => formatDuration(s).slice(0, -3)}
              tick={{ className: 'axis' }}
              stroke="var(--soft)"
              label={{ value: 'hours : minutes', position: 'insideBottomRight', offset: -12, className: 'axis' }}
            />
            <YAxis
              domain={[volts[0] ?? 0, volts.at(-1) ?? 5]}
              ticks={volts}
              tickFormatter={(v: number) => v.toFixed(2)}
              tick={{ className: 'axis' }}
              stroke="var(--soft)"
              width={58}
              label={{ value: 'V', position: 'insideTopLeft', className: 'axis' }}
            />
            {gaps.map((gap) => (
              <ReferenceArea key={gap.fromS} x1={gap.fromS} x2={gap.toS} fill="var(--ember-wash)" fillOpacity={1} />
            ))}
            <ReferenceLine
              y={cutoffV}
              stroke="var(--ember)"
              strokeDasharray="5 4"
              label={{ value: `cut-off ${cutoffV} V`, position: 'insideBottomLeft', className: 'axis' }}
              ifOverflow="extendDomain"
            />
            {fromS > 0 && <ReferenceLine x={fromS} stroke="var(--ember)" strokeDasharray="5 4" />}
            <ReferenceLine x={toS} stroke="var(--ember)" strokeDasharray="5 4" />
            <Tooltip
              isAnimationActive={false}
              content={({ payload, label }) =>
                payload?.length ? (
                  <div className="chart-note num">
                    {formatDuration(Number(label))} · {payload.map(({ value }) => Number(value).toFixed(3)).join(' ')} V
                  </div>
                ) : null
              }
            />
            {groups?.map((isFirst, i) => (
              <Line
                key={`group ${i + 1}`}
                data={points}
                dataKey={({ groupsV }: Sample) => groupsV?.[i]}
                name={`group ${i + 1}`}
                dot={false}
                isAnimationActive={false}
                stroke={isFirst ? 'var(--sea)' : 'var(--soft)'}
                strokeWidth={isFirst ? 2.5 : 1.2}
                strokeDasharray={isFirst ? '' : dashes[1 + (i % (dashes.length - 1))]}
                label={({ x, y, index }) =>
                  index === points.length - 1 ? (
                    <text x={Number(x) + 4} y={Number(y) + 4} className="axis" fontWeight={isFirst ? 700 : 400}>
                      {names[i]}
                    </text>
                  ) : (
                    <></>
                  )
                }
              />
            ))}
            {(groups ? [] : curves).map((curve) => (
              <Line
                key={curve.id}
                data={curve.points}
                dataKey="voltageV"
                dot={false}
                isAnimationActive={false}
                stroke={curve.id === shown ? 'var(--sea)' : 'var(--soft)'}
                strokeWidth={curve.id === shown ? 2.5 : 1.2}
                {...(curve.id === shown ? {} : { strokeDasharray: '4 4' })}
              />
            ))}
          </LineChart>
        </ResponsiveContainer>
      )}
    </>
  );
}

function PointTable({ points }: { points: Sample[] }) {
  const every = Math.max(1, Math.floor(points.length / 60));
  return (
    <div style={{ maxHeight: 400, overflow: 'auto' }} tabIndex={0}>
      <table className="table">
        <thead>
          <tr>
            <th className="num">Time</th>
            <th className="num">V</th>
            {points[0]?.groupsV?.map((_, i) => (
              <th key={i} className="num">
                {i + 1}, V
              </th>
            ))}
            <th className="num">A</th>
            <th className="num">°C</th>
          </tr>
        </thead>
        <tbody>
          {points
            .filter((_, i) => i % every === 0)
            .map((point) => (
              <tr key={point.timeS}>
                <td className="num">{formatDuration(point.timeS)}</td>
                <td className="num">{point.voltageV.toFixed(3)}</td>
                {point.groupsV?.map((v, i) => (
                  <td key={i} className="num">
                    {v.toFixed(3)}
                  </td>
                ))}
                <td className="num">{point.currentA?.toFixed(3) ?? '–'}</td>
                <td className="num">{point.temperatureC?.toFixed(1) ?? '–'}</td>
              </tr>
            ))}
        </tbody>
      </table>
    </div>
  );
}
