'use client';

import { AsTable } from '@/ui/AsTable';
import { endNames } from '@/ui/lineEnds';
import { AxisBelow, AxisBeside } from '@/ui/plotAxes';
import { When } from '@/ui/When';
import { tickText, ticksOver } from '@/ui/ticks';
import { groupName } from '@/words/packs';
import { format } from 'date-fns';
import { CartesianGrid, LineChart, ResponsiveContainer, Tooltip } from 'recharts';
import { GroupLine } from './GroupLine';

interface GroupsOverTimeProps {
  series: number;
  /** The oldest first; position 0 is from terminal to terminal. */
  times: { at: number; values: { position: number; value: number }[] }[];
  /** What the values are in. */
  unit: string;
  decimals: number;
  /** What is shown, in words. */
  caption: string;
  /** Groups on their way out. */
  failing: number[];
}

/** A figure of each group over time: measured under one protocol, or in one state. */
export function GroupsOverTime({ series, times, unit, decimals, caption, failing }: GroupsOverTimeProps) {
  const positions = [...new Set(times.flatMap(({ values }) => values.map(({ position }) => position)))].sort(
    (a, b) => a - b,
  );
  const rows = times.map(({ at, values }) => ({
    at,
    ...Object.fromEntries(values.map(({ position, value }) => [`g${position}`, value])),
  }));
  const all = times.flatMap(({ values }) => values.map(({ value }) => value));
  const ticks = ticksOver(Math.min(0, ...all), Math.max(0, ...all), [0.5, 1, 2, 5, 10, 20, 50, 100, 200]);
  const day = (at: number) => format(at, 'd MMM yyyy');
  const nameOf = (position: number) => {
    if (series === 1) return unit;
    return position === 0 ? 'whole' : groupName(position, series);
  };
  const last = times.at(-1)?.values ?? [];
  const names = endNames(
    last.map(({ position, value }) => ({ name: series > 1 ? nameOf(position) : '', value })),
    ((ticks.at(-1) ?? 1) - (ticks[0] ?? 0)) / 14,
  );
  return (
    <figure className="mt-3 mb-0" aria-label={caption}>
      <figcaption className="soft">{caption}</figcaption>
      <ResponsiveContainer width="100%" height={240} minWidth={0}>
        <LineChart data={rows} margin={{ top: 8, right: 96, bottom: 26, left: 10 }} accessibilityLayer={false}>
          <CartesianGrid stroke="var(--rule)" />
          <AxisBelow dataKey="at" label="" format={day} domain={['dataMin', 'dataMax']} />
          <AxisBeside label={unit} ticks={ticks} format={tickText} />
          {positions.map((position) => (
            <GroupLine
              key={position}
              position={position}
              isHot={failing.includes(position)}
              name={names[last.findIndex((end) => end.position === position)]}
              lastRow={rows.length - 1}
              dots
            />
          ))}
          <Tooltip
            cursor={{ stroke: 'var(--soft)' }}
            isAnimationActive={false}
            content={({ payload, label }) =>
              payload && payload.length > 0 ? (
                <div className="chart-note">
                  {day(Number(label))}
                  {payload.map((one) => (
                    <div key={String(one.dataKey)} className="num">
                      {nameOf(Number(String(one.dataKey).slice(1)))}: {Number(one.value).toFixed(decimals)} {unit}
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
        rows={times.toReversed().map(({ at, values }) => ({
          key: String(at),
          odd: false,
          cells: [
            <When key="at" at={at} as="d MMM yyyy" />,
            ...positions.map(
              (position) => values.find((one) => one.position === position)?.value.toFixed(decimals) ?? '–',
            ),
          ],
        }))}
      />
    </figure>
  );
}
