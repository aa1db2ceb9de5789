import { ImpossibleInput } from '../impossibleInput';
import type { Quantity } from '../quantity/quantity';
import { type MonotoneCurve, monotoneCurve } from '../statistics/monotone';
import type { Chemistry } from './chemistries';

export type Rechargeable = Exclude<Chemistry, 'alkaline'>;

interface Table {
  source: 'common practice' | 'from memory';
  /** By how much makes differ from the table, V: a limit, either way. */
  limitV: number;
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

export type CurveSource = Table['source'] | 'learnt';

/** Rested open-circuit voltage of one cell against its state of charge (0 to 1). */
export interface OpenCircuitCurve {
  /** A table, or learnt from a discharge of its own model. */
  source: CurveSource;
  /** Standard uncertainty of the curve as a description of a given cell, V. */
  doubtV: number;
  voltageAt(soc: number): number;
  /** dV/dSoC at that charge, V per whole charge. */
  slopeAt(soc: number): number;
  /**
   * State of charge at a rested voltage. The uncertainty of the voltage and of the curve is carried through the curve,
   * which is bent: half the difference between the charges at either end of it, and never more than knowing nothing
   * (rectangular from 0 to 1). Beyond its ends the curve goes on as steep as it ended, and so far as the voltage lies
   * beyond, the curve is wrong.
   */
  socAt(restedV: Quantity): Quantity;
}

/** The slope at either end is that so far within. */
const endsAt = 0.01;

/** A curve from measured points: [state of charge 0 to 1, volts], rising. */
export function openCircuitCurve(
  points: readonly (readonly [number, number])[],
  doubtV: number,
  source: CurveSource,
): OpenCircuitCurve {
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
  return {
    source,
    doubtV,
    voltageAt: (soc) => curve.at(soc),
    slopeAt: (soc) => curve.slopeAt(soc),
    socAt: ({ value, u }) => {
      if (!Number.isFinite(value)) throw new ImpossibleInput('voltageV', { code: 'no-rested-voltage' });
      const doubt = Math.hypot(u, doubtV);
      const through = (beyondEnds(value + doubt) - beyondEnds(value - doubt)) / 2;
      const soc = curve.inverseAt(value);
      return { value: soc, u: Math.min(1 / Math.sqrt(12), Math.hypot(through, beyondEnds(value) - soc)) };
    },
  };
}

const curves = new Map<Rechargeable, OpenCircuitCurve>();

/**
 * The workshop's table for a chemistry.
 * @worked A pouch cell that rests at 3.80 V: `openCircuitOf('lipo').socAt({ value: 3.8, u: 0.005 })` of its charge
 */
export function openCircuitOf(chemistry: Rechargeable): OpenCircuitCurve {
  let curve = curves.get(chemistry);
  if (!curve) {
    const { points, limitV, source } = tables[chemistry];
    curve = openCircuitCurve(
      points.map(([percent, volts]) => [percent / 100, volts]),
      limitV / Math.sqrt(3),
      source,
    );
    curves.set(chemistry, curve);
  }
  return curve;
}

/** The curve through learnt points of [state of charge, rested volts]; without any the table of a chemistry. */
export const learntOrTable = (
  points: readonly (readonly [number, number])[] | null,
  chemistry: Rechargeable,
): OpenCircuitCurve => (points ? openCircuitCurve(points, 0, 'learnt') : openCircuitOf(chemistry));
