import { presetRules } from '@/core/chemistry/houseRules';
import { chemistries } from '@/core/chemistry/chemistries';
import { openCircuitOf, type Rechargeable } from '@/core/chemistry/openCircuit';
import { benchMeterU } from '@/core/instruments/instrument';
import { type ChargerLimits, type ChargerSheet } from '@/core/planning/sheet';
import { canBalance } from '@/core/planning/sheetChecks';
import type { Chance } from '@/core/statistics/random';
import { bareFacts, type ChargeMove, type SubjectFacts, type VoltageRound } from '@/core/state/facts';
import { known } from '@/core/state/known';
import {
  answerOhm,
  between,
  drawTool,
  moveOn,
  rested,
  shown,
  type TrueCell,
  type TrueState,
  voltageOf,
} from './trueCell';

const rules = presetRules('workshop');
const dayMs = 86_400_000;
export const historyNow = new Date('2026-06-01T12:00:00Z');

/** A pack as it really is, with what was filed of it. */
export interface History {
  facts: SubjectFacts;
  groups: { cell: TrueCell; soc: number }[];
  charger: ChargerLimits;
}

const kinds = ['li-ion', 'li-ion', 'lipo', 'lipo', 'lfp', 'lihv', 'nimh', 'sla'] as const;
const oneOf = <T>(chance: Chance, of: readonly T[]): T => of[Math.floor(chance.uniform() * of.length)] as T;
const happens = (chance: Chance, probability: number): boolean => chance.uniform() < probability;

/** A group of some make: its curve off the table, its resistance usual, or two to four times that. */
function drawGroup(
  chance: Chance,
  chemistry: Rechargeable,
  capacityAh: number,
  worn: number,
  make: number[],
): TrueCell {
  const table = openCircuitOf(chemistry).options[0]?.curve ?? openCircuitOf(chemistry);
  const limitV = table.uAt(0.5) * Math.sqrt(3);
  const [broad, narrow] = make as [number, number];
  const ohmicOhm = (between(chance, 0.05, 0.11) * worn) / capacityAh;
  return {
    capacityAh,
    curve: (soc) =>
      table.voltageAt(Math.min(1, Math.max(0, soc))) +
      limitV * (broad * Math.sin(Math.PI * soc) + (narrow / 2) * Math.sin(2 * Math.PI * soc)) +
      (chemistry === 'lfp' ? 8 : 0.9) * Math.max(0, soc - 1) +
      20 * Math.min(0, soc),
    ohmicOhm,
    branches: [
      { ohm: ohmicOhm * between(chance, 0.15, 0.4), tauS: between(chance, 0.3, 1.5) },
      { ohm: ohmicOhm * between(chance, 0.15, 0.4), tauS: between(chance, 4, 20) },
      { ohm: ohmicOhm * between(chance, 0.1, 0.4), tauS: between(chance, 60, 400) },
    ],
    growth: between(chance, 0.2, 1),
  };
}

/** How the groups are charged: mostly alike, some with one low, one high, or all over. */
function drawSocs(chance: Chance, series: number): number[] {
  const base = between(chance, 0.03, 1);
  const off = happens(chance, 0.35) ? between(chance, -0.6, 0.3) : 0;
  const odd = Math.floor(chance.uniform() * series);
  return Array.from({ length: series }, (_, i) =>
    Math.min(1, Math.max(0.005, base + chance.normal(0, 0.006) + (i === odd ? off : 0))),
  );
}

/** A pack with what a person filed of it, some of it missing. */
export function drawHistory(chance: Chance): History {
  const chemistry = oneOf(chance, kinds);
  const series = 1 + Math.floor(chance.uniform() * 6);
  const ratedAh = between(chance, 1, 8);
  const health = between(chance, 0.7, 1.03);
  const worn = happens(chance, 0.3) ? between(chance, 2, 4) : between(chance, 0.8, 1.3);
  const make = [between(chance, -1, 1), between(chance, -1, 1)];
  const socs = drawSocs(chance, series);
  const isMeasured = happens(chance, 0.5);
  const weak = happens(chance, 0.2) ? Math.floor(chance.uniform() * series) : -1;
  const groups = socs.map((soc, i) => {
    const capacityAh =
      ratedAh *
      health *
      (1 + chance.normal(0, 0.01)) *
      (i === weak && isMeasured ? between(chance, 0.6, 0.95) : 1 + chance.normal(0, 0.03));
    return { cell: drawGroup(chance, chemistry, capacityAh, worn, make), soc };
  });
  const { rounds, moves } = drawReadings(chance, groups);
  return {
    groups,
    facts: filed(chance, { chemistry, ratedAh, isMeasured }, groups, rounds, moves),
    charger: drawCharger(chance, series),
  };
}

