import { ImpossibleInput } from '../impossibleInput';
import type { Quantity } from '../quantity/quantity';
import { type MonotoneCurve, monotoneCurve } from '../statistics/monotone';
import type { Chemistry } from './chemistries';

export type Rechargeable = Exclude<Chemistry, 'alkaline'>;

interface Table {
  source: 'common practice' | 'from memory';
  /** By how much cells of this make differ from the table, V: a limit, either way. */
  limitV: number;
  /**
   * A cell that was charged rests higher than one that was discharged to the same charge; the table lies between, V:
   * a limit, either way. Domain: 5–20 mV apart for iron phosphate; nickel from memory.
   */
  hysteresisV?: number;
  /** [state of charge in %, rested volts], rising. */
  points: readonly (readonly [number, number])[];
}

const tables: Record<Rechargeable, Table> = {
  lipo: {
    source: 'common practice',
    limitV: 0.03,
    points: [
      [0, 3.27],
      [5, 3.61],
      [10, 3.69],
      [15, 3.71],
      [20, 3.73],
      [25, 3.75],
      [30, 3.77],
      [35, 3.79],
      [40, 3.8],
      [45, 3.82],
      [50, 3.84],
      [55, 3.85],
      [60, 3.87],
      [65, 3.91],
      [70, 3.95],
      [75, 3.98],
      [80, 4.02],
      [85, 4.08],
      [90, 4.11],
      [95, 4.15],
      [100, 4.2],
    ],
  },
  'li-ion': {
    source: 'from memory',
    limitV: 0.03,
    points: [
      [0, 2.95],
      [5, 3.3],
      [10, 3.43],
      [20, 3.54],
      [30, 3.6],
      [40, 3.65],
      [50, 3.71],
      [60, 3.79],
      [70, 3.88],
      [80, 3.97],
      [90, 4.06],
      [100, 4.18],
    ],
  },
  lihv: {
    source: 'from memory',
    limitV: 0.035,
    points: [
      [0, 3.27],
      [5, 3.61],
      [10, 3.69],
      [20, 3.74],
      [30, 3.78],
      [40, 3.82],
      [50, 3.87],
      [60, 3.94],
      [70, 4.04],
      [80, 4.14],
      [90, 4.24],
      [100, 4.34],
    ],
  },
  lfp: {
    source: 'from memory',
    limitV: 0.02,
    hysteresisV: 0.01,
    points: [
      [0, 2.5],
      [5, 3.05],
      [10, 3.18],
      [20, 3.24],
      [30, 3.27],
      [40, 3.285],
      [50, 3.292],
      [60, 3.3],
      [70, 3.318],
      [80, 3.327],
      [90, 3.335],
      [95, 3.345],
      [100, 3.45],
    ],
  },
  nimh: {
    source: 'from memory',
    limitV: 0.035,
    hysteresisV: 0.02,
    points: [
      [0, 1.05],
      [5, 1.16],
      [10, 1.2],
      [20, 1.235],
      [40, 1.26],
      [60, 1.28],
      [80, 1.31],
      [90, 1.34],
      [100, 1.41],
    ],
  },
  nicd: {
    source: 'from memory',
    limitV: 0.035,
    hysteresisV: 0.02,
    points: [
      [0, 1.05],
      [5, 1.17],
      [10, 1.21],
      [20, 1.24],
      [40, 1.26],
      [60, 1.275],
      [80, 1.295],
      [90, 1.315],
      [100, 1.37],
    ],
  },
  sla: {
    source: 'from memory',
    limitV: 0.025,
    points: [
      [0, 1.93],
      [10, 1.95],
      [20, 1.97],
      [40, 2.01],
      [60, 2.05],
      [80, 2.09],
      [100, 2.135],
    ],
  },
};

/** What the positive electrode of a cylindrical cell is made of. */
export const makes = ['mixed-oxide', 'cobalt', 'manganese'] as const;
export type Make = (typeof makes)[number];

