import { curveOfMake } from '@/core/chemistry/openCircuit';
import type { PackFault } from '@/core/packs/diagnosis/faults';
import type { Measurement } from '@/core/packs/diagnosis/nextMeasurement';
import type { Chance } from '@/core/statistics/random';
import { between, drawTool, moveOn, rested, shown, type TrueCell, type TrueState, voltageOf } from './trueCell';

/*
 * Packs with known faults, as a person reads them. This file was written before the estimator that is compared with it,
 * and is not changed to please it: cells with three relaxing branches and a resistance that grows, curves that differ
 * from every table by make and by cell, a bench that is warm or cold, meters with gains, offsets and drifting noise.
 */

/** What is wrong, and with which group from the negative terminal; null where it is the whole pack. */
export interface FaultThere {
  fault: PackFault;
  position: number | null;
}

/** One round of readings, as it would be filed. */
export interface TakenRound {
  state: 'rest' | 'load' | 'charge-end' | 'discharge-end';
  at: string;
  currentA?: number;
  restS?: number;
  groupVoltagesV: (number | null)[];
  terminalVoltageV: number;
  groupResistancesOhm?: number[];
  instrument: string;
}

export interface FaultyPack {
  chemistry: 'li-ion';
  series: number;
  ratedCapacityAh: number;
  rounds: TakenRound[];
  faults: FaultThere[];
  /** A single round at rest shows it at all. */
  showsAtRest: boolean;
  /** Measures once more, after all that was measured before. */
  further(what: Measurement): TakenRound;
}

/** A group as it is. */
interface Group {
  cell: TrueCell;
  state: TrueState;
  leakA: number;
}

const table = curveOfMake('mixed-oxide');
const daysApart = 7;
const startsAt = Date.UTC(2026, 8, 1, 9);

/** A make lies off the table by up to 30 mV in a long wave; its cells off each other by a few. */
function drawMake(chance: Chance): (soc: number) => number {
  const [offV, waves, phase] = [between(chance, 0.005, 0.028), between(chance, 0.3, 1), 2 * Math.PI * chance.uniform()];
  return (soc) => table.voltageAt(soc) + offV * Math.sin(2 * Math.PI * waves * soc + phase) - Math.max(0, -soc) * 25;
}

/** This many groups of one make and age, at one temperature. */
function drawGroups(chance: Chance, series: number, ratedAh: number): Group[] {
  const make = drawMake(chance);
  const aged = between(chance, 0.75, 1);
  const cold = between(chance, 0.9, 1.4);
  const ohm = (between(chance, 0.04, 0.11) / ratedAh) * (2 - aged) * cold;
  return Array.from({ length: series }, () => {
    const [off, tilt] = [chance.normal(0, 0.002), chance.normal(0, 0.004)];
    const own = ohm * Math.exp(chance.normal(0, 0.06));
    const cell: TrueCell = {
      capacityAh: ratedAh * aged * Math.exp(chance.normal(0, 0.018)),
      curve: (soc) => make(soc) + off + tilt * (soc - 0.5),
      ohmicOhm: own,
      branches: [
        { ohm: own * between(chance, 0.15, 0.35), tauS: between(chance, 0.3, 1.5) },
        { ohm: own * between(chance, 0.15, 0.35), tauS: between(chance, 5, 20) },
        { ohm: own * between(chance, 0.2, 0.4), tauS: between(chance, 90, 400) },
      ],
      growth: between(chance, 0.3, 1),
    };
    const leakA = ratedAh * Math.exp(chance.normal(Math.log(1.5e-5), 0.4));
    // The charger balances to within half a per cent or so.
    return { cell, state: rested(cell, 1 - Math.abs(chance.normal(0, 0.006))), leakA };
  });
}

/** What is wrong with the reading, not with the pack, V: of each tap above the negative terminal, of each channel. */
interface Misread {
  tapV: number[];
  channelV: number[];
  terminalsDead: boolean;
}