/** Rounds of voltages, the newest with what really is; then perhaps a use, which the truth follows. */
function drawReadings(
  chance: Chance,
  groups: { cell: TrueCell; soc: number }[],
): { rounds: VoltageRound[]; moves: ChargeMove[] } {
  const meter = drawTool(chance, { share: 0.0005, fixed: 0.004 }, 0.001, 0.001);
  const read = ({ cell, soc }: { cell: TrueCell; soc: number }) => ({
    value: shown(cell.curve(soc), meter, chance),
    u: benchMeterU,
  });
  const agoMs = between(chance, 0.01, 20) * dayMs;
  const at = new Date(historyNow.getTime() - agoMs);
  const isTerminals = happens(chance, 0.15);
  const groupsV = isTerminals ? [] : groups.map(read);
  const sum = groups.reduce((total, one) => total + read(one).value, 0);
  const hasTerminals = isTerminals || happens(chance, 0.3);
  const round: VoltageRound = {
    state: 'rest',
    at,
    groupsV,
    terminalV: hasTerminals ? { value: sum, u: benchMeterU * Math.sqrt(groups.length) } : null,
  };
  const old: VoltageRound = {
    state: 'rest',
    at: new Date(at.getTime() - 30 * dayMs),
    groupsV: groups.map(() => ({ value: 3.7, u: benchMeterU })),
    terminalV: null,
  };
  const rounds = happens(chance, 0.08) ? [] : [round, ...(happens(chance, 0.5) ? [old] : [])];
  if (rounds.length === 0 || !happens(chance, 0.2)) return { rounds, moves: [] };
  // A person used it and noted how much, as well as that can be read off.
  const selfDischarges = Math.min(...groups.map(({ cell, soc }) => Math.max(0, soc - 0.15) * cell.capacityAh));
  const usedAh = between(chance, 0, selfDischarges);
  for (const group of groups) group.soc -= usedAh / group.cell.capacityAh;
  const noted = usedAh * (1 + chance.normal(0, 0.04));
  return { rounds, moves: [{ at: new Date(at.getTime() + agoMs / 2), kind: 'used', chargeAh: noted }] };
}

function filed(
  chance: Chance,
  { chemistry, ratedAh, isMeasured }: { chemistry: Rechargeable; ratedAh: number; isMeasured: boolean },
  groups: History['groups'],
  rounds: VoltageRound[],
  moves: ChargeMove[],
): SubjectFacts {
  const isLoaded = happens(chance, 0.5);
  return {
    ...bareFacts({ code: 'PT1', chemistry, series: groups.length, ratedCapacityAh: ratedAh }),
    balanceConnector: oneOf(chance, [true, true, false, null]),
    hasBoard: oneOf(chance, [true, false, null]),
    labelChargeA: happens(chance, 0.2) ? ratedAh * between(chance, 0.3, 2) : null,
    labelDischargeA: happens(chance, 0.2) ? ratedAh * between(chance, 0.5, 5) : null,
    rounds,
    moves,
    capacities: groups.map(({ cell }) =>
      isMeasured
        ? known({ value: cell.capacityAh * (1 + chance.normal(0, 0.015)), u: 0.015 * cell.capacityAh }, 'measured')
        : null,
    ),
    resistances: groups.map(({ cell }) => {
      const ohm = answerOhm(cell, 0.6, 10);
      return isLoaded ? known({ value: ohm * (1 + chance.normal(0, 0.03)), u: 0.03 * ohm }, 'measured') : null;
    }),
    rescues: happens(chance, 0.05) ? 1 : 0,
  };
}

function drawCharger(chance: Chance, series: number): ChargerLimits {
  return {
    maxA: between(chance, 1, 12),
    maxW: between(chance, 40, 300),
    dischargeMaxW: oneOf(chance, [0, 5, 30, 100]),
    stepA: oneOf(chance, [0, 0.01, 0.1]),
    bleedA: oneOf(chance, [0, 0.1, 0.5]),
    balanceChannels: happens(chance, 0.2) ? 4 : null,
    lowestPackV: happens(chance, 0.1) ? 2.9 * series : null,
  };
}

/** What really happens in the first step of a sheet. */
export interface Carried {
  minutes: number;
  chargeAh: number;
  lowestV: number;
  highestV: number;
}

/** A charger measures and sets its current again this often, s. */
const stepS = 5;
const longestS = 60 * 3600;

/** Carries out the first charge or discharge of a sheet on the pack as it really is. */
export function carryOut({ groups, charger, facts }: History, sheet: ChargerSheet): Carried {
  const states = groups.map(({ cell, soc }) => rested(cell, soc));
  const cells = groups.map(({ cell }) => cell);
  const isMonitored = canBalance(charger, {
    series: facts.series,
    chemistry: facts.chemistry,
    connector: facts.balanceConnector === false ? 'none' : 'balance',
  });
  return sheet.main === 'charge'
    ? chargeReally(cells, states, sheet, charger, isMonitored)
    : dischargeReally(cells, states, sheet, facts.series === 1 || facts.balanceConnector !== false);
}

