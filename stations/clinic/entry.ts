import { askAboutVoltage } from '@/core/grading/plausibility';
import type { Chemistry } from '@/core/chemistry/chemistries';
import { display, formatFigure } from '@/core/quantity/format';
import { beyondLimit } from '@/core/quantity/limits';
import { parseQuantity } from '@/core/quantity/parse';
import { median } from 'simple-statistics';
import { packCodeOf, wordsOf } from '@/ui/tokens';

export interface PackContext {
  code: string;
  chemistry: Chemistry;
  series: number;
}

/** What of a pack its reading bar needs. */
export const packContext = ({ code, chemistry, series }: PackContext): PackContext => ({ code, chemistry, series });

export type GroupsLine =
  | { kind: 'nothing' }
  | { kind: 'wrong'; said: string }
  | { kind: 'go'; code: string }
  /** `inFull` is the line as it means the same whatever pack is shown. */
  | { kind: 'groups'; code: string; groupVoltagesV: number[]; terminalV: number | null; stepV: number; said: string; asks: string | null; inFull: string };

const volt = { dimension: 'voltage', factor: 1 } as const;

/**
 * Understands a line of group voltages from the black lead: the code of a pack unless one is shown, one voltage a group, and after `=` the
 * voltage at the terminals.
 */
export function understandGroups(text: string, shown: PackContext | null, packOf: (code: string) => PackContext | null): GroupsLine {
  const words = wordsOf(text.replace('=', ' = '), ['V', 'mV']);
  if (words.length === 0) return { kind: 'nothing' };
  const named = packCodeOf(words[0]);
  const figures = named ? words.slice(1) : words;
  if (named && figures.length === 0) return { kind: 'go', code: named };
  const current = named ? packOf(named) : shown;
  if (!current) return { kind: 'wrong', said: named ? `There is no pack ${named}.` : 'Begin with the code of a pack, such as PF1; alone it opens the pack.' };

  const parsed = figures.map((word) => (word === '=' ? '=' : parseQuantity(word, volt)));
  const bad = parsed.findIndex((figure) => figure === null || (figure !== '=' && figure.dimension !== 'voltage'));
  if (bad >= 0) return { kind: 'wrong', said: `"${figures[bad]}" was not understood as a voltage.` };
  const equals = parsed.indexOf('=');
  const groups = numbersOf(equals < 0 ? parsed : parsed.slice(0, equals));
  const terminals = equals < 0 ? [] : numbersOf(parsed.slice(equals + 1));
  if (groups.length !== current.series) return { kind: 'wrong', said: `${current.code} has ${current.series} groups; ${groups.length} voltage${groups.length === 1 ? ' was' : 's were'} read.` };
  if (equals >= 0 && terminals.length !== 1) return { kind: 'wrong', said: 'After = one voltage is expected, that of the terminals.' };

  const voltages = groups.map((figure) => figure.value);
  const terminal = terminals[0];
  const beyond = beyondOf(voltages, terminal?.value ?? null, current.series);
  if (beyond) return { kind: 'wrong', said: beyond };
  const spread = Math.max(...voltages) - Math.min(...voltages);
  return {
    kind: 'groups',
    code: current.code,
    groupVoltagesV: voltages,
    terminalV: terminal?.value ?? null,
    stepV: Math.max(...groups.map((figure) => figure.step)),
    said: `${current.code}: ${voltages.length} groups, spread ${formatFigure(spread, display.milliVolt)}${terminal ? `, terminals ${formatFigure(terminal.value, display.voltage, 2)}` : ''}`,
    asks: asksAbout(voltages, terminal?.value ?? null, current),
    inFull: `${current.code} ${figures.join(' ')}`,
  };
}

/** Why one of the voltages cannot be kept; that of the terminals is that of all groups together. */
function beyondOf(voltages: readonly number[], terminalV: number | null, series: number): string | null {
  const questions = voltages.map((value, i) => {
    const beyond = beyondLimit({ dimension: 'voltage', value });
    return beyond && `Group ${i + 1}, ${beyond}`;
  });
  if (terminalV !== null && beyondLimit({ dimension: 'voltage', value: terminalV / series })) questions.push(`Terminals: ${formatFigure(terminalV, display.voltage, 2)} is more than ${series} groups can have.`);
  return questions.find((question) => question !== null) ?? null;
}

interface Figure {
  value: number;
  step: number;
}

const numbersOf = (parsed: readonly (Figure | '=' | null)[]): Figure[] => parsed.filter((figure): figure is Figure => figure !== null && figure !== '=');

function asksAbout(voltages: number[], terminalV: number | null, { chemistry, series }: PackContext): string | null {
  for (const [i, voltage] of voltages.entries()) {
    const question = askAboutVoltage(voltage, chemistry, voltages.length > 2 ? median(voltages.filter((_, other) => other !== i)) : null);
    if (question) return `Group ${i + 1}: ${question}`;
  }
  const sum = voltages.reduce((total, voltage) => total + voltage, 0);
  // Beyond any meter's error: more likely a slip of the pen than a finding.
  if (terminalV !== null && Math.abs(terminalV - sum) > 0.15 * sum + 0.1 * series) return `The groups add up to ${formatFigure(sum, display.voltage, 2)}, the terminals say ${formatFigure(terminalV, display.voltage, 2)}?`;
  return null;
}
