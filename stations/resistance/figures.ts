import { type BareUnit, type Dimension, type ParsedQuantity, parseQuantity } from '@/core/quantity/parse';
import type { MethodKey } from '@/core/resistance/methods';
import type { ResistanceBody } from '@/core/judging/bodies';
import { withDegrees } from '@/ui/tokens';

/** What a figure without unit is, one after the other; the last one of `after` may be left out. */
const shapes: Record<Exclude<MethodKey, 'pulse'>, { first: BareUnit[]; optional: BareUnit[] }> = {
  'ac-meter': { first: [{ dimension: 'resistance', factor: 1e-3 }], optional: [{ dimension: 'voltage', factor: 1 }] },
  told: { first: [{ dimension: 'resistance', factor: 1e-3 }], optional: [{ dimension: 'voltage', factor: 1 }] },
  resistor: {
    first: [
      { dimension: 'voltage', factor: 1 },
      { dimension: 'voltage', factor: 1 },
    ],
    optional: [{ dimension: 'voltage', factor: 1 }],
  },
  ammeter: {
    first: [
      { dimension: 'voltage', factor: 1 },
      { dimension: 'voltage', factor: 1 },
      { dimension: 'current', factor: 1 },
    ],
    optional: [{ dimension: 'voltage', factor: 1 }],
  },
  preload: {
    first: [
      { dimension: 'voltage', factor: 1 },
      { dimension: 'voltage', factor: 1 },
      { dimension: 'current', factor: 1 },
      { dimension: 'voltage', factor: 1 },
    ],
    optional: [],
  },
  'two-current': {
    first: [
      { dimension: 'voltage', factor: 1 },
      { dimension: 'current', factor: 1 },
      { dimension: 'voltage', factor: 1 },
      { dimension: 'current', factor: 1 },
    ],
    optional: [],
  },
};

/** A bare figure below this in a round of milliohms was typed in ohms: no cell has half a milliohm. */
const leastMilliohm = 0.5;

/** A figure with the place of its word in the line. */
export type PlacedFigure = ParsedQuantity & { place: number };

export interface Figures {
  by: Partial<Record<Dimension, PlacedFigure[]>>;
  temperature: PlacedFigure | null;
}

/**
 * The figures by dimension in their order; the word that makes no sense; or null where there are too few or too many.
 */
export function figuresOf(words: readonly string[], method: Exclude<MethodKey, 'pulse'>): Figures | string | null {
  const { first, optional } = shapes[method];
  const open = [...first, ...optional];
  const by: Figures['by'] = {};
  let temperature: PlacedFigure | null = null;
  for (const [place, word] of words.entries()) {
    const parsed = parseQuantity(withDegrees(word), open[0] ?? { dimension: 'voltage', factor: 1 });
    if (parsed?.dimension === 'temperature' && temperature === null) {
      temperature = { ...parsed, place };
      continue;
    }
    const taken = parsed ? open.findIndex((unit) => unit.dimension === parsed.dimension) : -1;
    if (!parsed || taken < 0) return word;
    open.splice(taken, 1);
    by[parsed.dimension] = [...(by[parsed.dimension] ?? []), { ...inOhms(parsed, word), place }];
  }
  return words.length > 0 && open.length <= optional.length ? { by, temperature } : null;
}

/** `0.0435` in a round of milliohms is ohms. */
export function inOhms(parsed: ParsedQuantity, word: string): ParsedQuantity {
  const bare = /^[+-]?[\d.,]+$/.test(word);
  const small = parsed.dimension === 'resistance' && parsed.value > 0 && parsed.value < leastMilliohm / 1000;
  return (bare && small && parseQuantity(word, { dimension: 'resistance', factor: 1 })) || parsed;
}

/** The raw reading that figures are. */
export function bodyOf(method: Exclude<MethodKey, 'pulse'>, { by }: Figures): ResistanceBody {
  const volts = by.voltage ?? [];
  const amps = by.current ?? [];
  const coarsest = (figures: readonly ParsedQuantity[]) => Math.max(...figures.map((figure) => figure.step));
  const at = (figures: readonly ParsedQuantity[], i: number) => figures[i]?.value ?? NaN;
  const stepAt = (figures: readonly ParsedQuantity[], i: number) => figures[i]?.step ?? NaN;
  switch (method) {
    case 'ac-meter':
    case 'told':
      return {
        kind: 'resistance',
        resistanceOhm: by.resistance?.[0]?.value ?? NaN,
        step: by.resistance?.[0]?.step ?? 1e-4,
        openV: volts[0]?.value ?? null,
        openStep: volts[0]?.step ?? null,
      };
    case 'two-current':
      return {
        kind: 'two-current',
        atLowV: at(volts, 0),
        lowCurrentA: at(amps, 0),
        atHighV: at(volts, 1),
        highCurrentA: at(amps, 1),
        step: stepAt(volts, 0),
        highStep: stepAt(volts, 1),
        currentStep: coarsest(amps),
      };
    default:
      return {
        kind: 'load-step',
        openV: at(volts, 0),
        loadedV: at(volts, 1),
        afterV: volts[2]?.value ?? null,
        currentA: amps[0]?.value ?? null,
        step: stepAt(volts, 0),
        loadedStep: stepAt(volts, 1),
        afterStep: volts[2]?.step ?? null,
        currentStep: amps[0]?.step ?? null,
      };
  }
}