function chargeReally(
  cells: readonly TrueCell[],
  states: TrueState[],
  sheet: ChargerSheet,
  charger: ChargerLimits,
  isMonitored: boolean,
): Carried {
  const { fullV } = chemistries[sheet.chemistry];
  const groupTopV = fullV + 0.01;
  const endA = sheet.seen.endA;
  let [movedAs, highestV, lowestV] = [0, 0, Infinity];
  let isGentle = sheet.gentle !== null;
  for (let s = 0; s < longestS; s += stepS) {
    const now = cells.map((cell, i) => voltageOf(cell, states[i] as TrueState, 0));
    const lowest = Math.min(...now);
    const bled = now.map((v) =>
      sheet.isBalanced && v > fullV - 0.1 && v - lowest > 0.005 ? (charger.bleedA * v) / fullV : 0,
    );
    // At the end of the step, without a current and with one ampere: in between it is a straight line.
    const open = cells.map((cell, i) => afterStep(cell, states[i] as TrueState, bled[i] as number));
    const ohm = cells.map(
      (cell, i) => afterStep(cell, states[i] as TrueState, (bled[i] as number) - 1) - (open[i] as number),
    );
    isGentle &&= now.reduce((a, b) => a + b, 0) + sheetSagV(sheet, cells) < (sheet.gentle?.untilV ?? 0);
    let amperes = isGentle ? (sheet.gentle?.currentA ?? 0) : (sheet.chargeA ?? 0);
    // The whole is held at its end; a balancing charger holds each group.
    const wholeV = sheet.isByCharge ? cells.length * fullV : sheet.endV;
    const sum = (of: readonly number[]): number => of.reduce((a, b) => a + b, 0);
    amperes = Math.min(amperes, (wholeV - sum(open)) / sum(ohm));
    if (isMonitored || cells.length === 1)
      open.forEach((v, i) => {
        amperes = Math.min(amperes, ((isMonitored ? groupTopV : fullV) - v) / (ohm[i] as number));
      });
    amperes = Math.max(0, amperes);
    cells.forEach((cell, i) => {
      const net = amperes - (bled[i] as number);
      moveOn(cell, states[i] as TrueState, -net, stepS);
      const v = voltageOf(cell, states[i] as TrueState, -net);
      highestV = Math.max(highestV, v);
      lowestV = Math.min(lowestV, v);
    });
    movedAs += amperes * stepS;
    const isIn = sheet.isByCharge && movedAs / 3600 >= sheet.seen.movedAh;
    const isBleeding = bled.some((one) => one > 0);
    const isTapered = !sheet.isByCharge && !isGentle && !isBleeding && amperes <= endA;
    if (isIn || isTapered) return { minutes: s / 60, chargeAh: movedAs / 3600, lowestV, highestV };
  }
  return { minutes: longestS / 60, chargeAh: movedAs / 3600, lowestV, highestV };
}

/** Voltage of a group after one step under a current that is above zero on discharge, V. */
function afterStep(cell: TrueCell, state: TrueState, currentA: number): number {
  const next = { soc: state.soc, branchV: [...state.branchV] };
  moveOn(cell, next, currentA, stepS);
  return voltageOf(cell, next, currentA);
}

/** What the gentle current adds to the whole, V. */
const sheetSagV = ({ gentle }: ChargerSheet, cells: readonly TrueCell[]): number =>
  (gentle?.currentA ?? 0) * cells.reduce((sum, { ohmicOhm }) => sum + ohmicOhm, 0);

function dischargeReally(
  cells: readonly TrueCell[],
  states: TrueState[],
  sheet: ChargerSheet,
  isMonitored: boolean,
): Carried {
  const amperes = sheet.dischargeA ?? 0;
  const untilV = sheet.steps[0]?.untilV ?? -Infinity;
  const floorV = sheet.floorPerGroupV;
  let [s, highestV, lowestV] = [0, 0, Infinity];
  for (; s < longestS; s += stepS) {
    const volts = cells.map((cell, i) => voltageOf(cell, states[i] as TrueState, amperes));
    const sum = volts.reduce((a, b) => a + b, 0);
    const isOut = (amperes * s) / 3600 >= sheet.capacityLimitAh - 1e-9;
    if (isOut || sum <= untilV || (isMonitored && Math.min(...volts) <= floorV)) break;
    highestV = Math.max(highestV, ...volts);
    lowestV = Math.min(lowestV, ...volts);
    cells.forEach((cell, i) => moveOn(cell, states[i] as TrueState, amperes, stepS));
  }
  return { minutes: s / 60, chargeAh: (amperes * s) / 3600, lowestV, highestV };
}

export const historyRules = rules;
