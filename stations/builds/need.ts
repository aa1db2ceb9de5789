import { cellCodeOf } from '@/ui/tokens';
import type { PackNeed } from '@/core/judging/candidates';
import { z } from 'zod';

const codesIn = (text: string): string[] => text.split(/[\s,]+/).flatMap((word) => cellCodeOf(word) ?? []);

const count = z.coerce.number().int().min(1).max(100);

/** A figure above nought, with a comma or a point; null where there is none. */
const figure = z
  .string()
  .optional()
  .transform((text) => (text && Number(text.replace(',', '.')) > 0 ? Number(text.replace(',', '.')) : null));

const duty = z.enum(['surge', 'steady', 'trickle']).catch('steady');
const loadOf = (loadA: number | null, loadW: number | null): PackNeed['load'] => {
  if (loadA !== null) return { currentA: loadA };
  return loadW === null ? null : { powerW: loadW };
};

const needSchema = z
  .object({
    series: count,
    parallel: count,
    model: z.string().default(''),
    duty,
    enoughAh: figure,
    without: z.string().default('').transform(codesIn),
    pins: z.string().default('').transform(codesIn),
    loadA: figure,
    loadW: figure,
    minutes: figure,
    lowestV: figure,
  })
  .transform(({ loadA, loadW, ...need }): PackNeed => ({ ...need, load: loadOf(loadA, loadW) }));

export function needOf(parameters: Record<string, string | undefined>): PackNeed | null {
  const read = needSchema.safeParse(parameters);
  return read.success ? read.data : null;
}

const jobSchema = z
  .object({
    model: z.string().default(''),
    duty,
    series: z.string().regex(/^\s*\d{1,3}(?:\s*(?:-|–|to)\s*\d{1,3})?\s*$/),
    loadA: figure,
    loadW: figure,
    minutes: figure,
    peakA: figure,
    lowestV: figure,
  })
  .transform(({ loadA, loadW, series, ...job }) => {
    const [from = 0, to = from] = (series.match(/\d+/g) ?? []).map(Number);
    return { ...job, load: loadOf(loadA, loadW), series: { from: Math.min(from, to), to: Math.max(from, to) } };
  });

/** As many as a need may ask for; and of so many numbers in series each is simulated. */
const [mostInSeries, widestSpan] = [100, 20];

/** What a pack is to do, before it has a shape. */
export type JobAsked = z.output<typeof jobSchema>;

export function jobOf(parameters: Record<string, string | undefined>): JobAsked | null {
  const read = jobSchema.safeParse(parameters);
  if (!read.success) return null;
  const { from, to } = read.data.series;
  return from > 0 && to <= mostInSeries && to - from <= widestSpan ? read.data : null;
}

const loadAsked = (load: PackNeed['load']): Record<string, string> => {
  if (load === null) return {};
  return 'currentA' in load ? { loadA: String(load.currentA) } : { loadW: String(load.powerW) };
};
const asked = (name: string, value: number | null): Record<string, string> =>
  value === null ? {} : { [name]: String(value) };

/** The address of its match. */
export function needHref({
  series,
  parallel,
  model,
  duty: of = 'steady',
  enoughAh = null,
  without,
  pins = [],
  load = null,
  minutes = null,
  lowestV = null,
}: Pick<PackNeed, 'series' | 'parallel' | 'model' | 'without'> & Partial<PackNeed>): string {
  const query = {
    series: String(series),
    parallel: String(parallel),
    model,
    duty: of,
    ...asked('enoughAh', enoughAh),
    ...(without.length > 0 && { without: without.join(' ') }),
    ...(pins.length > 0 && { pins: pins.join(' ') }),
    ...loadAsked(load),
    ...asked('minutes', minutes),
    ...asked('lowestV', lowestV),
  };
  return `/builds/new?${new URLSearchParams(query)}`;
}

/**
 * Reads a job such as `7s 10A 40min 3.0V`: in series, the load in amperes or watts, for how long, and the lowest
 * voltage of a group where one is given; gives the address of its shapes, or null for anything else.
 */
export function jobHrefOfText(text: string, model: string): string | null {
  const number = '(\\d+(?:[.,]\\d+)?)';
  const form =
    `^\\s*(\\d{1,3}(?:-\\d{1,3})?)\\s*s\\s+${number}\\s*(a|w)` + `\\s+${number}\\s*min(?:\\s+${number}\\s*v)?\\s*$`;
  const read = new RegExp(form, 'i').exec(text);
  if (!read) return null;
  const [, series = '', load = '', unit = '', minutes = '', lowestV] = read;
  const query = {
    series,
    [unit.toLowerCase() === 'a' ? 'loadA' : 'loadW']: load,
    minutes,
    model,
    ...(lowestV && { lowestV }),
  };
  return `/builds/job?${new URLSearchParams(query)}`;
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
