import type { Quantity } from './quantity';

/** How a kind of figure is shown to people: its factor from SI and its unit sign. */
export interface Display {
  unit: string;
  factor: number;
  /** Decimals where no uncertainty is known. */
  decimals: number;
}

export const display = {
  voltage: { unit: 'V', factor: 1, decimals: 3 },
  milliVolt: { unit: 'mV', factor: 1e3, decimals: 0 },
  current: { unit: 'A', factor: 1, decimals: 2 },
  milliCurrent: { unit: 'mA', factor: 1e3, decimals: 2 },
  resistance: { unit: 'mΩ', factor: 1e3, decimals: 1 },
  capacity: { unit: 'Ah', factor: 1, decimals: 3 },
  milliCapacity: { unit: 'mAh', factor: 1e3, decimals: 0 },
  energy: { unit: 'Wh', factor: 1, decimals: 2 },
  mass: { unit: 'g', factor: 1e3, decimals: 1 },
  power: { unit: 'W', factor: 1, decimals: 1 },
  share: { unit: '%', factor: 100, decimals: 0 },
  cRate: { unit: 'C', factor: 1, decimals: 2 },
  charge: { unit: '%', factor: 100, decimals: 0 },
} satisfies Record<string, Display>;

/** A figure with a minus sign where it had a hyphen. */
export const minus = (figure: string): string => figure.replace('-', '−');

/** A plain figure in a unit people use, e.g. `3.712 V`. */
export function formatFigure(value: number, as: Display, decimals = as.decimals): string {
  return `${minus((value * as.factor).toFixed(decimals))} ${as.unit}`;
}

/** More decimals than this no instrument shows; a slip of the finger may hold hundreds. */
const mostDecimals = 6;

/** Decimal places down to a step; none for steps of one and more. */
export const decimalsOfStep = (step: number): number =>
  Math.min(mostDecimals, Math.max(0, Math.ceil(-Math.log10(step) - 1e-9)));

/**
 * A figure as it was read: every digit of it and no more, so that 4.14 stays 4.14.
 *
 * @param step its last digit in the SI unit, above 0
 */
export const formatRead = (value: number, step: number, as: Display): string =>
  formatFigure(value, as, decimalsOfStep(step * as.factor));

/**
 * Value and standard uncertainty, both rounded to what is known: the uncertainty keeps one significant
 * digit, or two when it begins with 1 or 2.
 *
 * @example formatQuantity({ value: 0.0436, u: 0.0011 }, display.resistance) // '43.6 ± 1.1 mΩ'
 */
export function formatQuantity(quantity: Quantity, as: Display): string {
  const { figure, uncertainty, unit } = quantityParts(quantity, as);
  return uncertainty === '' ? `${figure} ${unit}` : `${figure} ± ${uncertainty} ${unit}`;
}

/** The same, in parts, for a screen that sets them in different sizes. */
export function quantityParts(
  { value, u }: Quantity,
  as: Display,
): { figure: string; uncertainty: string; unit: string } {
  const shown = value * as.factor;
  const uncertainty = u * as.factor;
  if (!(uncertainty > 0)) return { figure: minus(shown.toFixed(as.decimals)), uncertainty: '', unit: as.unit };
  const decimals = knownDecimals(uncertainty);
  const scale = 10 ** Math.max(0, -decimals);
  const places = Math.max(0, decimals);
  const round = (x: number) => minus((Math.round(x / scale) * scale).toFixed(places));
  return {
    figure: decimals >= 0 ? minus(shown.toFixed(places)) : round(shown),
    uncertainty: decimals >= 0 ? uncertainty.toFixed(places) : round(uncertainty),
    unit: as.unit,
  };
}

/** Decimal places down to the last digit that `u` lets one know; negative to the left of the point. */
function knownDecimals(u: number): number {
  const exponent = Math.floor(Math.log10(u));
  const lead = u / 10 ** exponent;
  return Math.min(mostDecimals, (lead < 2.95 ? 1 : 0) - exponent);
}

/** A duration as a watch shows it: `0:47:10`, or `2 d 4 h` beyond two days. */
export function formatDuration(seconds: number): string {
  const whole = Math.max(0, Math.round(seconds));
  if (whole >= 172_800) return `${Math.floor(whole / 86_400)} d ${Math.floor((whole % 86_400) / 3600)} h`;
  const pad = (n: number) => String(n).padStart(2, '0');
  return `${Math.floor(whole / 3600)}:${pad(Math.floor((whole % 3600) / 60))}:${pad(whole % 60)}`;
}
