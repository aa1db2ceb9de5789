import { minus } from '@/core/quantity/format';

/** Round values that enclose a range, eight steps at most. */
export function ticksOver(low: number, high: number, steps: readonly number[]): number[] {
  const step = steps.find((one) => (high - low) / one <= 8) ?? (high - low) / 8;
  const first = Math.floor(low / step + 1e-9);
  return Array.from({ length: Math.ceil(high / step - 1e-9) - first + 1 }, (_, i) => (first + i) * step);
}

/** Round values inside a range, eight at most. */
export function ticksWithin(low: number, high: number, steps: readonly number[]): number[] {
  const step = steps.find((one) => (high - low) / one <= 7) ?? (high - low) / 7;
  const first = Math.ceil(low / step - 1e-9);
  return Array.from({ length: Math.max(0, Math.floor(high / step + 1e-9) - first + 1) }, (_, i) => (first + i) * step);
}

/** Such a value as an axis shows it: without the stray digits of sums, with a minus sign. */
export const tickText = (tick: number): string => minus(String(Number(tick.toPrecision(3))));
