import { cellCodeOf } from '@/ui/tokens';
import type { PackNeed } from '@/core/judging/candidates';
import { z } from 'zod';

const codesIn = (text: string): string[] => text.split(/[\s,]+/).flatMap((word) => cellCodeOf(word) ?? []);

const count = z.coerce.number().int().min(1).max(100);

const needSchema = z.object({
  series: count,
  parallel: count,
  model: z.string().default(''),
  duty: z.enum(['surge', 'steady', 'trickle']).catch('steady'),
  enoughAh: z
    .string()
    .optional()
    .transform((text) => (text && Number(text.replace(',', '.')) > 0 ? Number(text.replace(',', '.')) : null)),
  without: z.string().default('').transform(codesIn),
});

export function needOf(parameters: Record<string, string | undefined>): PackNeed | null {
  const read = needSchema.safeParse(parameters);
  return read.success ? read.data : null;
}

/** The address of its match. */
export function needHref({
  series,
  parallel,
  model,
  duty = 'steady',
  enoughAh = null,
  without,
}: Pick<PackNeed, 'series' | 'parallel' | 'model' | 'without'> & Partial<PackNeed>): string {
  const asked = {
    series: String(series),
    parallel: String(parallel),
    model,
    duty,
    ...(enoughAh !== null && { enoughAh: String(enoughAh) }),
    ...(without.length > 0 && { without: without.join(' ') }),
  };
  return `/builds/new?${new URLSearchParams(asked)}`;
}

/**
 * Reads `4s3p`, `4 s 3 p` or `4x3`, and after `without` the codes of cells that shall not be in it; null for anything
 * else.
 */
export function needOfText(text: string): { series: number; parallel: number; without: string[] } | null {
  const match = /^\s*(\d{1,3})\s*(?:s|x|×)\s*(\d{1,3})\s*p?\s*(?:without\s+(.+))?$/i.exec(text);
  const named = (match?.[3] ?? '').split(/[\s,]+/).filter(Boolean);
  const [series, parallel] = [Number(match?.[1]), Number(match?.[2])];
  return match &&
    series > 0 &&
    parallel > 0 &&
    series <= 100 &&
    parallel <= 100 &&
    named.every((word) => cellCodeOf(word) !== null)
    ? { series, parallel, without: codesIn(match[3] ?? '') }
    : null;
}
