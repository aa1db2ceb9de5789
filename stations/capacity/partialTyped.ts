import { parseQuantity } from '@/core/quantity/parse';

const volt = { dimension: 'voltage', factor: 1 } as const;

/** Rested voltages as typed, one a group from the negative terminal. */
export interface TypedVolts {
  volts: number[];
  /** The coarsest of their last digits. */
  step: number;
}

/** The voltages of this many groups; or what is wrong with them, null while nothing is typed. */
export function typedVolts(text: string, series: number): TypedVolts | { wrong: string } | null {
  const words = text
    .trim()
    .split(/[\s;]+/)
    .filter(Boolean);
  if (words.length === 0) return null;
  const read = words.map((word) => parseQuantity(word, volt));
  const bad = words[read.findIndex((one) => one?.dimension !== 'voltage')];
  if (bad !== undefined) return { wrong: `"${bad}" was not understood as a voltage.` };
  const implausible = read.find((one) => one && (one.value < 2 || one.value > 4.5));
  if (implausible)
    return { wrong: `${implausible.value} V is no rested lithium cell: of each group its own, not the sum.` };
  if (read.length !== series) return { wrong: `It has ${series}; ${read.length} were read.` };
  return {
    volts: read.map((one) => one?.value ?? NaN),
    step: Math.max(...read.map((one) => one?.step ?? NaN)),
  };
}

const charge = { dimension: 'charge', factor: 1 } as const;

/** A charge as typed, Ah: a bare figure of a hundred or more is mAh; null for anything else. */
export function typedCharge(text: string): number | null {
  const read = parseQuantity(text.trim(), charge);
  if (read?.dimension !== 'charge' || !(read.value > 0)) return null;
  return /^[\d.,]+$/.test(text.trim()) && read.value >= 100 ? read.value / 1000 : read.value;
}
