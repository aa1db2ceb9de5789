import type { IntakeReason, IntakeVerdict } from '@/core/grading/intake';
import type { RoundReadingRow } from './facts';
import { repeatsOf, type Repeats } from '@/core/resistance/repeats';
import { type Population, populationOf, isOutlier } from '@/core/statistics/population';
import { rectangular } from '@/core/quantity/quantity';
import { median } from 'simple-statistics';
import type { Warning } from '@/core/warning';
import type { Equipment } from './equipment';
import { type JudgedFor, type JudgedResistance, judgePresses } from './judgeResistance';
import { type CellShelf, cellsOfBatch } from './shelf';
import type { JudgedCell } from './judgeCell';

/**
 * The cells a round is for: those of its batch that are usable and free; of cells welded together the first, which is
 * read for all.
 */
export const roundCells = ({ cells }: CellShelf, batchCode: string): JudgedCell[] =>
  cellsOfBatch({ cells }, batchCode).filter((cell) => whyNotMeasured(cell) === null && firstOfWeld(cell) === cell.code);

/** The code by which cells welded together are read. */
export const firstOfWeld = ({ code, weldedTo }: Pick<JudgedCell, 'code' | 'weldedTo'>): string =>
  [code, ...weldedTo].sort()[0] as string;

/** Why a cell is not measured in a round; its sentence is in words/rounds.ts. */
export type NotMeasured =
  | { code: 'put-away' | 'below-floor' | 'apart' }
  | { code: 'out'; because: IntakeReason | null }
  | { code: 'in-build'; buildId: number }
  | { code: 'in-pack'; pack: string }
  | { code: 'not-taken-in'; missing: IntakeVerdict['missing'][number] };

/** Null where it may be measured. */
export function whyNotMeasured({ putAway, intake, waits, buildId, pack }: JudgedCell): NotMeasured | null {
  if (putAway) return { code: 'put-away' };
  if (intake.class === 'out' || waits === 'out') return { code: 'out', because: intake.reasons[0] ?? null };
  if (pack !== null) return { code: 'in-pack', pack: pack.code };
  if (buildId !== null) return { code: 'in-build', buildId };
  if (intake.class === 'rescue-only') return { code: 'below-floor' };
  if (intake.class === null) return { code: 'not-taken-in', missing: intake.missing[0] ?? 'voltage' };
  return null;
}

export interface JudgedReading extends JudgedResistance {
  row: RoundReadingRow;
}

/** The readings of a round, judged; all of a subject's are needed, since pressing again teaches its noise. */
export function judgeReadings(
  rows: readonly RoundReadingRow[],
  subjectOf: (code: string) => JudgedFor,
  equipment: Equipment,
): JudgedReading[] {
  const bySubject = new Map<string, RoundReadingRow[]>();
  for (const row of rows) bySubject.set(row.code, [...(bySubject.get(row.code) ?? []), row]);
  const judged = new Map<RoundReadingRow, JudgedReading>();
  for (const [code, own] of bySubject) {
    const presses = judgePresses(
      own.map((row) => row.resistance),
      subjectOf(code),
      equipment,
    );
    own.forEach((row, i) => judged.set(row, { row, ...(presses[i] as JudgedResistance) }));
  }
  return rows.map((row) => judged.get(row) as JudgedReading);
}

/** The newest comparable figure of each cell. */
export function figuresByCell(readings: readonly JudgedReading[]): Map<string, JudgedReading> {
  const newest = new Map<string, JudgedReading>();
  for (const reading of readings) {
    const { result, figure } = reading;
    // Its repeats count together.
    if (result && figure && reading.leftOut === null && !newest.has(reading.row.code))
      newest.set(reading.row.code, { ...reading, result: { ...result, resistance: figure } });
  }
  return newest;
}

/** The population of a round; its readings' typical uncertainty is the least deviation assumed. */
export function roundPopulation(readings: readonly JudgedReading[], oddBeyond: number): Population | null {
  const figures = [...figuresByCell(readings).values()].map(
    (reading) => reading.result?.resistance ?? { value: NaN, u: 0 },
  );
  return populationOf(
    figures.map((figure) => figure.value),
    oddBeyond,
    Math.max(rectangular(0.0001), figures.length === 0 ? 0 : median(figures.map((figure) => figure.u))),
  );
}

/** What a screen shows of one cell that was just read. Plain data: it goes to the browser. */
export interface RoundFigure {
  code: string;
  /** This many cells welded together were read as one; the figures are those of each. */
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

export function roundFigure(
  code: string,
  readings: readonly JudgedReading[],
  population: Population | null,
): RoundFigure | null {
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
    odd: result !== null && isOutlier(result.resistance.value, population),
    medianOhm: population?.median ?? null,
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
