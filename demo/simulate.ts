import type { Sample } from '@/core/capacity/logReader';
import { lowestVoltageV, presetRules } from '@/core/chemistry/houseRules';
import {
  type OpenCircuitCurve,
  openCircuitCurve,
  openCircuitOf,
  type Rechargeable,
} from '@/core/chemistry/openCircuit';
import { advance, type CellModel, type CellState, restedState, terminalV } from '@/core/simulation/cell';
import { type MeterModel, readingOf } from '@/core/simulation/meter';
import { type Chance, seededChance } from '@/core/statistics/random';
import { chargeDays, type DemoAgeing, type DemoBatch, type DemoPack, type Peculiarity, peculiar } from './scenario';

const voltmeter: MeterModel = { offset: 0, gain: 1.0002, noise: 0.0004, step: 0.001 };
const ammeter: MeterModel = { offset: 0, gain: 1.001, noise: 0.001, step: 0.01 };
const logger: MeterModel = { offset: 0, gain: 1, noise: 0.0006, step: 0.001 };

export interface DemoCell {
  code: string;
  model: CellModel;
  soc: number;
  massG: number;
  quirk: Peculiarity;
}

/** A cell's true curve: that of its chemistry, with the collapse below "empty" that every real cell has. */
function collapsingCurve(chemistry: Rechargeable): OpenCircuitCurve {
  const table = openCircuitOf(chemistry);
  const tail = 0.03;
  const points = Array.from({ length: 60 }, (_, i) => i / 59).map((soc): [number, number] => [
    tail + (1 - tail) * soc,
    table.voltageAt(soc),
  ]);
  return openCircuitCurve([[0, 0.6 * table.voltageAt(0)], ...points], 0, table.source);
}

/** The true cells of a batch, which the bench never sees; the same at every call. */
export const trueCellsOf = (batch: DemoBatch): DemoCell[] =>
  cellsOf(batch, seededChance([...batch.code].reduce((seed, letter) => seed * 31 + letter.charCodeAt(0), 20_261_101)));

export function cellsOf(batch: DemoBatch, chance: Chance): DemoCell[] {
  const curve = collapsingCurve(batch.chemistry);
  return Array.from({ length: batch.count }, (_, i) => {
    const code = `${batch.code}-${String(i + 1).padStart(3, '0')}`;
    const quirk = peculiar[code] ?? {};
    const health = quirk.health ?? Math.min(1.02, chance.normal(...batch.health));
    // The more worn, the more resistance; welded pairs and lots vary little, single cells more.
    const tenSecondOhm =
      batch.resistanceOhm *
      (quirk.resistanceTimes ?? 1) *
      (1 + 1.6 * (batch.health[0] - health)) *
      Math.exp(chance.normal(0, 0.06));
    return {
      code,
      quirk,
      soc: quirk.soc ?? Math.min(0.98, Math.max(0.05, chance.normal(...batch.soc))),
      massG: quirk.massG ?? batch.massG + chance.normal(0, 0.25),
      model: {
        curve,
        capacityAh: health * batch.ratedAh,
        ohmicOhm: 0.62 * tenSecondOhm,
        branches: [
          { resistanceOhm: 0.24 * tenSecondOhm, timeConstantS: 0.7 },
          { resistanceOhm: 0.3 * tenSecondOhm, timeConstantS: 16 },
        ],
        selfDischargeA: 0,
      },
    };
  });
}

/** Two cells left welded together, in parallel: what hands and instruments find of both at once. */
export function asPair(a: DemoCell, b: DemoCell): DemoCell {
  const both = (x: number, y: number) => 1 / (1 / x + 1 / y);
  const [p, q] = [a.model, b.model];
  const branch = (i: 0 | 1) => ({
    ...p.branches[i],
    resistanceOhm: both(p.branches[i].resistanceOhm, q.branches[i].resistanceOhm),
  });
  const model = {
    ...p,
    capacityAh: p.capacityAh + q.capacityAh,
    ohmicOhm: both(p.ohmicOhm, q.ohmicOhm),
    branches: [branch(0), branch(1)] as const,
  };
  return {
    ...a,
    model,
    soc: (a.soc * p.capacityAh + b.soc * q.capacityAh) / model.capacityAh,
    massG: a.massG + b.massG,
  };
}

export const restReading = (cell: DemoCell, chance: Chance): number =>
  readingOf(cell.quirk.restV ?? cell.model.curve.voltageAt(cell.soc), voltmeter, chance);

export interface DemoStep {
  openV: number;
  loadedV: number;
  afterV: number | null;
  currentA: number | null;
}

/** What a milliohm meter shows at 1 kHz: the ohmic part. Its four clips do not mind a dirty pole much. */
export const acReading = (cell: DemoCell, meter: MeterModel, chance: Chance): number =>
  readingOf(cell.model.ohmicOhm, meter, chance);

/** The same cell behind a dirty pole. */
export const withDirtyPole = (cell: DemoCell): DemoCell => ({
  ...cell,
  model: { ...cell.model, ohmicOhm: cell.model.ohmicOhm + (cell.quirk.contactOhm ?? 0) },
});

