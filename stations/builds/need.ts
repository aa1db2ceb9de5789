import { z } from 'zod';

/** What a pack must be, as the address of the match says it; `null` for an address without a pack. */
export interface PackNeed {
  series: number;
  parallel: number;
  model: string;
  /** Only cells of this duty or better. */
  duty: 'surge' | 'steady' | 'trickle';
  enoughAh: number | null;
}

const count = z.coerce.number().int().min(1).max(100);

const needSchema = z.object({
  series: count,
  parallel: count,
  model: z.string().default(''),
  duty: z.enum(['surge', 'steady', 'trickle']).catch('steady'),
  enoughAh: z.string().optional().transform((text) => (text && Number(text.replace(',', '.')) > 0 ? Number(text.replace(',', '.')) : null)),
});

export function needOf(parameters: Record<string, string | undefined>): PackNeed | null {
  const read = needSchema.safeParse(parameters);
  return read.success ? read.data : null;
}

/** Reads `4s3p`, `4 s 3 p` or `4x3`; null for anything else. */
export function needOfText(text: string): { series: number; parallel: number } | null {
  const match = /^\s*(\d{1,3})\s*(?:s|x|×)\s*(\d{1,3})\s*p?\s*$/i.exec(text);
  const [series, parallel] = [Number(match?.[1]), Number(match?.[2])];
  return match && series > 0 && parallel > 0 && series <= 100 && parallel <= 100 ? { series, parallel } : null;
}
