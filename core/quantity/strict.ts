import { parseFigure } from './parse';

/**
 * A number as people and programs write it, with a decimal point or comma, perhaps with a power of ten; null for any
 * other text: empty, hexadecimal, infinite.
 */
export const numberIn = (text: string): number | null => parseFigure(text.trim())?.value ?? null;

/** A whole number without a separator, since 1,000 may be one or a thousand; null for any other text. */
export const countIn = (text: string): number | null => (/^\d{1,15}$/.test(text.trim()) ? Number(text) : null);

const [firstMs, lastMs] = [Date.UTC(1970, 0, 1), Date.UTC(2200, 0, 1)];

/** Whether a time lies where cells are measured: from 1970 to 2200. Others are slips, such as the year 0. */
export const isInOurTime = (at: Date): boolean => at.getTime() >= firstMs && at.getTime() <= lastMs;