/** When the bench reads the recovery voltage, s after the load comes off. */
export const recoveryS = 90;

/** Ten seconds of load as the bench reads them: open, loaded, and with an ammeter the recovery voltage. */
export function loadStepReading(cell: DemoCell, load: DemoBatch['load'], chance: Chance): DemoStep {
  const start = restedState(cell.soc);
  const openV = readingOf(terminalV(cell.model, start, 0), voltmeter, chance);
  let state: CellState = start;
  let currentA = load.method === 'ammeter' ? load.amps * (1 + chance.normal(0, 0.01)) : 0;
  for (let t = 0; t < 10; t += 0.1) {
    if (load.method === 'resistor') currentA = terminalV(cell.model, state, currentA) / load.ohm;
    state = advance(cell.model, state, currentA, 0.1);
  }
  const loadedV = readingOf(terminalV(cell.model, state, currentA), voltmeter, chance);
  if (load.method === 'resistor') return { openV, loadedV, afterV: null, currentA: null };
  const after = advance(cell.model, state, 0, recoveryS);
  return {
    openV,
    loadedV,
    afterV: Math.min(openV, readingOf(terminalV(cell.model, after, 0), voltmeter, chance)),
    currentA: readingOf(currentA, ammeter, chance),
  };
}

/** A logged discharge from full to a little below the house's floor, as a logger writes it. */
export function dischargeLog(cell: DemoCell, batch: DemoBatch, chance: Chance): Sample[] {
  const currentA = batch.rate * batch.ratedAh;
  const cutoffV = lowestVoltageV(batch.chemistry, presetRules('workshop'));
  const stopV = cell.quirk.log === 'stops-early' ? cutoffV + 0.42 : cutoffV - 0.012;
  const samples: Sample[] = [];
  let state = restedState(1);
  for (let i = 0; i < 30_000; i++) {
    const trueV = terminalV(cell.model, state, currentA);
    samples.push({
      timeS: i * batch.sampleS,
      voltageV: readingOf(trueV, logger, chance),
      currentA: null,
      temperatureC: readingOf(20.5 + 3 * (1 - state.soc), { offset: 0, gain: 1, noise: 0.05, step: 0.1 }, chance),
    });
    if (trueV < stopV || state.soc === 0) break;
    state = advance(cell.model, state, currentA, batch.sampleS);
  }
  return roughened(samples, cell.quirk.log);
}

/** A discharge over twenty hours, half an hour of rest before it, logged once a minute with the current. */
export function slowLog(cell: DemoCell, batch: DemoBatch, chance: Chance): Sample[] {
  const amps = Number((0.048 * batch.ratedAh).toFixed(3));
  const stopV = lowestVoltageV(batch.chemistry, presetRules('workshop')) - 0.02;
  const samples: Sample[] = [];
  let state = restedState(1);
  for (let timeS = 0; ; timeS += 60) {
    const currentA = timeS < 1800 ? 0 : amps;
    const trueV = terminalV(cell.model, state, currentA);
    samples.push({
      timeS,
      voltageV: readingOf(trueV, logger, chance),
      currentA: readingOf(currentA, { offset: 0, gain: 1, noise: 0.0002, step: 0.0001 }, chance),
      temperatureC: readingOf(19.8, { offset: 0, gain: 1, noise: 0.05, step: 0.1 }, chance),
    });
    if (trueV < stopV || state.soc === 0) return samples;
    state = advance(cell.model, state, currentA, 60);
  }
}

/** Pulses of half a minute between rests, logged ten times a second with the current. */
export function pulseLog(cell: DemoCell, amps: number, chance: Chance): Sample[] {
  const samples: Sample[] = [];
  let state = restedState(0.7);
  for (let i = 0; i < 4800; i++) {
    const currentA = i % 900 >= 300 && i % 900 < 600 ? amps : 0;
    samples.push({
      timeS: i / 10,
      voltageV: readingOf(terminalV(cell.model, state, currentA), logger, chance),
      currentA: readingOf(currentA, { offset: 0, gain: 1, noise: 0.0008, step: 0.001 }, chance),
      temperatureC: null,
    });
    state = advance(cell.model, state, currentA, 0.1);
  }
  return samples;
}

function roughened(samples: Sample[], log: Peculiarity['log']): Sample[] {
  const mid = Math.floor(samples.length * 0.4);
  if (log === 'gap') return samples.filter((_, i) => i < mid || i > mid + 180);
  if (log === 'wild')
    return samples.map((sample, i) => (i >= mid && i < mid + 3 ? { ...sample, voltageV: 1.183 } : sample));
  return samples;
}

/** A group's resistance after ten seconds over what a charger reports of it after a minute. */
const tenSecondTimes = 0.9;

