import { formatDuration } from '@/core/quantity/format';
import { dashes, endNames } from '@/ui/lineEnds';
import { tickText, ticksOver, ticksWithin } from '@/ui/ticks';
import { memo } from 'react';
import {
  CartesianGrid,
  Line,
  LineChart,
  ReferenceArea,
  ReferenceDot,
  ReferenceLine,
  ResponsiveContainer,
  XAxis,
  YAxis,
} from 'recharts';
import { type CurvePoint, type CurveView, rangeOf } from './curveViews';
import type { Span } from './PlotPointer';

/** Where the plot begins and ends within the chart, px. */
export const plot = { left: 58, top: 8, bottom: 18 + 30, height: 400 };

/** What is marked along the time of a run. */
export interface RunMarks {
  /** When the load came on, and up to when it was counted. */
  fromS: number;
  toS: number;
  gaps: Span[];
  /** Where the logger's clock restarted. */
  resetsS: number[];
  wild: { timeS: number; voltageV: number }[];
}

interface PlotProps extends RunMarks {
  view: CurveView;
  lines: CurvePoint[][];
  behind: CurvePoint[];
  isDashed: boolean;
  shown: Span;
  /** Null where what is drawn met none of its own. */
  cutoffV: number | null;
  /** Of each group, whether it ended the discharge; null where none are drawn. */
  groups: boolean[] | null;
}

/** Marks of wild samples beyond this only cover each other. */
const mostMarks = 60;

/** The lines and their axes; redrawn only when these change, not as the pointer moves. */
export const RunPlot = memo(function RunPlot({
  view,
  lines,
  behind,
  isDashed,
  shown,
  cutoffV,
  groups,
  fromS,
  toS,
  gaps,
  resetsS,
  wild,
}: PlotProps) {
  const isSeen = ({ x, y }: CurvePoint) => y !== null && x >= shown.fromS && x <= shown.toS;
  const [lowestY, highestY] = rangeOf([...lines.flat(), ...behind].filter(isSeen).map(({ y }) => y as number));
  // The whole of it shows how far it is from the cut-off.
  const wholeLowest = shown.fromS === 0 ? Math.min(cutoffV ?? lowestY, lowestY) : lowestY;
  const lowest = view === 'incremental' ? 0 : wholeLowest;
  const volts = ticksOver(lowest, highestY, [0.001, 0.005, 0.01, 0.05, 0.1, 0.2, 0.5, 1, 2, 5]);
  const times = [1, 10, 60, 300, 600, 1800, 3600, 7200, 14_400];
  const ticks = ticksWithin(
    shown.fromS,
    shown.toS,
    view === 'time' ? times : [0.01, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20],
  );
  const span = shown.toS - shown.fromS;
  const names = endNames(
    lines.map((line, i) => ({ name: String(i + 1), value: line.filter(isSeen).at(-1)?.y ?? 0 })),
    ((volts.at(-1) ?? 5) - (volts[0] ?? 0)) / 25,
  );
  const axisNames: Record<CurveView, string> = {
    time: span > 600 ? 'hours : minutes' : 'hours : minutes : seconds',
    charge: 'Ah',
    left: '% left',
    incremental: 'V',
  };
  const placeText = (x: number): string => {
    if (view === 'time') return formatDuration(x).slice(0, span > 600 ? -3 : undefined);
    return tickText(view === 'left' ? 100 - x : x);
  };
  const decimals = volts.length > 1 && (volts[1] as number) - (volts[0] as number) < 0.01 ? 3 : 2;
  return (
    <ResponsiveContainer width="100%" height={plot.height} minWidth={0}>
      <LineChart margin={{ top: plot.top, right: groups ? 60 : 30, bottom: 18, left: 0 }} accessibilityLayer={false}>
        <CartesianGrid stroke="var(--rule)" />
        <XAxis
          type="number"
          dataKey="x"
          domain={[shown.fromS, shown.toS]}
          allowDataOverflow
          ticks={ticks}
          tickFormatter={placeText}
          tick={{ className: 'axis' }}
          stroke="var(--soft)"
          label={{ value: axisNames[view], position: 'insideBottomRight', offset: -12, className: 'axis' }}
        />
        <YAxis
          domain={[volts[0] ?? 0, volts.at(-1) ?? 5]}
          allowDataOverflow
          ticks={volts}
          tickFormatter={(v: number) => (view === 'incremental' ? tickText(v) : v.toFixed(decimals))}
          tick={{ className: 'axis' }}
          stroke="var(--soft)"
          width={plot.left}
          label={{ value: view === 'incremental' ? 'Ah/V' : 'V', position: 'insideTopLeft', className: 'axis' }}
        />
        {view === 'time' &&
          gaps.map((gap) => (
            <ReferenceArea key={gap.fromS} x1={gap.fromS} x2={gap.toS} fill="var(--ember-wash)" fillOpacity={1} />
          ))}
        {view === 'time' &&
          resetsS.map((atS) => <ReferenceLine key={atS} x={atS} stroke="var(--soft)" strokeDasharray="1 4" />)}
        {view !== 'incremental' && cutoffV !== null && (
          <ReferenceLine
            y={cutoffV}
            stroke="var(--ember)"
            strokeDasharray="5 4"
            label={{ value: `cut-off ${cutoffV} V`, position: 'insideBottomLeft', className: 'axis' }}
          />
        )}
        {view === 'time' && fromS > 0 && <ReferenceLine x={fromS} stroke="var(--ember)" strokeDasharray="5 4" />}
        {view === 'time' && <ReferenceLine x={toS} stroke="var(--ember)" strokeDasharray="5 4" />}
        <Line
          data={behind}
          dataKey="y"
          type="linear"
          dot={false}
          isAnimationActive={false}
          activeDot={false}
          stroke="var(--soft)"
          strokeWidth={1.2}
          {...(isDashed && { strokeDasharray: '4 4' })}
        />
        {lines.map((line, i) => {
          const isFirst = groups?.[i] ?? true;
          return (
            <Line
              key={i}
              data={line}
              dataKey="y"
              type="linear"
              dot={false}
              isAnimationActive={false}
              activeDot={false}
              stroke={isFirst ? 'var(--sea)' : 'var(--soft)'}
              strokeWidth={isFirst ? 2.5 : 1.2}
              {...(isFirst ? {} : { strokeDasharray: dashes[1 + (i % (dashes.length - 1))] ?? '' })}
              {...(groups && {
                label: ({ x, y, index }: { x?: string | number; y?: string | number; index?: number }) =>
                  index === line.length - 1 ? (
                    <text x={Number(x) + 4} y={Number(y) + 4} className="axis" fontWeight={isFirst ? 700 : 400}>
                      {names[i]}
                    </text>
                  ) : (
                    <></>
                  ),
              })}
            />
          );
        })}
        {view === 'time' &&
          wild
            .slice(0, mostMarks)
            .map(({ timeS, voltageV }) => (
              <ReferenceDot
                key={timeS}
                x={timeS}
                y={voltageV}
                r={3}
                fill="none"
                stroke="var(--ember)"
                ifOverflow="hidden"
              />
            ))}
      </LineChart>
    </ResponsiveContainer>
  );
});
