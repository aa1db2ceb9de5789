import 'server-only';
import { database } from '@/records/database';
import { allInstruments } from '@/workshop/instruments';
import type { EntryLine, Filed } from '@/ui/entryLine';
import { cellCodeOf, packCodeOf, weldCodesOf } from '@/ui/tokens';
import { fileGroups } from './clinic/actions';
import { fileSelfDischarge } from './selfDischarge/actions';
import { fileSheetLine } from './instruments/actions';
import { fileIntake } from './intake/actions';
import { fileRescueReading } from './rescue/actions';
import { fileReading } from './resistance/fileReading';

/** A line as a script sends it: the words of a reading bar, and what is chosen beside that. */
export interface SentLine {
  entry: string;
  text: string;
  /** The round it belongs to; left out, a code begins the line. */
  round?: number | undefined;
  /** The sheet of instruments it belongs to. */
  sheet?: number | undefined;
  /** The self-discharge test it belongs to. */
  hold?: number | undefined;
  /** It is of the rescue that is under way of the cell or pack it begins with. */
  rescue?: boolean | undefined;
  /** How long ago it was measured, s; left out: now. */
  waitedS?: number | undefined;
  confirmed: boolean;
  state: string;
  groupsWith: string;
  terminalsWith: string;
  meter: string;
}

/**
 * Files a line where its bar would: in its round, sheet or self-discharge test, at the intake of its cell, or with its
 * pack.
 */
export async function fileLine({
  round,
  sheet,
  hold: selfDischarge,
  rescue,
  entry,
  text,
  confirmed,
  waitedS = 0,
  ...circumstances
}: SentLine): Promise<Filed> {
  const line: EntryLine = {
    entry,
    text,
    confirmed,
    current: null,
    circumstances,
    replaces: null,
    seen: null,
    waitedS,
  };
  const named = [circumstances.groupsWith, circumstances.terminalsWith, circumstances.meter].filter(Boolean);
  const known = named.length === 0 ? [] : await allInstruments(database());
  const unknown = named.find((code) => !known.some((one) => one.code === code && one.archivedAt === null));
  if (unknown) return { ok: false, said: `There is no instrument ${unknown} on the bench list.` };
  if (sheet !== undefined) return fileSheetLine(sheet, line);
  if (selfDischarge !== undefined) return fileSelfDischarge(selfDischarge, line);
  if (round !== undefined) return fileReading(round, Promise.resolve(line));
  const [first, ...figures] = text.trim().split(/\s+/);
  if (rescue)
    return fileRescueReading({ ...line, current: packCodeOf(first) ?? cellCodeOf(first), text: figures.join(' ') });
  if (packCodeOf(first)) return fileGroups(line);
  const cell = weldCodesOf(first)?.[0] ?? cellCodeOf(first);
  if (cell) return fileIntake(cell.slice(0, cell.lastIndexOf('-')), line);
  return { ok: false, said: 'Start with the code of a cell or a pack, such as S1-014 3.71 or PF1 3.71 3.72.' };
}