/** Puts a fault into a full pack; returns whether a round at rest would show it. */
function put(
  fault: PackFault,
  at: number,
  groups: Group[],
  misread: Misread,
  ratedAh: number,
  chance: Chance,
): boolean {
  const group = groups[at] as Group;
  const { cell, state } = group;
  switch (fault) {
    case 'charge-shifted':
      state.soc -= between(chance, 0.07, 0.4);
      return true;
    case 'low-capacity':
      group.cell = { ...cell, capacityAh: cell.capacityAh * between(chance, 0.4, 0.82) };
      return false;
    case 'high-resistance': {
      const times = between(chance, 1.8, 5);
      group.cell = { ...cell, ohmicOhm: cell.ohmicOhm * times };
      return false;
    }
    case 'leak':
      group.leakA += ratedAh * Math.exp(between(chance, Math.log(1.2e-4), Math.log(8e-4)));
      // It leaked since the last balancing as well.
      state.soc -= (group.leakA * 24 * between(chance, 2, 8)) / cell.capacityAh;
      return true;
    case 'sense-tap':
      misread.tapV[at] = (chance.uniform() < 0.5 ? -1 : 1) * between(chance, 0.03, 0.25);
      return true;
    case 'meter-channel':
      misread.channelV[at] = (chance.uniform() < 0.5 ? -1 : 1) * between(chance, 0.03, 0.12);
      return true;
    case 'dead': {
      const leftV = between(chance, -0.1, 0.4);
      group.cell = { ...cell, curve: () => leftV };
      return true;
    }
    case 'over-discharged':
      for (const one of groups) {
        const leftV = between(chance, 1.6, 2.4);
        one.cell = { ...one.cell, curve: () => leftV };
      }
      return true;
    case 'board-cut-off':
      misread.terminalsDead = true;
      return true;
    case 'none':
      return true;
  }
}

/** Moves all groups on; what leaks, leaks. */
function pass(groups: readonly Group[], currentA: number, forS: number): void {
  const stepS = currentA === 0 ? Math.min(forS, 600) : Math.min(forS, 5);
  for (let s = 0; s < forS; s += stepS)
    for (const { cell, state, leakA } of groups) {
      moveOn(cell, state, currentA, stepS);
      state.soc -= (leakA * stepS) / 3600 / cell.capacityAh;
    }
}

/** Faults that may occur together in one pack, in different groups. */
const inCells: readonly PackFault[] = ['charge-shifted', 'low-capacity', 'high-resistance', 'leak'];
const twoFaults = 0.2;

/**
 * A pack with that fault, read at rest after a charge, under a load of ten seconds, at rest a week later, and at the
 * end of a discharge; or once at rest alone.
 *
 * @param used of its charge after it was full and before the first reading, a fraction
 */
