import type { CellModel } from './cell';
import { type VoltageTrace, Thinned } from './voltageTrace';
import { tableBeyond, tablesOf, tableSteps } from './curveTable';

/** A group of a pack as its charger meets it. */
export type SimulatedGroup = Pick<CellModel, 'curve' | 'capacityAh' | 'ohmicOhm' | 'branches'> & {
  /** At rest as the charge begins. */
  soc: number;
};

/** How a charger drains high groups while it charges: each through a resistor of its own. */
export interface Bleed {
  /** Through one group's resistor at the end voltage, A. */
  currentA: number;
  /** It begins in a group at this voltage, V. */
  fromV: number;
  /** And above the lowest by more than this; it ends at half of it, V. */
  beyondV: number;
}

export interface Charger {
  currentA: number;
  /** Held at the end of the charge, V a group. */
  endV: number;
  /** Null of one that does not balance. */
  bleed: Bleed | null;
  /**
   * This much above the end voltage a single group may rise before the current is taken back, V; null: it sees none.
   */
  overshootV: number | null;
  /** It ends below this current, A, once no group is above the others by more than the bleed allows. */
  endCurrentA: number;
  /** A smaller current until every group is above a voltage, the current on; left out: none. */
  gentle?: { currentA: number; untilV: number } | null;
  /** It ends once this much went in at the main leads, Ah; left out: it does not. */
  untilAh?: number | null;
}

export interface PackCharge {
  /** When the charger ended; null where it had not by the limit. */
  endsAtS: number | null;
  /** Of each group when it ended. */
  soc: number[];
  /** Burnt in the bleed resistors of all groups, Ah. */
  bledAh: number;
  /** The highest that any group's voltage rose, V. */
  highestV: number;
  /** Through the main leads, Ah. */
  chargedAh: number;
  /** After a minute: the sum of the groups, V, and the current, A. */
  afterMinute: { voltageV: number; currentA: number };
  /** What the gentle start took; null where there was none. */
  gentle: { s: number; chargedAh: number; voltageV: number } | null;
  course: VoltageTrace;
}

/** Time step of the simulation, s. */
const stepS = 1;
const minuteS = 60;
/**
 * Charges a pack second by second: constant current until the whole reaches its end voltage, or one group above its
 * own, then as much as holds that; groups above the lowest are drained by their resistors meanwhile. Cells
 * are an open-circuit curve behind an ohmic part and two branches. Source: first-order linear circuits; the charger is
 * common practice. Compared with ngspice in packCharge.test.ts.
 *
 * @param limitS given up after this time, s
 * @param onShare called now and then with the fraction of the limit that is done
 */
