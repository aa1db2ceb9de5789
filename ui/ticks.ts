/** Round values that enclose a range, eight steps at most. */
export function ticksOver(low: number, high: number, steps: readonly number[]): number[] {
  const step = steps.find((one) => (high - low) / one <= 8) ?? (high - low) / 8;
  const first = Math.floor(low / step + 1e-9);
  return Array.from({ length: Math.ceil(high / step - 1e-9) - first + 1 }, (_, i) => (first + i) * step);
}
