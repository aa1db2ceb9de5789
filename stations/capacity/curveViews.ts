import { chargeAxis } from '@/core/capacity/chargeAxis';
import type { DischargeLoad } from '@/core/capacity/discharge';
import { incrementalCapacity } from '@/core/capacity/incrementalCapacity';
import type { SampleColumns } from '@/core/capacity/sampleColumns';
import type { Segment } from '@/core/capacity/segments';
import type { Span } from './PlotPointer';

/** A run as it is drawn. */
export interface DrawnRun {
  columns: SampleColumns;
  segments: readonly Segment[];
  load: DischargeLoad;
}

/**
 * What is drawn of a run: its volts over time, over the charge it gave or over what was left of that, or where its
 * charge lies by voltage.
 */
export type CurveView = 'time' | 'charge' | 'left' | 'incremental';

/** A point of a line, with its sample; null breaks the line. */
export interface CurvePoint {
  x: number;
  y: number | null;
  index: number | null;
}

/** The bins of dQ/dV, a cell or group. */
export const incrementalBinV = 0.01;

/**
 * A run as a line of a view. Over what was left, x is the share that was given, in per cent: it rises as time does.
 *
 * @param group draws that group's volts, counted from 0; null the terminals'
 * @param series cells or groups: what the bins of dQ/dV are as wide as
 */
export function lineOf(
  { columns, segments, load }: DrawnRun,
  view: CurveView,
  group: number | null,
  series: number,
): CurvePoint[] {
  const volts = group === null ? columns.voltageV : (columns.groupsV?.[group] ?? []);
  if (view === 'time') return columns.timeS.map((x, index) => ({ x, y: volts[index] ?? null, index }));
  const points = chargeAxis(columns, segments, load);
  if (view !== 'incremental') {
    const axis = view === 'left' ? 100 / (points.at(-1)?.chargeAh || 1) : 1;
    return points.map(({ index, chargeAh }) => ({ x: axis * chargeAh, y: volts[index] ?? null, index }));
  }
  const known = points.flatMap(({ index, chargeAh }) => {
    const voltageV = volts[index];
    return voltageV == null ? [] : [{ chargeAh, voltageV }];
  });
  return incrementalCapacity(known, incrementalBinV * (group === null ? series : 1)).map(({ voltageV, ahPerV }) => ({
    x: voltageV,
    y: ahPerV,
    index: null,
  }));
}

/** A run as one with this many times its volts. */
export const timesVolts = <Run extends DrawnRun>(run: Run, times: number): Run =>
  times === 1
    ? run
    : { ...run, columns: { ...run.columns, voltageV: run.columns.voltageV.map((voltageV) => times * voltageV) } };

/** The stretch of time that a stretch of the axis shows; null where all of it has to be known. */
export function timesShown(run: DrawnRun, view: CurveView, zoom: Span | null): Span | null {
  if (zoom === null || view === 'incremental') return null;
  if (view === 'time') return { fromS: Math.max(0, zoom.fromS), toS: zoom.toS };
  const line = lineOf(run, view, null, 1);
  const timeOf = (point: CurvePoint | undefined): number | undefined =>
    point?.index == null ? undefined : run.columns.timeS[point.index];
  return {
    fromS: timeOf(line.findLast(({ x }) => x <= zoom.fromS)) ?? 0,
    toS: timeOf(line.find(({ x }) => x >= zoom.toS)) ?? run.columns.timeS.at(-1) ?? 0,
  };
}

/** A curve in which one stretch of time is known in more detail: charge is still calculated from the whole. */
export function withDetail(whole: SampleColumns, detail: SampleColumns): SampleColumns {
  const [fromS, toS] = [detail.timeS[0] ?? Infinity, detail.timeS.at(-1) ?? -Infinity];
  const before = whole.timeS.findIndex((timeS) => timeS >= fromS);
  const after = whole.timeS.findIndex((timeS) => timeS > toS);
  const join = <T>(one: readonly T[], other: readonly T[]): T[] => [
    ...one.slice(0, Math.max(0, before)),
    ...other,
    ...(after < 0 ? [] : one.slice(after)),
  ];
  const ofBoth = <T>(one: readonly T[] | null, other: readonly T[] | null): T[] | null =>
    one && other && join(one, other);
  return {
    timeS: join(whole.timeS, detail.timeS),
    voltageV: join(whole.voltageV, detail.voltageV),
    currentA: ofBoth(whole.currentA, detail.currentA),
    temperatureC: ofBoth(whole.temperatureC, detail.temperatureC),
    groupsV: whole.groupsV && whole.groupsV.map((one, i) => join(one, detail.groupsV?.[i] ?? [])),
    cycle: ofBoth(whole.cycle, detail.cycle),
    step: ofBoth(whole.step, detail.step),
  };
}

/** Lines as one, each broken off from the next: a hundred are drawn as quickly as one. */
export const asOne = (lines: readonly CurvePoint[][]): CurvePoint[] =>
  lines.flatMap((line) => [...line, { x: line.at(-1)?.x ?? 0, y: null, index: null }]);

/** The lowest and highest of many numbers; of none from Infinity to −Infinity. */
export function rangeOf(values: Iterable<number>): [lowest: number, highest: number] {
  let [lowest, highest] = [Infinity, -Infinity];
  for (const value of values) {
    if (value < lowest) lowest = value;
    if (value > highest) highest = value;
  }
  return [lowest, highest];
}

/** The point next to a place on the axis; null of an empty line. */
export function nearestTo(line: readonly CurvePoint[], x: number): CurvePoint | null {
  let nearest: CurvePoint | null = null;
  for (const point of line)
    if (point.y !== null && (nearest === null || Math.abs(point.x - x) < Math.abs(nearest.x - x))) nearest = point;
  return nearest;
}