/** Cylindrical cells of other electrodes; the table of their chemistry is that of mixed oxides. */
const otherMakes: Record<Exclude<Make, 'mixed-oxide'>, Table> = {
  cobalt: {
    source: 'from memory',
    limitV: 0.03,
    points: [
      [0, 3.0],
      [5, 3.52],
      [10, 3.65],
      [20, 3.73],
      [30, 3.77],
      [40, 3.8],
      [50, 3.84],
      [60, 3.89],
      [70, 3.96],
      [80, 4.04],
      [90, 4.11],
      [100, 4.19],
    ],
  },
  manganese: {
    source: 'from memory',
    limitV: 0.03,
    points: [
      [0, 3.0],
      [5, 3.45],
      [10, 3.58],
      [20, 3.74],
      [30, 3.84],
      [40, 3.9],
      [50, 3.95],
      [60, 3.98],
      [70, 4.01],
      [80, 4.06],
      [90, 4.11],
      [100, 4.18],
    ],
  },
};

/** How many cylindrical cells of unknown make are of each, among salvaged ones. From memory. */
export const usualMakes: Readonly<Record<Make, number>> = { 'mixed-oxide': 0.75, cobalt: 0.2, manganese: 0.05 };

export type CurveSource = Table['source'] | 'learnt';

/** A curve that a cell may have. */
export interface CurveOption {
  probability: number;
  /** [state of charge 0 to 1, rested volts], rising. */
  points: readonly (readonly [number, number])[];
  /** Standard uncertainty of the curve as a description of a given cell, V. */
  u: number;
}

/** An open-circuit curve as plain data, which any thread or browser can be given. */
export interface PlainCurve {
  /** A table, or measured in a discharge of its own model. */
  source: CurveSource;
  /** The most likely first: the values are by that one, the uncertainty covers the others. */
  options: readonly CurveOption[];
}

/** Rested open-circuit voltage of one cell against its state of charge (0 to 1). */
export interface OpenCircuitCurve {
  source: CurveSource;
  plain: PlainCurve;
  /** Each curve that the cell may have, the most likely first; a curve of one make has itself alone. */
  options: readonly { probability: number; curve: OpenCircuitCurve }[];
  voltageAt(soc: number): number;
  /** Standard uncertainty of the voltage at that charge, V. */
  uAt(soc: number): number;
  /** dV/dSoC at that charge, V per whole charge. */
  slopeAt(soc: number): number;
  /**
   * State of charge at a rested voltage. The uncertainty of the voltage and of the curve is carried through the curve,
   * which is bent: half the difference between the charges at either end of it, and what other makes differ by, but
   * never more than knowing nothing (rectangular from 0 to 1). Beyond its ends the curve goes on as steep as it ended,
   * and by how far the voltage lies beyond, the curve is wrong.
   */
  socAt(restedV: Quantity): Quantity;
}

/** The slope at either end is that of the curve this far within. */
const endsAt = 0.01;

/** A curve from measured points: [state of charge 0 to 1, volts], rising; u in V. */
export function openCircuitCurve(points: CurveOption['points'], curveU: number, source: CurveSource): OpenCircuitCurve {
  const curve: MonotoneCurve = monotoneCurve(
    points.map(([soc]) => soc),
    points.map(([, volts]) => volts),
  );
  const [lowV, highV] = [curve.at(0), curve.at(1)];
  const [lowSlope, highSlope] = [curve.slopeAt(endsAt), curve.slopeAt(1 - endsAt)];
  const beyondEnds = (volts: number): number => {
    if (volts > highV) return 1 + (volts - highV) / highSlope;
    return volts < lowV ? (volts - lowV) / lowSlope : curve.inverseAt(volts);
  };
  const made: OpenCircuitCurve = {
    source,
    plain: { source, options: [{ probability: 1, points, u: curveU }] },
    options: [],
    voltageAt: (soc) => curve.at(soc),
    uAt: () => curveU,
    slopeAt: (soc) => curve.slopeAt(soc),
    socAt: ({ value, u }) => {
      if (!Number.isFinite(value)) throw new ImpossibleInput('voltageV', { code: 'no-rested-voltage' });
      const bothU = Math.hypot(u, curveU);
      const through = (beyondEnds(value + bothU) - beyondEnds(value - bothU)) / 2;
      const soc = curve.inverseAt(value);
      return { value: soc, u: Math.min(mostSocU, Math.hypot(through, beyondEnds(value) - soc)) };
    },
  };
  made.options = [{ probability: 1, curve: made }];
  return made;
}
const mostSocU = 1 / Math.sqrt(12);

