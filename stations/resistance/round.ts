import 'server-only';
import { repeatsOf, type Repeats } from '@/core/resistance/repeats';
import { methods } from '@/core/resistance/methods';
import { type Crowd, crowdOf, isOdd } from '@/core/statistics/crowd';
import { display } from '@/core/quantity/format';
import { rectangular } from '@/core/quantity/quantity';
import { median } from 'simple-statistics';
import type { Warning } from '@/core/warning';
import { cellsChangedSince } from '@/records/cells';
import { database, snapshotOf } from '@/records/database';
import type { Protocol } from '@/records/protocols';
import { readingsOfRounds, type RoundReadingRow } from '@/records/readings';
import { type Round, roundById } from '@/records/rounds';
import type { RoundContext } from './entry';
import { type JudgedResistance, judgePresses } from '@/workshop/judgeStored';
import { type Kept, renewed } from '@/workshop/renewed';
import { judgedWorkshop, withCellsOf, type Workshop } from '@/workshop/judged';
import { cellOfCode, cellsOfBatch } from '@/workshop/shelf';
import type { JudgedCell } from '@/workshop/judgeCell';

/**
 * The cells a round is for: those of its batch that are usable and free; of cells welded together the first, which is
 * read for all.
 */
export const roundCells = ({ cells }: Workshop, batchCode: string): JudgedCell[] =>
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
export function judgeReadings(rows: readonly RoundReadingRow[], workshop: Workshop): JudgedReading[] {
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

export interface OpenRound {
  round: Round;
  protocol: Protocol;
  workshop: Workshop;
  readings: JudgedReading[];
  crowd: Crowd | null;
}

const held = globalThis as typeof globalThis & { openRounds?: Map<number, Kept<OpenRound | null>> };
const mostHeld = 20;

/**
 * A round with everything read in it, judged; null where there is none of that number. Kept by this process, which
 * judges only the readings of cells that changed since.
 */
export async function openRoundById(id: number): Promise<OpenRound | null> {
  const db = database();
  const snapshot = await snapshotOf(db);
  const rounds = (held.openRounds ??= new Map());
  const keep = (now: Kept<OpenRound | null> | undefined) => {
    rounds.delete(id);
    if (now) rounds.set(id, now);
    for (const oldest of [...rounds.keys()].slice(0, Math.max(0, rounds.size - mostHeld))) rounds.delete(oldest);
  };
  return renewed(rounds.get(id), snapshot, keep, async (before) => {
    const [round, judged, changed] = await Promise.all([
      roundById(db, id),
      judgedWorkshop(snapshot),
      before?.value ? cellsChangedSince(db, before.snapshot) : null,
    ]);
    const protocol = round && judged.protocols.get(round.protocolId);
    if (!round || !protocol) return null;
    const workshop = await withCellsOf(judged, { batchCode: round.batchCode });
    const fresh = changed?.length === 0 ? [] : await readingsOfRounds(db, [id], changed && { cellIds: changed });
    const gone = new Set(changed);
    const unchanged = before?.value?.readings.filter((reading) => !gone.has(reading.row.cellId)) ?? [];
    const readings = [...judgeReadings(fresh, workshop), ...unchanged].sort((a, b) => b.row.id - a.row.id);
    return { round, protocol, workshop, readings, crowd: crowdOfRound(readings, workshop.rules.limits.oddBeyond) };
  });
}

/** What the reading bar of a round needs to understand a line, in the browser as on the server. */
export function contextOf({ round, workshop, crowd }: OpenRound): RoundContext {
  const instrument = workshop.instruments.byId(round.instrumentId);
  const range = instrument?.ranges[methods[round.method].needs];
  return {
    method: round.method,
    loadResistanceOhm: round.loadResistanceOhm,
    batchMedianOhm: crowd?.median ?? null,
    instrument:
      instrument && range
        ? {
            code: instrument.code,
            resolution: range.resolution,
            as: methods[round.method].needs === 'resistance' ? display.resistance : display.voltage,
          }
        : null,
  };
}
