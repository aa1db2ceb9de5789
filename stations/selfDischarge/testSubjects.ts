import 'server-only';
import type { JudgedSelfDischarge } from '@/core/judging/judgeSelfDischarge';
import { cellOfCode, cellsOfBatch } from '@/core/judging/shelf';
import type { JudgedSubject } from '@/core/judging/subject';
import { subjectNamed, withCellsOf, type Workshop } from '@/workshop/judged';
import type { SelfDischargeSubject } from './selfDischargeLine';

/** Those of a self-discharge test, as its bar needs them. */
export const testSubjects = ({ held }: JudgedSelfDischarge, workshop: Workshop): SelfDischargeSubject[] =>
  held.map(({ code, chemistry, series, readings }) => ({
    code,
    chemistry,
    series,
    weldedTo: cellOfCode(workshop, code)?.weldedTo ?? [],
    lastV: readings.findLast(({ position }) => position === 1)?.valueV ?? null,
  }));

/** What each code names: a cell, a pack, or all cells of a batch that are not out; empty where nothing is. */
export async function namedBy(codes: readonly string[], workshop: Workshop): Promise<Map<string, JudgedSubject[]>> {
  const named = new Map<string, JudgedSubject[]>();
  for (const code of codes) {
    const { subject } = await subjectNamed(code, workshop);
    const batch = subject ? [] : cellsOfBatch(await withCellsOf(workshop, { batchCode: code }), code);
    named.set(code, subject ? [subject] : batch.filter(({ intake, putAway }) => intake.class !== 'out' && !putAway));
  }
  return named;
}
