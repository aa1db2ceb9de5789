import { understandGroups } from '@/stations/clinic/packLine';
import { parseIntakeLine } from '@/stations/intake/intakeLine';
import type { LastDigit } from '@/core/grading/plausibility';
import type { Body } from '@/core/judging/bodies';
import type { Chemistry } from '@/core/chemistry/chemistries';
import type { LineQuestion } from '@/ui/entryLine';
import { packCodeOf, wordsOf } from '@/ui/tokens';

/** One of a self-discharge test, as its reading bar needs it. Plain data: it goes to the browser. */
export interface SelfDischargeSubject {
  code: string;
  chemistry: Chemistry;
  series: number;
  weldedTo: string[];
  /** What it read last while it rested, the first group of a pack; null before its first reading. */
  lastV: number | null;
}

export type SelfDischargeLine =
  | { kind: 'nothing' }
  | { kind: 'wrong'; said: string; suggests?: string }
  | { kind: 'go'; code: string }
  | {
      kind: 'reading';
      code: string;
      /** Those it is read of: the subject, and what is welded to it. */
      codes: string[];
      bodies: Extract<Body, { kind: 'voltage' }>[];
      said: string;
      asks: LineQuestion | null;
      inFull: string;
    };

/**
 * Understands a line of a self-discharge test: a code unless one is shown, then the voltage of that cell, or of that
 * pack its groups from the negative terminal.
 *
 * @param subjectOf one of this self-discharge test by its code
 */
export function parseSelfDischargeLine(
  text: string,
  shown: SelfDischargeSubject | null,
  subjectOf: (code: string) => SelfDischargeSubject | null,
  meter: LastDigit | null = null,
): SelfDischargeLine {
  const [first] = wordsOf(text, []);
  const isOfPack = packCodeOf(first) !== null || (shown !== null && isPackCode(shown.code) && !isCellWord(first));
  return isOfPack ? ofPack(text, shown, subjectOf, meter) : ofCell(text, shown, subjectOf, meter);
}

const isPackCode = (code: string): boolean => !code.includes('-');
const isCellWord = (word: string | undefined): boolean => word !== undefined && /^[a-z][a-z0-9]*-\d/i.test(word);
const notHere = (code: string): SelfDischargeLine => ({
  kind: 'wrong',
  said: `${code} is not in this self-discharge test.`,
});

function ofPack(
  text: string,
  shown: SelfDischargeSubject | null,
  subjectOf: (code: string) => SelfDischargeSubject | null,
  meter: LastDigit | null,
): SelfDischargeLine {
  const pack = shown && isPackCode(shown.code) ? shown : null;
  const named = packCodeOf(wordsOf(text, [])[0]);
  if (named && !subjectOf(named)) return notHere(named);
  const line = understandGroups(text, pack, subjectOf, { groups: meter, terminals: null });
  if (line.kind === 'noted')
    return { kind: 'wrong', said: 'Enter the voltages of its groups here. Note anything else on its own page.' };
  if (line.kind !== 'groups') return line;
  if (line.terminal) return { kind: 'wrong', said: 'Enter its groups here, without the terminals.' };
  return {
    kind: 'reading',
    code: line.code,
    codes: [line.code],
    bodies: line.groups.flatMap((figure, i) =>
      figure ? { kind: 'voltage' as const, position: i + 1, voltageV: figure.value, step: figure.step } : [],
    ),
    said: line.said,
    asks: line.asks,
    inFull: line.inFull,
  };
}

function ofCell(
  text: string,
  shown: SelfDischargeSubject | null,
  subjectOf: (code: string) => SelfDischargeSubject | null,
  meter: LastDigit | null,
): SelfDischargeLine {
  const cellOf = (code: string) => {
    const one = subjectOf(code);
    return one && { ...one, modelMassKg: null, missing: ['voltage' as const], has: {} };
  };
  const current = shown && cellOf(shown.code);
  const named = wordsOf(text, [])[0];
  const last = (isCellWord(named) ? subjectOf((named ?? '').toUpperCase()) : shown)?.lastV ?? null;
  const line = parseIntakeLine(text, current, cellOf, { voltageV: last, massKg: null }, { meter });
  if (line.kind !== 'readings')
    return line.kind === 'wrong' ? { ...line, said: line.said.replace('batch', 'self-discharge test') } : line;
  const [reading, ...more] = line.readings;
  if (reading?.kind !== 'voltage' || more.length > 0 || line.isWeld)
    return { kind: 'wrong', said: 'Enter one voltage here, such as 4.143.' };
  return {
    kind: 'reading',
    code: line.code,
    codes: line.cells,
    bodies: [reading],
    said: line.said,
    asks: line.asks,
    inFull: line.inFull,
  };
}
