'use client';

import { formatDuration } from '@/core/quantity/format';
import type { CurvePoint } from '@/records/runs';
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
  points: CurvePoint[];
}

/**
 * Voltage over time with the cut-off, gaps, and from when to when it was counted; other runs of the cell dashed behind;
 * as a table for those who prefer it.
 */
export function DischargeChart({
  curves,
  shown,
  cutoffV,
  fromS,
  toS,
  gaps,
}: {
  curves: Curve[];
  shown: number;
  cutoffV: number;
  fromS: number;
  toS: number;
  gaps: { fromS: number; toS: number }[];
}) {
  const [asTable, setAsTable] = useState(false);
  const points = curves.find((curve) => curve.id === shown)?.points ?? [];
  const all = curves.flatMap((curve) => curve.points);
  const volts = ticksOver(
    Math.min(cutoffV, ...all.map((point) => point.voltageV)),
    Math.max(...all.map((point) => point.voltageV)),
    [0.05, 0.1, 0.2, 0.5, 1],
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
          <LineChart margin={{ top: 8, right: 30, bottom: 18, left: 0 }} accessibilityLayer={false}>
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
                    {formatDuration(Number(label))} · {Number(payload[0]?.value).toFixed(3)} V
                  </div>
                ) : null
              }
            />
            {curves.map((curve) => (
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

function PointTable({ points }: { points: CurvePoint[] }) {
  const every = Math.max(1, Math.floor(points.length / 60));
  return (
    <div style={{ maxHeight: 400, overflow: 'auto' }} tabIndex={0}>
      <table className="table">
        <thead>
          <tr>
            <th className="num">Time</th>
            <th className="num">V</th>
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
                <td className="num">{point.currentA?.toFixed(3) ?? '–'}</td>
                <td className="num">{point.temperatureC?.toFixed(1) ?? '–'}</td>
              </tr>
            ))}
        </tbody>
      </table>
    </div>
  );
}
