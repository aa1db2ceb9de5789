import { askAboutResistance, askAboutVoltage } from '@/core/grading/plausibility';
import type { Chemistry } from '@/core/chemistry/chemistries';
import { display, formatFigure } from '@/core/quantity/format';
import { parseQuantity } from '@/core/quantity/parse';
import { cellCodeOf, wordsOf } from '@/ui/tokens';

export interface RoundCell {
  code: string;
  chemistry: Chemistry;
}

export interface RoundContext {
  method: 'resistor' | 'ammeter';
  loadResistanceOhm: number | null;
  batchMedianOhm: number | null;
}

export interface StepReading {
  openV: number;
  loadedV: number;
  afterV: number | null;
  currentA: number | null;
  step: number;
  currentStep: number | null;
}

export type StepLine =
  | { kind: 'nothing' }
  | { kind: 'wrong'; said: string }
  | { kind: 'go'; code: string }
  | { kind: 'step'; code: string; reading: StepReading; said: string; asks: string | null };

/**
 * Understands a line of a resistance round: an optional cell code, open and loaded voltage, with an ammeter the current,
 * and last, if it was read, the level after the load was taken off, from which the droop follows.
 */
export function understandStep(text: string, round: RoundContext, current: RoundCell | null, cellOf: (code: string) => RoundCell | null): StepLine {
  const words = wordsOf(text, ['V', 'mV', 'A', 'mA']);
  if (words.length === 0) return { kind: 'nothing' };
  const named = cellCodeOf(words[0]);
  const cell = named ? cellOf(named) : current;
  if (!cell) return { kind: 'wrong', said: named ? `${named} is not among the cells of this round.` : 'Every cell was measured; begin with the code of the one to measure again.' };
  const figures = named ? words.slice(1) : words;
  if (figures.length === 0) return { kind: 'go', code: cell.code };

  const needsCurrent = round.method === 'ammeter';
  const expected = needsCurrent ? 'open, loaded, current, and perhaps the level after: 4.03 3.91 1.74 4.02' : 'open, loaded, and perhaps the level after: 4.03 3.91 4.02';
  const volts: { value: number; step: number }[] = [];
  let measured: { value: number; step: number } | null = null;
  for (const word of figures) {
    const isThird = needsCurrent && measured === null && volts.length === 2;
    const parsed = parseQuantity(word, { dimension: isThird ? 'current' : 'voltage', factor: 1 });
    if (parsed?.dimension === 'voltage') volts.push(parsed);
    else if (parsed?.dimension === 'current' && needsCurrent && measured === null) measured = parsed;
    else return { kind: 'wrong', said: `"${word}" was not understood. Expected ${expected}.` };
  }
  const [open, loaded, after] = volts;
  if (!open || !loaded || volts.length > 3 || (needsCurrent && measured === null)) {
    return figures.length < (needsCurrent ? 3 : 2) ? { kind: 'wrong', said: `${cell.code}: expected ${expected}.` } : { kind: 'wrong', said: `Too much or too little: expected ${expected}.` };
  }
  if (measured && !(measured.value > 0)) return { kind: 'wrong', said: 'The current must be above zero.' };
  const reading: StepReading = {
    openV: open.value,
    loadedV: loaded.value,
    afterV: after?.value ?? null,
    currentA: measured?.value ?? null,
    step: Math.max(...volts.map((volt) => volt.step)),
    currentStep: measured?.step ?? null,
  };
  return { kind: 'step', code: cell.code, reading, said: sayStep(cell.code, reading), asks: asksAbout(reading, round, cell) };
}

function sayStep(code: string, { openV, loadedV, afterV, currentA }: StepReading): string {
  const volts = (value: number) => formatFigure(value, display.voltage);
  return `${code}: open ${volts(openV)}, loaded ${volts(loadedV)}${currentA === null ? '' : ` at ${formatFigure(currentA, display.current)}`}${afterV === null ? '' : `, after ${volts(afterV)}`}`;
}

function asksAbout(reading: StepReading, round: RoundContext, cell: RoundCell): string | null {
  const { openV, loadedV, afterV } = reading;
  const volts = [openV, loadedV, ...(afterV === null ? [] : [afterV])].map((value) => askAboutVoltage(value, cell.chemistry));
  const odd = volts.find((question) => question !== null);
  if (odd) return odd;
  if (loadedV >= openV) return 'Under load the voltage is the lower one: were the two swapped?';
  const droopV = afterV === null ? 0 : openV - afterV;
  if (droopV < 0) return 'The level after lies above the one before: was the cell still settling?';
  if (droopV >= openV - loadedV) return 'The level after is as low as the loaded one: was the load still on?';
  const currentA = reading.currentA ?? loadedV / (round.loadResistanceOhm ?? Infinity);
  return askAboutResistance((openV - loadedV - droopV) / currentA, round.batchMedianOhm);
}