/** Cells of one model share their plain curve: it is made once. */
const madeCurves = new WeakMap<PlainCurve, OpenCircuitCurve>();

/** The curve that plain data describes. */
export function curveFrom(plain: PlainCurve): OpenCircuitCurve {
  const made = madeCurves.get(plain) ?? curveOfOptions(plain);
  madeCurves.set(plain, made);
  return made;
}

function curveOfOptions(plain: PlainCurve): OpenCircuitCurve {
  const { source } = plain;
  const options = plain.options.map(({ probability, points, u }) => ({
    probability,
    curve: openCircuitCurve(points, u, source),
  }));
  const [likeliest] = options;
  if (!likeliest) throw new Error('A curve needs an option.');
  const { curve } = likeliest;
  if (options.length === 1) return curve;
  /** Root of the mean square over the options. */
  const over = (square: (one: OpenCircuitCurve) => number): number =>
    Math.sqrt(options.reduce((sum, one) => sum + one.probability * square(one.curve), 0));
  return {
    source,
    plain,
    options,
    voltageAt: curve.voltageAt,
    slopeAt: curve.slopeAt,
    uAt: (soc) => over((one) => (one.voltageAt(soc) - curve.voltageAt(soc)) ** 2 + one.uAt(soc) ** 2),
    socAt: (restedV) => {
      const { value } = curve.socAt(restedV);
      const u = over((one) => {
        const other = one.socAt(restedV);
        return (other.value - value) ** 2 + other.u ** 2;
      });
      return { value, u: Math.min(mostSocU, u) };
    },
  };
}

const standardU = ({ limitV, hysteresisV = 0 }: Table): number => Math.hypot(limitV, hysteresisV) / Math.sqrt(3);
const optionOf = (table: Table, probability: number): CurveOption => ({
  probability,
  points: table.points.map(([percent, volts]) => [percent / 100, volts] as const),
  u: standardU(table),
});

/** By how much a cell that was charged rests above one that was discharged, V: half of it, a limit. */
export const hysteresisOf = (chemistry: Rechargeable): number => tables[chemistry].hysteresisV ?? 0;

/** The curve of cylindrical cells that are of each make with that probability. */
export function curveOfMakes(probabilities: Readonly<Record<Make, number>>): OpenCircuitCurve {
  const tableOf = (make: Make): Table => (make === 'mixed-oxide' ? tables['li-ion'] : otherMakes[make]);
  const options = makes
    .filter((make) => probabilities[make] > 0)
    .map((make) => optionOf(tableOf(make), probabilities[make]))
    .sort((one, other) => other.probability - one.probability);
  return curveFrom({ source: tables['li-ion'].source, options });
}

const curves = new Map<Rechargeable | Make, OpenCircuitCurve>();

/** The curve of one make. */
export function curveOfMake(make: Make): OpenCircuitCurve {
  const made = curves.get(make) ?? curveOfMakes({ 'mixed-oxide': 0, cobalt: 0, manganese: 0, [make]: 1 });
  curves.set(make, made);
  return made;
}

/**
 * The workshop's curve for a chemistry where nothing more is known of the cell: cylindrical cells may be of any make.
 */
export function openCircuitOf(chemistry: Rechargeable): OpenCircuitCurve {
  const made =
    curves.get(chemistry) ??
    (chemistry === 'li-ion'
      ? curveOfMakes(usualMakes)
      : curveFrom({ source: tables[chemistry].source, options: [optionOf(tables[chemistry], 1)] }));
  curves.set(chemistry, made);
  return made;
}

/** The curve that is given; without one that of a chemistry. */
export const givenOrUsual = (plain: PlainCurve | null, chemistry: Rechargeable): OpenCircuitCurve =>
  plain ? curveFrom(plain) : openCircuitOf(chemistry);
