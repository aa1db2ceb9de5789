import { chargeAxis } from '@/core/capacity/chargeAxis';
import type { DischargeLoad } from '@/core/capacity/discharge';
import { incrementalCapacity } from '@/core/capacity/incrementalCapacity';
import type { SampleColumns } from '@/core/capacity/sampleColumns';
import type { Segment } from '@/core/capacity/segments';

/** A run as it is drawn. */
export interface DrawnRun {
  columns: SampleColumns;
  segments: readonly Segment[];
  load: DischargeLoad;
}

/** What is drawn of a run: its volts over time or over the charge it gave, or where its charge lies by voltage. */
export type CurveView = 'time' | 'charge' | 'incremental';

/** A point of a line, with the sample it stands for; null breaks the line. */
export interface CurvePoint {
  x: number;
  y: number | null;
  index: number | null;
}

/** The bins of dQ/dV, a cell or group. */
export const incrementalBinV = 0.01;

/**
 * A run as a line of a view.
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
  if (view === 'charge') return points.map(({ index, chargeAh }) => ({ x: chargeAh, y: volts[index] ?? null, index }));
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
