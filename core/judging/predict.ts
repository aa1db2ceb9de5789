import { coverage95 } from '@/core/statistics/distributions';
import { type Line, newPoint, onLine } from '@/core/statistics/line';
import { robustLine } from '@/core/statistics/robustLine';
import { ImpossibleInput } from '@/core/impossibleInput';

export interface Predicted {
  code: string;
  /** Ten-second resistance, Ω. */
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
