import { cellCodeOf } from '@/ui/tokens';
import { dutyNow } from '@/core/grading/duty';
import type { PackNeed } from '@/core/judging/candidates';
import { numberIn } from '@/core/quantity/strict';
import { countText } from '@/workshop/strictFields';
import { z } from 'zod';

const codesIn = (text: string): string[] => text.split(/[\s,]+/).flatMap((word) => cellCodeOf(word) ?? []);

const count = countText(z.number().min(1).max(100));

/** A figure above 0, with a comma or a point; null where there is none. */
const figure = z
  .string()
  .optional()
  .transform((text) => {
    const value = numberIn(text ?? '') ?? 0;
    return value > 0 ? value : null;
  });

const duty = z.preprocess(dutyNow, z.enum(['surge', 'steady', 'light']).catch('steady'));
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

/** As many as a need may ask for; and of this many numbers in series each is simulated. */
const [mostInSeries, widestSpan] = [100, 20];

/** With a comma or a point. */
const numberOf = (text: string): number => numberIn(text) ?? NaN;

/** Without signs: a line between two makes a span of them. */
const numbersIn = (text: string): number[] => (text.match(/\d+(?:[.,]\d+)?/g) ?? []).map(numberOf);

/** Nothing, or text of that form; `say` says what is expected. */
const formed = (form: RegExp, say: string) =>
  z
    .string()
    .trim()
    .default('')
    .refine((text) => text === '' || form.test(text), say);

const span = (text: string): { from: number; to: number } | null => {
  const [from, to = from] = numbersIn(text);
  return from === undefined || to === undefined ? null : { from: Math.min(from, to), to: Math.max(from, to) };
};

const spanForm = (number: string): RegExp => new RegExp(`^${number}(?:\\s*(?:-|–|to)\\s*${number})?$`);
const seriesSay = 'In series: expected a whole number such as 7, or a span such as 6-8; or leave it to the window.';

const jobSchema = z
  .object({
    model: z.string().default(''),
    duty,
    series: formed(spanForm('\\d{1,3}'), seriesSay).transform(span),
    windowV: formed(
      /^\d+(?:[.,]\d+)?\s*(?:-|–|to)\s*\d+(?:[.,]\d+)?$/,
      'Volts it bears: expected two, such as 18-29.4.',
    ).transform(span),
    loadA: figure,
    loadW: figure,
    minutes: figure,
    energyWh: figure,
    peakA: figure,
    lowestV: figure,
    temperatureC: formed(/^-?\d{1,2}(?:[.,]\d)?$/, 'Used at: expected °C, such as -5.').transform((text) =>
      text === '' ? null : numberOf(text),
    ),
    room: formed(
      /^\d+(?:[.,]\d+)?(?:\s*[x×*]\s*\d+(?:[.,]\d+)?){2}$/i,
      'Room: expected three sides in mm, such as 80 x 100 x 70.',
    ).transform((text) => (text === '' ? null : (numbersIn(text) as [number, number, number]))),
    size: z.string().trim().max(40).default(''),
  })
  .refine(({ series, windowV }) => series !== null || windowV !== null, seriesSay)
  .refine(
    ({ series }) =>
      series === null || (series.from > 0 && series.to <= mostInSeries && series.to - series.from <= widestSpan),
    `In series: at most ${mostInSeries}, and ${widestSpan} numbers at a time.`,
  )
  .transform(({ loadA, loadW, windowV, ...job }) => ({
    ...job,
    load: loadOf(loadA, loadW),
    windowV: windowV && { low: windowV.from, high: windowV.to },
  }));

/** What a pack is to do, before it has a shape. */
export type JobRequest = z.output<typeof jobSchema>;

/** The job of an address, or what is expected instead. */
export function jobOf(parameters: Record<string, string | undefined>): JobRequest | { said: string } {
  const read = jobSchema.safeParse(parameters);
  return read.success ? read.data : { said: read.error.issues[0]?.message ?? seriesSay };
}

const loadAsked = (load: PackNeed['load']): Record<string, string> => {
  if (load === null) return {};
  return 'currentA' in load ? { loadA: String(load.currentA) } : { loadW: String(load.powerW) };
};
const parameterOf = (name: string, value: number | null): Record<string, string> =>
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
    ...parameterOf('enoughAh', enoughAh),
    ...(without.length > 0 && { without: without.join(' ') }),
    ...(pins.length > 0 && { pins: pins.join(' ') }),
    ...loadAsked(load),
    ...parameterOf('minutes', minutes),
    ...parameterOf('lowestV', lowestV),
  };
  return `/builds/new?${new URLSearchParams(query)}`;
}

/**
 * Reads a job such as `7s 10A 40min 3.0V`: in series or the volts of a window (`18-29.4V`), the load in amperes or
 * watts, for how long or how much (`90Wh`), and the lowest voltage of a group where one is given; gives the address of
 * its shapes, or null for anything else.
 */
export function jobHrefOfText(text: string, model: string): string | null {
  const number = '(\\d+(?:[.,]\\d+)?)';
  const form =
    `^\\s*(?:(\\d{1,3}(?:-\\d{1,3})?)\\s*s|(\\d+(?:[.,]\\d+)?-\\d+(?:[.,]\\d+)?)\\s*v)` +
    `\\s+${number}\\s*(a|w)\\s+${number}\\s*(min|wh)(?:\\s+${number}\\s*v)?\\s*$`;
  const read = new RegExp(form, 'i').exec(text);
  if (!read) return null;
  const [, series, windowV, load = '', unit = '', amount = '', of = '', lowestV] = read;
  const query = {
    ...(series && { series }),
    ...(windowV && { windowV }),
    [unit.toLowerCase() === 'a' ? 'loadA' : 'loadW']: load,
    [of.toLowerCase() === 'min' ? 'minutes' : 'energyWh']: amount,
    model,
    ...(lowestV && { lowestV }),
  };
  return `/builds/job?${new URLSearchParams(query)}`;
}

/**
 * Reads `4s3p`, `4 s 3 p` or `4x3`, and after `without` the codes of cells that must not be in it; null for anything
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

/** What a bar makes of `4s3p` or `7s 10A 40min`: a match, or the shapes that do the job; null of any other line. */
export function packLine(text: string, model: string): { kind: 'go'; said: string; href: string } | null {
  const job = jobHrefOfText(text, model);
  if (job) return { kind: 'go', said: `shapes of ${model} for that job`, href: job };
  const need = needOfText(text);
  if (!need) return null;
  const without = need.without.length > 0 ? ` without ${need.without.join(', ')}` : '';
  return {
    kind: 'go',
    said: `match ${need.series} in series, ${need.parallel} in parallel of ${model}${without}`,
    href: needHref({ ...need, model }),
  };
}
