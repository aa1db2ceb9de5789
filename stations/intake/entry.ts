import { askAboutMass, askAboutVoltage } from '@/core/grading/plausibility';
import type { Chemistry } from '@/core/chemistry/chemistries';
import { type InspectionFinding, inspectionFindings, inspectionKeys } from '@/core/grading/intake';
import { display, formatRead } from '@/core/quantity/format';
import { beyondLimit } from '@/core/quantity/limits';
import { type BareUnit, parseQuantity } from '@/core/quantity/parse';
import { cellCodeOf, wordsOf } from '@/ui/tokens';
import { median } from 'simple-statistics';

export type IntakeField = 'voltage' | 'weight' | 'inspection';

/** What is known of the cell a line is for. */
export interface EntryCell {
  code: string;
  chemistry: Chemistry;
  modelMassKg: number | null;
  missing: readonly IntakeField[];
}

export type IntakeReading =
  | { kind: 'voltage'; voltageV: number; step: number }
  | { kind: 'mass'; massKg: number; step: number }
  | { kind: 'inspection'; findings: InspectionFinding[] };

export type IntakeLine =
  | { kind: 'nothing' }
  | { kind: 'wrong'; said: string }
  | { kind: 'go'; code: string }
  /** `inFull` is the line as it means the same whatever cell is shown and whatever it lacks. */
  | { kind: 'readings'; code: string; readings: IntakeReading[]; said: string; asks: string | null; inFull: string };

const bareVolt: BareUnit = { dimension: 'voltage', factor: 1 };
const bareGram: BareUnit = { dimension: 'mass', factor: 1e-3 };

/**
 * Understands a line of the intake: an optional cell code, then figures and inspection letters in any number. A figure
 * without a unit is the first of voltage and weight that is missing. Pure: the screen shows by it what would be filed,
 * the server files by it.
 *
 * @param current the cell that is shown
 * @param cellOf another cell of the batch by its code
 * @param batchV what the batch reads in the middle; null while too few were read
 */
export function understandIntake(text: string, current: EntryCell | null, cellOf: (code: string) => EntryCell | null, batchV: number | null = null): IntakeLine {
  const words = wordsOf(text, ['V', 'mV', 'g', 'kg']);
  if (words.length === 0) return { kind: 'nothing' };
  const named = cellCodeOf(words[0]);
  const cell = named ? cellOf(named) : current;
  if (!cell) return { kind: 'wrong', said: named ? `There is no cell ${named} in this batch.` : 'Every cell here was read; begin with the code of the one you mean.' };
  const rest = named ? words.slice(1) : words;
  if (rest.length === 0) return { kind: 'go', code: cell.code };

  const readings: IntakeReading[] = [];
  const inFull = [cell.code];
  const has = (kind: IntakeReading['kind']) => readings.some((reading) => reading.kind === kind);
  for (const word of rest) {
    const findings = findingsOf(word);
    if (findings) {
      readings.push({ kind: 'inspection', findings });
      inFull.push(word);
      continue;
    }
    const wantsMass = has('voltage') || (!cell.missing.includes('voltage') && cell.missing.includes('weight'));
    const parsed = parseQuantity(word, wantsMass ? bareGram : bareVolt);
    if (!parsed) return { kind: 'wrong', said: `"${word}" was not understood. Expected a voltage, a weight in g, or letters of the inspection.` };
    const beyond = beyondLimit(parsed);
    if (beyond) return { kind: 'wrong', said: beyond };
    if (parsed.dimension === 'voltage') readings.push({ kind: 'voltage', voltageV: parsed.value, step: parsed.step });
    else if (parsed.dimension === 'mass') readings.push({ kind: 'mass', massKg: parsed.value, step: parsed.step });
    else return { kind: 'wrong', said: `"${word}" is no voltage or weight.` };
    inFull.push(/[\d.,]$/.test(word) ? `${word} ${parsed.dimension === 'mass' ? 'g' : 'V'}` : word);
  }
  const kinds = readings.map((reading) => reading.kind);
  if (new Set(kinds).size < kinds.length) return { kind: 'wrong', said: 'The same thing stands twice in this line.' };
  return { kind: 'readings', code: cell.code, readings, said: `${cell.code}: ${readings.map(sayReading).join(', ')}`, asks: asksAbout(readings, cell, batchV), inFull: inFull.join(' ') };
}

function findingsOf(word: string): InspectionFinding[] | null {
  const letters = word.toLowerCase();
  if (letters === 'ok') return [];
  const findings = [...letters].map((letter) => inspectionKeys.find((key) => inspectionFindings[key].key === letter));
  return findings.every((finding) => finding !== undefined) ? [...new Set(findings)] : null;
}

function sayReading(reading: IntakeReading): string {
  if (reading.kind === 'voltage') return formatRead(reading.voltageV, reading.step, display.voltage);
  if (reading.kind === 'mass') return formatRead(reading.massKg, reading.step, display.mass);
  return reading.findings.length === 0 ? 'inspected, nothing found' : reading.findings.map((finding) => inspectionFindings[finding].text).join(', ');
}

function asksAbout(readings: readonly IntakeReading[], cell: EntryCell, batchV: number | null): string | null {
  const questions = readings.map((reading) => {
    if (reading.kind === 'voltage') return askAboutVoltage(reading.voltageV, cell.chemistry, batchV);
    return reading.kind === 'mass' ? askAboutMass(reading.massKg, cell.modelMassKg) : null;
  });
  return questions.find((question) => question !== null) ?? null;
}

/** From so many voltages on a batch has a middle that a slip of the pen stands out from. */
const leastForMiddle = 5;

export function batchMiddleV(cells: readonly { voltageV: number | null }[]): number | null {
  const read = cells.flatMap((cell) => cell.voltageV ?? []);
  return read.length < leastForMiddle ? null : median(read);
}
