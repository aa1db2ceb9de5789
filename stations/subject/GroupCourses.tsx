'use client';

import type { VoltageTrace } from '@/core/simulation/voltageTrace';
import { AsTable } from '@/ui/AsTable';
import { endNames } from '@/ui/lineEnds';
import { AxisBelow, AxisBeside } from '@/ui/plotAxes';
import { tickText, ticksOver, ticksWithin } from '@/ui/ticks';
import { CartesianGrid, LineChart, ResponsiveContainer, Tooltip } from 'recharts';
import { GroupLine } from './GroupLine';

interface GroupCoursesProps {
  course: VoltageTrace;
  /** Groups that it is about, from the negative terminal. */
  hot: readonly number[];
  caption: string;
}

/** Rows of its table. */
const rowsShown = 24;

/** Predicted voltages of all groups. */
export function GroupCourses({ course: { atS, groupsV }, hot, caption }: GroupCoursesProps) {
  if (atS.length < 2) return null;
  const rows = atS.map((t, k) => ({
    hours: t / 3600,
    ...Object.fromEntries(groupsV.map((own, i) => [`g${i + 1}`, own[k]])),
  }));
  const all = groupsV.flat();
  const ticks = ticksOver(Math.min(...all), Math.max(...all), [0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5]);
  const names = endNames(
    groupsV.map((own, i) => ({ name: String(i + 1), value: own.at(-1) ?? 0 })),
    ((ticks.at(-1) ?? 5) - (ticks[0] ?? 0)) / 14,
  );
  const hours = ticksWithin(0, (atS.at(-1) ?? 0) / 3600, [0.1, 0.2, 0.5, 1, 2, 5, 10, 20]);
  const every = Math.max(1, Math.ceil(rows.length / rowsShown));
  return (
    <figure className="mb-0" aria-label={caption}>
      <figcaption className="soft">{caption}</figcaption>
      <ResponsiveContainer width="100%" height={260} minWidth={0}>
        <LineChart data={rows} margin={{ top: 8, right: 96, bottom: 26, left: 10 }} accessibilityLayer={false}>
          <CartesianGrid stroke="var(--rule)" />
          <AxisBelow dataKey="hours" label="hours" format={tickText} domain={[0, 'dataMax']} ticks={hours} />
          <AxisBeside label="volts" ticks={ticks} format={(v) => v.toFixed(2)} />
          {groupsV.map((_, i) => (
            <GroupLine
              key={i}
              position={i + 1}
              isHot={hot.includes(i + 1)}
              name={names[i]}
              lastRow={rows.length - 1}
              dots={false}
            />
          ))}
          <Tooltip
            cursor={{ stroke: 'var(--soft)' }}
            isAnimationActive={false}
            content={({ payload, label }) =>
              payload && payload.length > 0 ? (
                <div className="chart-note">
                  after {Number(label).toFixed(1)} h
                  {payload.map((one) => (
                    <div key={String(one.dataKey)} className="num">
                      {String(one.dataKey).slice(1)}: {Number(one.value).toFixed(3)} V
                    </div>
                  ))}
                </div>
              ) : null
            }
          />
        </LineChart>
      </ResponsiveContainer>
      <AsTable
        columns={['hours', ...groupsV.map((_, i) => String(i + 1))]}
        rows={atS.flatMap((t, k) =>
          k % every === 0 || k === atS.length - 1
            ? {
                key: String(t),
                odd: false,
                cells: [(t / 3600).toFixed(2), ...groupsV.map((own) => (own[k] ?? NaN).toFixed(3))],
              }
            : [],
        )}
      />
    </figure>
  );
}
