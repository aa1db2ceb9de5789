import { groupedBy } from '@/core/grouped';
import type { JudgedCell } from './judgeCell';
import type { JudgedPack } from './judgePack';
import { modelName, mostPlentiful, packSizeName } from './models';
import { coverage95 } from '@/core/statistics/distributions';
import { type Line, newPoint, onLine } from '@/core/statistics/line';
import { robustLine } from '@/core/statistics/robustLine';
import { ImpossibleInput } from '@/core/impossibleInput';

export interface Predicted {
  code: string;
  /** Of a cell after ten seconds, of a pack a group's mean under the protocol most of its size share, Ω. */
  ohm: number;
  /** Energy delivered, Wh, or mean voltage under load, V. */
  value: number;
}

export interface Prediction {
  line: Line;
  /** The line with its prediction interval (95 %) over the range of the cells it was drawn through. */
  band: { ohm: number; value: number; low: number; high: number }[];
  /** Cells outside the interval. */
  outside: string[];
  /** Cells so far off that the line was drawn without them. */
  leftOut: string[];
}

/** Cells of one model, or packs of one size, that were measured and discharged down to the cut-off. */
export interface Alike {
  name: string;
  /** The protocol of packs' figures; null of cells, which are compared after ten seconds. */
  protocolId: number | null;
  measured: { code: string; ohm: number; energyWh: number; meanVoltageV: number }[];
}

/** What resistance may predict: the most plentiful first. */
export function alikeOf(cells: readonly JudgedCell[], packs: readonly JudgedPack[]): Alike[] {
  const known = cells.filter((cell) => !cell.putAway && cell.run?.reachedCutoff && cell.resistance);
  const ofCells = [...groupedBy(known, modelName)].map(([name, own]): Alike => ({
    name,
    protocolId: null,
    measured: own.flatMap(({ code, resistance, run }) =>
      run && resistance
        ? [{ code, ohm: resistance.value, energyWh: run.energyWh, meanVoltageV: run.meanVoltageV }]
        : [],
    ),
  }));
  const knownPacks = packs.filter((pack) => pack.run?.reachedCutoff && pack.figures.length > 0);
  const ofPacks = [...groupedBy(knownPacks, packSizeName)].map(([name, own]): Alike => {
    const [shared] = mostPlentiful(own.flatMap(({ figures }) => figures.map(([id]) => String(id))));
    const protocolId = Number(shared?.name);
    const measured = own.flatMap(({ code, figures, run }) => {
      const ohm = figures.find(([id]) => id === protocolId)?.[1];
      return run && ohm !== undefined ? [{ code, ohm, energyWh: run.energyWh, meanVoltageV: run.meanVoltageV }] : [];
    });
    return { name, protocolId, measured };
  });
  return [...ofCells, ...ofPacks].sort((one, other) => other.measured.length - one.measured.length);
}

/** A band is drawn through this many points, and from this many cells on. */
const bandPoints = 24;
const leastCells = 5;

/**
 * The straight line of what cells delivered over their resistance, which an odd cell does not drag along; null while
 * too few were measured both ways.
 */
export function predictionOf(cells: readonly Predicted[]): Prediction | null {
  if (cells.length < leastCells) return null;
  try {
    const { line, odd } = robustLine(cells.map(({ ohm, value }) => ({ x: ohm, y: value })));
    const k = coverage95(line.degrees);
    const ohms = cells.filter((_, i) => !odd.includes(i)).map((cell) => cell.ohm);
    const [low, high] = [Math.min(...ohms), Math.max(...ohms)];
    const band = Array.from({ length: bandPoints }, (_, i) => low + ((high - low) * i) / (bandPoints - 1)).map(
      (ohm) => {
        const { value, u } = newPoint(line, ohm);
        return { ohm, value, low: value - k * u, high: value + k * u };
      },
    );
    const outside = cells
      .filter(({ ohm, value }) => Math.abs(value - onLine(line, ohm).value) > k * newPoint(line, ohm).u)
      .map((cell) => cell.code);
    return { line, band, outside, leftOut: odd.flatMap((i) => cells[i]?.code ?? []) };
  } catch (error) {
    if (error instanceof ImpossibleInput) return null;
    throw error;
  }
}
