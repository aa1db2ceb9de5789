import { parseFigure } from './parse';

/**
 * A number as people and programs write it, with a decimal point or comma, perhaps with a power of ten; null for any
 * other text: empty, hexadecimal, infinite.
 */
export const numberIn = (text: string): number | null => parseFigure(text.trim())?.value ?? null;

/** A whole number without a separator, since 1,000 may be one or a thousand; null for any other text. */
export const countIn = (text: string): number | null => (/^\d{1,15}$/.test(text.trim()) ? Number(text) : null);