export function drawFaultyPack(chance: Chance, fault: PackFault, isOneRound: boolean, used = 0): FaultyPack {
  const series = 3 + Math.floor(8 * chance.uniform());
  const ratedAh = between(chance, 2, 12);
  const groups = drawGroups(chance, series, ratedAh);
  const misread: Misread = {
    tapV: groups.map(() => 0),
    channelV: groups.map(() => 0),
    terminalsDead: false,
  };
  // The last tap is the positive terminal: it is read at the terminals.
  const at = Math.floor((fault === 'sense-tap' ? series - 1 : series) * chance.uniform());
  const isWhole = fault === 'none' || fault === 'over-discharged' || fault === 'board-cut-off';
  let showsAtRest = put(fault, at, groups, misread, ratedAh, chance);
  const faults: FaultThere[] = [{ fault, position: isWhole ? null : at + 1 }];
  if (inCells.includes(fault) && chance.uniform() < twoFaults) {
    const second = inCells[Math.floor(inCells.length * chance.uniform())] as PackFault;
    const other = (at + 1 + Math.floor((series - 1) * chance.uniform())) % series;
    showsAtRest = put(second, other, groups, misread, ratedAh, chance) || showsAtRest;
    faults.push({ fault: second, position: other + 1 });
  }

  const digit = chance.uniform() < 0.7 ? 0.001 : 0.01;
  let instrument = 'checker';
  let checker = drawTool(chance, { share: 0.002, fixed: 0.001 }, 0.0008, digit);
  const voltmeter = drawTool(chance, { share: 0.005, fixed: 0 }, 0.002, 0.01);
  let channelNoise = groups.map(() => chance.normal(0, 0.0015));
  let drift = 0;
  const read = (currentA: number): Pick<TakenRound, 'groupVoltagesV' | 'terminalVoltageV'> => {
    const trueV = groups.map(({ cell, state }) => voltageOf(cell, state, currentA));
    // What one reading is off by is much of what the next is: the checker warms up.
    drift = 0.7 * drift + chance.normal(0, 0.0007);
    return {
      groupVoltagesV: trueV.map((v, i) => {
        const tapped = v + (misread.tapV[i] ?? 0) - (misread.tapV[i - 1] ?? 0);
        return shown(tapped + (misread.channelV[i] as number) + (channelNoise[i] as number) + drift, checker, chance);
      }),
      terminalVoltageV: shown(misread.terminalsDead ? 0.2 : trueV.reduce((a, b) => a + b, 0), voltmeter, chance),
    };
  };
  let nowMs = startsAt;
  const taken = (state: TakenRound['state'], currentA: number, more: Partial<TakenRound> = {}): TakenRound => ({
    state,
    at: new Date(nowMs).toISOString(),
    ...(currentA > 0 && { currentA: Number(currentA.toFixed(2)) }),
    instrument,
    ...read(currentA),
    ...more,
  });

  const discharged = (): TakenRound => {
    const dischargeA = ratedAh * between(chance, 0.3, 0.6);
    const isDown = (): boolean => groups.some(({ cell, state }) => voltageOf(cell, state, dischargeA) < 3);
    let seconds = 0;
    for (; !isDown() && seconds < 20_000; seconds += 5) pass(groups, dischargeA, 5);
    nowMs += seconds * 1000;
    return taken('discharge-end', dischargeA);
  };

  if (used > 0) {
    const useA = 0.3 * ratedAh;
    pass(groups, useA, (3600 * used * (groups[0] as Group).cell.capacityAh) / useA);
  }
  pass(groups, 0, 3600);
  nowMs += 3600_000;
  const rounds = [taken('rest', 0, { restS: 3600 })];
  const isUsable = !['dead', 'over-discharged', 'board-cut-off'].includes(fault);
  if (!isOneRound && isUsable) {
    const loadA = ratedAh * between(chance, 0.4, 1);
    pass(groups, loadA, 10);
    rounds.push(taken('load', loadA));
    pass(groups, 0, daysApart * 86_400);
    nowMs += daysApart * 86_400_000;
    rounds.push(taken('rest', 0, { restS: daysApart * 86_400 }));
    rounds.push(discharged());
  }
  const further = (what: Measurement): TakenRound => {
    switch (what) {
      case 'load': {
        const loadA = 0.5 * ratedAh;
        pass(groups, loadA, 10);
        return taken('load', loadA);
      }
      case 'days':
        pass(groups, 0, 3 * 86_400);
        nowMs += 3 * 86_400_000;
        return taken('rest', 0);
      case 'discharge-end':
        return discharged();
      case 'other-instrument':
        instrument = 'another';
        checker = drawTool(chance, { share: 0.002, fixed: 0.001 }, 0.0008, digit);
        channelNoise = groups.map(() => chance.normal(0, 0.0015));
        misread.channelV.fill(0);
        return taken('rest', 0);
      case 'reseat':
        if (chance.uniform() < 0.5) misread.tapV.fill(0);
        return taken('rest', 0);
      case 'terminals':
        return taken('rest', 0);
    }
  };
  return {
    chemistry: 'li-ion',
    series,
    ratedCapacityAh: Number(ratedAh.toFixed(2)),
    rounds,
    faults,
    showsAtRest,
    further,
  };
}
