'use client';

import { AsTable } from '@/ui/AsTable';
import { AxisBelow, AxisBeside } from '@/ui/plotAxes';
import { When } from '@/ui/When';
import { ticksOver } from '@/ui/ticks';
import { groupName } from '@/words/packs';
import { format } from 'date-fns';
import { CartesianGrid, Line, LineChart, ResponsiveContainer, Tooltip } from 'recharts';

interface ResistanceOverTimeProps {
  series: number;
  /** The oldest first; position 0 is from terminal to terminal. */
  times: { at: number; milliohms: { position: number; milliohm: number }[] }[];
  /** Groups on their way out. */
  failing: number[];
}

const dashes = ['', '7 3', '2 3', '10 3 2 3'];

/** Each group's resistance over time, as told under one protocol. */
export function ResistanceOverTime({ series, times, failing }: ResistanceOverTimeProps) {
  const positions = [...new Set(times.flatMap(({ milliohms }) => milliohms.map(({ position }) => position)))].sort(
    (a, b) => a - b,
  );
  const rows = times.map(({ at, milliohms }) => ({
    at,
    ...Object.fromEntries(milliohms.map(({ position, milliohm }) => [`g${position}`, milliohm])),
  }));
  const values = times.flatMap(({ milliohms }) => milliohms.map(({ milliohm }) => milliohm));
  const ticks = ticksOver(0, Math.max(...values), [0.5, 1, 2, 5, 10, 20, 50, 100, 200]);
  /** Lines that end beside each other are named together, at the first of them. */
  const labelOf = (position: number): string => {
    const last = times.at(-1)?.milliohms ?? [];
    const endOf = (one: number) => last.find((at) => at.position === one)?.milliohm ?? NaN;
    const reach = (ticks.at(-1) ?? 1) / 14;
    const beside = positions.filter((one) => Math.abs(endOf(one) - endOf(position)) < reach);
    if (beside[0] !== position) return '';
    return beside.length > 4 ? `${beside.length} groups` : beside.map(nameOf).join(', ');
  };
  const day = (at: number) => format(at, 'd MMM yyyy');
  const nameOf = (position: number) => (position === 0 ? 'whole' : groupName(position, series));
  return (
    <figure className="mt-3 mb-0" aria-label="Resistance over time">
      <figcaption className="soft">Over time, group by group, as read under this protocol</figcaption>
      <ResponsiveContainer width="100%" height={240} minWidth={0}>
        <LineChart data={rows} margin={{ top: 8, right: 96, bottom: 26, left: 10 }} accessibilityLayer={false}>
          <CartesianGrid stroke="var(--rule)" />
          <AxisBelow dataKey="at" label="" format={day} domain={['dataMin', 'dataMax']} />
          <AxisBeside label="mΩ" ticks={ticks} format={(value) => String(value)} />
          {positions.map((position) => {
            const isFailing = failing.includes(position);
            return (
              <Line
                key={position}
                dataKey={`g${position}`}
                connectNulls
                stroke={isFailing ? 'var(--ember)' : 'var(--ink)'}
                strokeWidth={isFailing ? 3 : 1.8}
                strokeDasharray={dashes[position % dashes.length]}
                dot={{ r: 3, strokeDasharray: '' }}
                activeDot={false}
                isAnimationActive={false}
                label={({ x, y, index }: { x?: number | string; y?: number | string; index?: number }) =>
                  index === rows.length - 1 ? (
                    <text x={Number(x) + 8} y={Number(y) + 5} className="axis" style={{ fontWeight: 700 }}>
                      {labelOf(position)}
                    </text>
                  ) : (
                    <g />
                  )
                }
              />
            );
          })}
          <Tooltip
            cursor={{ stroke: 'var(--soft)' }}
            isAnimationActive={false}
            content={({ payload, label }) =>
              payload && payload.length > 0 ? (
                <div className="chart-note">
                  {day(Number(label))}
                  {payload.map((one) => (
                    <div key={String(one.dataKey)} className="num">
                      {nameOf(Number(String(one.dataKey).slice(1)))}: {Number(one.value).toFixed(1)} mΩ
                    </div>
                  ))}
                </div>
              ) : null
            }
          />
        </LineChart>
      </ResponsiveContainer>
      <AsTable
        columns={['Read', ...positions.map(nameOf)]}
        rows={times.toReversed().map(({ at, milliohms }) => ({
          key: String(at),
          odd: false,
          cells: [
            <When key="at" at={at} as="d MMM yyyy" />,
            ...positions.map(
              (position) => milliohms.find((one) => one.position === position)?.milliohm.toFixed(1) ?? '–',
            ),
          ],
        }))}
      />
    </figure>
  );
}