/** The groups of a pack as they are now, and what each begins its discharge with. */
function groupsNow({ code, chemistry, ratedAh, ageing, discharge }: DemoPack): { model: CellModel; soc: number }[] {
  const curve = collapsingCurve(chemistry);
  const chance = seededChance([...code].reduce((seed, letter) => seed * 31 + letter.charCodeAt(0), 20_261_102));
  const ohms = ageing ? readOhms(ageing, chargeDays.at(-1) ?? 0, chance) : [];
  return (discharge?.health ?? []).map((health, i) => {
    const ohm = tenSecondTimes * (ohms[i] ?? 0.02);
    return {
      soc: discharge?.soc?.[i] ?? 1,
      model: {
        curve,
        capacityAh: health * ratedAh,
        ohmicOhm: 0.62 * ohm,
        branches: [
          { resistanceOhm: 0.24 * ohm, timeConstantS: 0.7 },
          { resistanceOhm: 0.3 * ohm, timeConstantS: 16 },
        ],
        selfDischargeA: 0,
      },
    };
  });
}

const packStepS = 10;
const packRestS = 300;

/** A pack's discharge as a logger writes it, five minutes of rest before it, until the first group is at the floor. */
export function packLog(pack: DemoPack, chance: Chance): Sample[] {
  const { rate, logged } = pack.discharge ?? { rate: 0, logged: 'terminals' };
  const groups = groupsNow(pack).map(({ model, soc }) => ({ model, state: restedState(soc) }));
  const stopV = lowestVoltageV(pack.chemistry, presetRules('workshop')) - 0.015;
  // Without a watch on the groups, it goes on until the whole is down.
  const isOver = (trueV: number[]): boolean =>
    logged === 'groups' ? Math.min(...trueV) < stopV : trueV.reduce((a, b) => a + b, 0) < stopV * trueV.length;
  const samples: Sample[] = [];
  for (let timeS = 0; ; timeS += packStepS) {
    const currentA = timeS < packRestS ? 0 : rate * pack.ratedAh;
    const trueV = groups.map(({ model, state }) => terminalV(model, state, currentA));
    const groupsV = trueV.map((v) => readingOf(v, logger, chance));
    samples.push({
      timeS,
      voltageV: readingOf(trueV.reduce((a, b) => a + b, 0) - 0.004 * currentA, logger, chance),
      currentA: readingOf(currentA, { offset: 0, gain: 1.001, noise: 0.001, step: 0.001 }, chance),
      temperatureC: readingOf(19 + timeS / 2400, { offset: 0, gain: 1, noise: 0.05, step: 0.1 }, chance),
      ...(logged === 'groups' && { groupsV }),
    });
    if (isOver(trueV) || groups.some(({ state }) => state.soc === 0)) return samples;
    for (const group of groups) group.state = advance(group.model, group.state, currentA, packStepS);
  }
}

/** Ten seconds of a load over the terminals of a pack, at half its charge. */
export function packStepReading(pack: DemoPack, amps: number, chance: Chance): DemoStep {
  const groups = groupsNow(pack).map(({ model }) => ({ model, state: restedState(0.5) }));
  const showing = (currentA: number): number =>
    readingOf(
      groups.reduce((sum, { model, state }) => sum + terminalV(model, state, currentA), 0),
      voltmeter,
      chance,
    );
  const pass = (currentA: number, seconds: number): void => {
    for (let t = 0; t < seconds; t += 0.1)
      for (const group of groups) group.state = advance(group.model, group.state, currentA, 0.1);
  };
  const openV = showing(0);
  pass(amps, 10);
  const loadedV = showing(amps);
  pass(0, recoveryS);
  return { openV, loadedV, afterV: Math.min(openV, showing(0)), currentA: readingOf(amps, ammeter, chance) };
}

/** What a charger reports of each group this many days ago, Ω: with a noise of its own and a last digit of 0.1 mΩ. */
export function readOhms({ firstOhm, perYear, weak }: DemoAgeing, daysAgo: number, chance: Chance): number[] {
  const years = ((chargeDays[0] ?? 0) - daysAgo) / 365;
  return firstOhm.map((ohm, i) => {
    const own = weak?.position === i + 1 ? weak.perYear : 0;
    // What goes its own way does so faster and faster.
    const times = 1 + perYear * years + (own * years ** 2) / 2;
    return readingOf(ohm * times, { offset: 0, gain: 1, noise: 0.012 * ohm, step: 0.0001 }, chance);
  });
}

/** Group voltages of a pack as read through channels with offsets of their own. */
export function groupReadings(
  curve: CellModel['curve'],
  socs: number[],
  offsetsV: number[] | undefined,
  chance: Chance,
): { groups: number[]; terminalV: number } {
  const trueV = socs.map((soc) => curve.voltageAt(soc));
  // An over-discharged group lies below its curve: that offset belongs to the group, not to the meter.
  const deepV = socs.map((soc, i) => (soc === 0 ? (offsetsV?.[i] ?? 0) : 0));
  const groups = trueV.map((v, i) => readingOf(v + (offsetsV?.[i] ?? 0), voltmeter, chance));
  const terminalV = trueV.reduce((sum, v, i) => sum + v + (deepV[i] as number), 0);
  return { groups, terminalV: readingOf(terminalV, voltmeter, chance) };
}
