import type { RoundReadingRow } from './facts';
import { repeatsOf, type Repeats } from '@/core/resistance/repeats';
import { type Crowd, crowdOf, isOdd } from '@/core/statistics/crowd';
import { rectangular } from '@/core/quantity/quantity';
import { median } from 'simple-statistics';
import type { Warning } from '@/core/warning';
import { type Equipment, type JudgedResistance, judgePresses } from './judgeResistance';
import { cellOfCode, type CellShelf, cellsOfBatch } from './shelf';
import type { JudgedCell } from './judgeCell';

/**
 * The cells a round is for: those of its batch that are usable and free; of cells welded together the first, which is
 * read for all.
 */
export const roundCells = ({ cells }: Pick<CellShelf, 'cells'>, batchCode: string): JudgedCell[] =>
  cellsOfBatch({ cells }, batchCode).filter((cell) => whyNotMeasured(cell) === null && firstOfWeld(cell) === cell.code);

/** The code by which cells welded together are read. */
export const firstOfWeld = ({ code, weldedTo }: Pick<JudgedCell, 'code' | 'weldedTo'>): string =>
  [code, ...weldedTo].sort()[0] as string;

/** Why a cell is not measured in a round, and the way on; null where it may be. */
export function whyNotMeasured(cell: JudgedCell): string | null {
  if (cell.putAway) return `${cell.code} was put away with its batch: take that out again first.`;
  if (cell.intake.class === 'out' || cell.waits === 'out')
    return `${cell.code} is out: ${cell.intake.reasons[0]?.text ?? 'out'} It is not measured any more.`;
  if (cell.buildId !== null)
    return `${cell.code} is in build ${cell.buildId}: free it there, or read its pack in the clinic.`;
  if (cell.intake.class === 'rescue-only') return `${cell.code} lies below its floor: rescue comes first.`;
  if (cell.intake.class === null)
    return `${cell.code} was not taken in yet: read its ${cell.intake.missing[0] ?? 'voltage'} at the intake first.`;
  return null;
}

export interface JudgedReading extends JudgedResistance {
  row: RoundReadingRow;
}

/** The readings of a round, judged; all of a cell's are needed, since pressing again teaches its noise. */
export function judgeReadings(rows: readonly RoundReadingRow[], workshop: Equipment & CellShelf): JudgedReading[] {
  const byCell = new Map<string, RoundReadingRow[]>();
  for (const row of rows) byCell.set(row.code, [...(byCell.get(row.code) ?? []), row]);
  const judged = new Map<number, JudgedReading>();
  for (const [code, own] of byCell) {
    const presses = judgePresses(
      own.map((row) => row.resistance),
      cellOfCode(workshop, code),
      workshop,
    );
    own.forEach((row, i) => judged.set(row.id, { row, ...(presses[i] as JudgedResistance) }));
  }
  return rows.map((row) => judged.get(row.id) as JudgedReading);
}

/** The newest comparable figure of each cell. */
export function figuresByCell(readings: readonly JudgedReading[]): Map<string, JudgedReading> {
  const newest = new Map<string, JudgedReading>();
  for (const reading of readings)
    if (reading.result && reading.leftOut === null && !newest.has(reading.row.code))
      newest.set(reading.row.code, reading);
  return newest;
}

/** The crowd of a round; its readings' typical uncertainty is the least spread assumed. */
export function crowdOfRound(readings: readonly JudgedReading[], oddBeyond: number): Crowd | null {
  const figures = [...figuresByCell(readings).values()].map(
    (reading) => reading.result?.resistance ?? { value: NaN, u: 0 },
  );
  return crowdOf(
    figures.map((figure) => figure.value),
    oddBeyond,
    Math.max(rectangular(0.0001), figures.length === 0 ? 0 : median(figures.map((figure) => figure.u))),
  );
}

/** What a screen shows of one cell that was just read. Plain data: it goes to the browser. */
export interface RoundFigure {
  code: string;
  /** So many cells welded together were read as one; the figures are those of each. */
  together: number;
  /** Null where the readings give no resistance. */
  resistance: { value: number; u: number } | null;
  budget: { input: string; u: number }[];
  loadPowerW: number | null;
  warnings: Warning[];
  odd: boolean;
  medianOhm: number | null;
  /** Every figure of this cell in this round, newest first, Ω. */
  pressed: number[];
  repeats: Repeats | null;
}

export function roundFigure(code: string, readings: readonly JudgedReading[], crowd: Crowd | null): RoundFigure | null {
  const own = readings.filter((reading) => reading.row.code === code);
  const [newest] = own;
  if (!newest) return null;
  const { result, warnings } = newest;
  // A press under other conditions says nothing of the contact.
  const alike = own.filter((reading) => (reading.leftOut === null) === (newest.leftOut === null));
  const pressed = alike.flatMap((reading) => (reading.result ? [reading.result.resistance.value] : []));
  return {
    code,
    together: newest.row.resistance.together,
    resistance: result?.resistance ?? null,
    budget: result?.budget ?? [],
    loadPowerW: result?.loadPowerW ?? null,
    warnings,
    odd: result !== null && isOdd(result.resistance.value, crowd),
    medianOhm: crowd?.median ?? null,
    pressed,
    repeats: repeatsOf(pressed, result?.randomU ?? 0),
  };
}

/** What is the same for every reading of a round: it is said once a round. */
const ofTheRound = [
  'load-overrated',
  'zero-not-taken',
  'temperature-unknown',
  'after-time-unknown',
  'leads-swamp',
  'charge-unknown',
  'board-in-path',
];

/** The warnings that hold for a round as a whole, each once, as it was said of the first reading. */
export function warningsOfRound(readings: readonly JudgedReading[]): Warning[] {
  const said = new Map<string, Warning>();
  for (const { warnings } of readings.toReversed())
    for (const warning of warnings)
      if (ofTheRound.includes(warning.code) && !said.has(warning.code)) said.set(warning.code, warning);
  return [...said.values()];
}
