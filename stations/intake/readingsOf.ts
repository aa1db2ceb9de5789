import { type InstrumentBook, voltDigitOf } from '@/core/judging/instrumentBook';
import type { JudgedCell } from '@/core/judging/judgeCell';
import { type Answer, ask, done, refuse } from '@/stations/answer';
import type { Meant } from '@/stations/filing';
import type { EntryLine } from '@/ui/entryLine';
import { batchMedian, type LineCell, parseIntakeLine } from './intakeLine';
import { lineCellOf } from './lineCell';

/** What a line means that was typed of one of these cells: its readings, or a weld. */
export function readingsOf(
  { text, confirmed, current: shown, circumstances, replaces }: EntryLine,
  cells: readonly JudgedCell[],
  instruments: InstrumentBook,
  toLineCell: (cell: JudgedCell) => LineCell = lineCellOf,
): Answer<Meant> {
  const byCode = (code: string | null) => cells.find((cell) => cell.code === code);
  const instrument = instruments.all.find((one) => one.code === circumstances.meter && one.archivedAt === null) ?? null;
  const lineCell = (code: string | null) => {
    const cell = byCode(code);
    return cell ? toLineCell(cell) : null;
  };
  const line = parseIntakeLine(text, lineCell(shown), lineCell, batchMedian(cells), {
    meter: voltDigitOf(instrument),
    corrects: replaces !== null,
  });
  // That they are welded was filed already, by this very line: it is sent again.
  if (line.kind === 'go' && confirmed && text.includes('+')) return done({ said: text.trim(), files: null });
  if (line.kind !== 'readings') return refuse(line.kind === 'wrong' ? line.said : 'Nothing to file.');
  if (line.asks && !confirmed) return ask(line.asks);
  const [first, ...others] = line.cells.flatMap((code) => byCode(code)?.id ?? []);
  if (first === undefined) return refuse(`There is no cell ${line.code}.`);
  const { isWeld, readings, said } = line;
  const takenWith = instrument ? { instrumentId: instrument.id, channel: 1 } : null;
  return done({
    said,
    files: {
      subjectIds: [first, ...others],
      takenWith,
      bodies: isWeld ? [{ kind: 'weld' }, ...readings] : readings,
    },
  });
}