export function chargePack(
  groups: readonly SimulatedGroup[],
  charger: Charger,
  limitS: number,
  onProgress?: (fraction: number) => void,
): PackCharge {
  const n = groups.length;
  const { bleed } = charger;
  const [rows, beyond] = [tableSteps, tableBeyond];
  const tables = tablesOf(groups);
  const soc = Float64Array.from(groups, (group) => group.soc);
  const perStep = Float64Array.from(groups, ({ capacityAh }) => stepS / 3600 / capacityAh);
  const ohmic = Float64Array.from(groups, ({ ohmicOhm }) => ohmicOhm);
  const [fast, slow] = [branchOf(groups, 0), branchOf(groups, 1)];
  const restV = new Float64Array(n);
  const ownOhm = new Float64Array(n);
  const onV = new Float64Array(n);
  const bledA = new Float64Array(n);
  const topV = charger.overshootV === null ? Infinity : charger.endV + charger.overshootV;
  const bleedOhm = bleed ? charger.endV / bleed.currentA : Infinity;
  const evenV = bleed?.beyondV ?? Infinity;
  const course = new Thinned(n);
  let bledAs = 0;
  let chargedAs = 0;
  let highestV = 0;
  let endsAtS: number | null = null;
  let afterMinute = { voltageV: 0, currentA: 0 };
  let gentle: PackCharge['gentle'] = null;
  let isGentle = charger.gentle != null;
  for (let t = 0; t <= limitS; t += stepS) {
    // As much current as every group bears, and the whole.
    let currentA = isGentle && charger.gentle ? Math.min(charger.gentle.currentA, charger.currentA) : charger.currentA;
    let wholeV = 0;
    let wholeOhm = 0;
    for (let i = 0; i < n; i += 1) {
      const table = tables[i] as Float64Array;
      const at = (Math.min(1 + beyond, Math.max(-beyond, soc[i] as number)) + beyond) * rows;
      const k = Math.min(table.length - 2, Math.floor(at));
      const rise = (table[k + 1] as number) - (table[k] as number);
      restV[i] = (table[k] as number) + (at - k) * rise + (fast.volts[i] as number) + (slow.volts[i] as number);
      // What its charge rises within the step counts as well, so that no step goes beyond.
      ownOhm[i] = (ohmic[i] as number) + rise * rows * (perStep[i] as number);
      currentA = Math.min(currentA, (topV - (restV[i] as number)) / (ownOhm[i] as number) + (bledA[i] as number));
      wholeV += (restV[i] as number) - (bledA[i] as number) * (ownOhm[i] as number);
      wholeOhm += ownOhm[i] as number;
    }
    currentA = Math.max(0, Math.min(currentA, (n * charger.endV - wholeV) / wholeOhm));
    let lowestV = Infinity;
    let topmostV = -Infinity;
    let lowestOnV = Infinity;
    let sumV = 0;
    for (let i = 0; i < n; i += 1) {
      const netA = currentA - (bledA[i] as number);
      const v = (restV[i] as number) + netA * (ohmic[i] as number);
      onV[i] = v;
      sumV += v;
      if (v < lowestOnV) lowestOnV = v;
      if (v > highestV) highestV = v;
      // For a reading the charger pauses: neither its current nor the resistors cost anything then.
      const read = restV[i] as number;
      if (read < lowestV) lowestV = read;
      if (read > topmostV) topmostV = read;
      soc[i] = (soc[i] as number) + netA * (perStep[i] as number);
      const [f, s] = [fast, slow];
      f.volts[i] =
        (f.volts[i] as number) + (netA * (f.ohm[i] as number) - (f.volts[i] as number)) * (f.gain[i] as number);
      s.volts[i] =
        (s.volts[i] as number) + (netA * (s.ohm[i] as number) - (s.volts[i] as number)) * (s.gain[i] as number);
      bledAs += (bledA[i] as number) * stepS;
    }
    let isBleeding = false;
    if (bleed)
      for (let i = 0; i < n; i += 1) {
        const v = restV[i] as number;
        const least = (bledA[i] as number) > 0 ? bleed.beyondV / 2 : bleed.beyondV;
        bledA[i] = v >= bleed.fromV && v - lowestV > least ? v / bleedOhm : 0;
        if ((bledA[i] as number) > 0) isBleeding = true;
      }
    course.push(t, onV);
    chargedAs += currentA * stepS;
    if (t <= minuteS) afterMinute = { voltageV: sumV, currentA };
    if (isGentle && charger.gentle && lowestOnV >= charger.gentle.untilV) {
      isGentle = false;
      if (t > 0) gentle = { s: t, chargedAh: chargedAs / 3600, voltageV: sumV };
    }
    if (charger.untilAh != null && chargedAs / 3600 >= charger.untilAh - 1e-9) {
      endsAtS = t;
      break;
    }
    if (onProgress && t % 7200 === 0) onProgress(t / limitS);
    if (!isGentle && currentA <= charger.endCurrentA && !isBleeding && topmostV - lowestV <= evenV) {
      endsAtS = t;
      break;
    }
  }
  return {
    endsAtS,
    soc: [...soc],
    bledAh: bledAs / 3600,
    highestV,
    chargedAh: chargedAs / 3600,
    afterMinute,
    gentle,
    course: course.done(),
  };
}

const branchOf = (groups: readonly SimulatedGroup[], which: 0 | 1) => ({
  volts: new Float64Array(groups.length),
  ohm: Float64Array.from(groups, ({ branches }) => branches[which].resistanceOhm),
  gain: Float64Array.from(groups, ({ branches }) => 1 - Math.exp(-stepS / branches[which].timeConstantS)),
});

/**
 * A group whose ten-second resistance is known: three quarters of it come at once; over hours it lags 1.7 times as
 * much. From memory.
 *
 * @param lagTimes how much it lags over hours, times the ten-second resistance
 */
export function groupOf(
  group: Pick<SimulatedGroup, 'curve' | 'capacityAh' | 'soc'>,
  tenSecondOhm: number,
  lagTimes = usualLag.times,
): SimulatedGroup {
  const fastOhm = (0.25 * tenSecondOhm) / (1 - Math.exp(-10 / fastS));
  const ohmicOhm = 0.75 * tenSecondOhm;
  return {
    ...group,
    ohmicOhm,
    branches: [
      { resistanceOhm: fastOhm, timeConstantS: fastS },
      { resistanceOhm: Math.max(0, lagTimes * tenSecondOhm - ohmicOhm - fastOhm), timeConstantS: slowS },
    ],
  };
}

/** What lags over hours, times the ten-second resistance, and how well that is known (standard). From memory. */
export const usualLag = { times: 1.7, u: 0.35 };
/** A quick and a slow branch, s. From memory. */
const [fastS, slowS] = [15, 1200];
