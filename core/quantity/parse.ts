/** What a typed figure may measure. Its SI unit is the unit of every parsed value. */
export type Dimension = 'voltage' | 'current' | 'resistance' | 'charge' | 'mass' | 'temperature' | 'time';

interface Unit {
  dimension: Dimension;
  /** What one of it is in the SI unit of its dimension (kg for mass, Ah for charge). */
  factor: number;
}

/** Every spelling understood, in lower case where case carries no meaning. */
const units: Record<string, Unit> = {
  v: { dimension: 'voltage', factor: 1 },
  volt: { dimension: 'voltage', factor: 1 },
  mv: { dimension: 'voltage', factor: 1e-3 },
  a: { dimension: 'current', factor: 1 },
  amp: { dimension: 'current', factor: 1 },
  ma: { dimension: 'current', factor: 1e-3 },
  ω: { dimension: 'resistance', factor: 1 },
  r: { dimension: 'resistance', factor: 1 },
  ohm: { dimension: 'resistance', factor: 1 },
  ohms: { dimension: 'resistance', factor: 1 },
  mω: { dimension: 'resistance', factor: 1e-3 },
  mohm: { dimension: 'resistance', factor: 1e-3 },
  ah: { dimension: 'charge', factor: 1 },
  mah: { dimension: 'charge', factor: 1e-3 },
  g: { dimension: 'mass', factor: 1e-3 },
  kg: { dimension: 'mass', factor: 1 },
  '°c': { dimension: 'temperature', factor: 1 },
  degc: { dimension: 'temperature', factor: 1 },
  s: { dimension: 'time', factor: 1 },
  min: { dimension: 'time', factor: 60 },
  h: { dimension: 'time', factor: 3600 },
};

/** Bare prefixes: "43.5m" takes its unit from what is being measured. */
const prefixes: Record<string, number> = { m: 1e-3, k: 1e3 };

export interface ParsedQuantity {
  dimension: Dimension;
  /** In the SI unit of the dimension; kg for mass, Ah for charge. */
  value: number;
  /** One step of the last digit typed, in the same unit. */
  step: number;
}

export interface BareUnit {
  dimension: Dimension;
  /** What a figure without unit is counted in: 1e-3 for mΩ in a resistance round. */
  factor: number;
}

/**
 * Reads one figure in any usual way of writing it: `3.712`, `3,712`, `3712 mV`, `43.5m`, `3V71`.
 * Returns null when the text is not a figure or its unit is unknown.
 *
 * @param bare what a figure without unit means here
 * @example parseQuantity('3V71', { dimension: 'voltage', factor: 1 }) // { dimension: 'voltage', value: 3.71, step:
 * 0.01 }
 */
export function parseQuantity(text: string, bare: BareUnit): ParsedQuantity | null {
  const compact = text.trim().replace(/\s+/g, '').replace('−', '-').replace('Ω', 'Ω');
  const inside = /^([+-]?\d+)([vVrRaA])(\d+)$/.exec(compact);
  if (inside) return parseQuantity(`${inside[1]}.${inside[3]}${inside[2]}`, bare);

  const match = /^([+-]?(?:\d[\d.,]*|[.,]\d+))(.*)$/.exec(compact);
  const figure = match?.[1] === undefined ? null : parseFigure(match[1]);
  if (!figure || match?.[2] === undefined) return null;

  const unit = unitOf(match[2], bare);
  if (!unit) return null;
  return {
    dimension: unit.dimension,
    value: inUnits(figure.value, unit.factor),
    step: inUnits(figure.step, unit.factor),
  };
}

/**
 * Moves the point where the unit is a thousandth: 45.2 mΩ is then 0.0452 Ω to the last bit, and not
 * 0.045200000000000004.
 */
function inUnits(figure: number, factor: number): number {
  const moved = factor === 1e-3 ? Number(`${figure}e-3`) : NaN;
  return Number.isNaN(moved) ? figure * factor : moved;
}

function unitOf(suffix: string, bare: BareUnit): Unit | null {
  if (suffix === '') return bare;
  const prefix = prefixes[suffix];
  if (prefix !== undefined) return { dimension: bare.dimension, factor: prefix };
  return units[suffix.toLowerCase()] ?? null;
}

/**
 * Reads a decimal with point or comma, perhaps with a power of ten. Where there are both, the last one is the decimal
 * sign; a lone comma is a decimal comma.
 */
export function parseFigure(text: string): { value: number; step: number } | null {
  if (plainDecimal.test(text)) {
    const point = text.indexOf('.');
    return { value: Number(text), step: point < 0 ? 1 : stepOf(text.length - point - 1) };
  }
  const [, mantissa, exponent] = powered.exec(text) ?? [];
  if (mantissa !== undefined && exponent !== undefined) {
    const figure = parseFigure(mantissa);
    if (!figure) return null;
    const value = Number(`${figure.value}e${exponent}`);
    return Number.isFinite(value) ? { value, step: figure.step * 10 ** Number(exponent) } : null;
  }
  if (!/^[+-]?[\d.,]*\d[\d.,]*$/.test(text)) return null;
  const lastSign = Math.max(text.lastIndexOf('.'), text.lastIndexOf(','));
  const both = text.includes('.') && text.includes(',');
  const repeated = text.split(/[.,]/).length > 2;
  if (repeated && !both) return null;
  const decimals = text.slice(lastSign + 1);
  const value = Number(`${text.slice(0, lastSign).replace(/[.,]/g, '')}.${decimals}`);
  return Number.isFinite(value) ? { value, step: stepOf(decimals.length) } : null;
}

/** Such as loggers write: 4.105E+00. */
const powered = /^([+-]?[\d.,]+)e([+-]?\d{1,2})$/i;

/** The form of nearly every figure of a log, read without further ado. */
const plainDecimal = /^[+-]?\d+(?:\.\d+)?$/;

/** The value alone of `parseFigure`, for the millions of figures of a log; space around it does not matter. */
export const figureValue = (text: string): number | null =>
  spacedDecimal.test(text) ? Number(text) : (parseFigure(text.trim())?.value ?? null);

const spacedDecimal = /^\s*[+-]?\d+(?:\.\d+)?\s*$/;

/** A hundred decimals are a slip of the finger; their last digit is still above 0. */
const stepOf = (decimals: number): number => 10 ** -Math.min(decimals, 15);
