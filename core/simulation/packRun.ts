import { ImpossibleInput } from '../impossibleInput';
import { type VoltageTrace, Thinned } from './voltageTrace';
import { PackState, type RunCell } from './packState';

export type { RunCell } from './packState';

/** What a pack is to carry. */
export type Load =
  | { currentA: number }
  | { powerW: number }
  /** One current after the other; 0 is a rest. */
  | { profile: readonly { forS: number; currentA: number }[] };

export interface PackRunInput {
  /** From the negative terminal, the cells of each group. */
  groups: readonly (readonly RunCell[])[];
  load: Load;
  /** The first group to reach it ends the run, V. */
  cutoffPerGroupV: number;
  /** Left out: as fine as the run is long, from a second on. */
  stepS?: number | undefined;
  /** Told now and then how much of what the pack holds is gone. */
  onProgress?: ((fraction: number) => void) | undefined;
}

/** Why a run ended. */
export type RunEnd = 'cutoff' | 'profile-over' | 'not-carried';

export interface PackRun {
  ends: RunEnd;
  runTimeS: number;
  deliveredAh: number;
  deliveredWh: number;
  /** From 1, the group that reached the cut-off first, or is lowest at the end. */
  limitingGroup: number;
  /** Of each group what it could have given yet under the load's mean current, until it is at its cut-off, Ah. */
  leftAh: number[];
  /** Left in all groups together, for the sake of the first, Ah. */
  strandedAh: number;
  /** What the cells would have given each by itself, under its part of the mean current to the same cut-off, Wh. */
  cellsAloneWh: number;
  course: VoltageTrace;
  /** Of each group the shares of its current that its cells carry, as the load comes on and as it ends. */
  currentShare: { start: number[][]; end: number[][] };
  /** That turned most into heat, for what it holds. */
  hottest: { group: number; cell: number; heatJ: number; riseAtMostK: number };
  /** Of each cell in the end. */
  soc: number[][];
}

/** A cell takes this much heat to grow warmer by a kelvin, for each Ah it holds, J. From memory: 45 g of 2.5 Ah. */
const heatPerAhK = 16;
/** This many steps over a whole charge, of a second at least and a minute at most. */
const stepsWanted = 4000;
const [finestS, coarsestS] = [1, 60];
const momentS = 1e-6;
/** What is compared with is followed in steps this many times as long. */
const coarser = 20;
/** A run without a load goes on for no longer, s. */
const longestS = 60 * 86_400;

/**
 * Follows a pack under a load until its first group is at the cut-off, the profile is over, or it cannot carry the load
 * any more. Cells are an open-circuit curve behind an ohmic part and branches; those of a group share its current as
 * their voltages allow. Source: linear circuits; compared with ngspice in packRun.test.ts.
 *
 * @throws ImpossibleInput for no groups, a group without cells, a load that is not above zero, or a step that is not
 */
export function packRun(request: PackRunInput): PackRun {
  check(request);
  const { groups, load, cutoffPerGroupV } = request;
  const capacityAh = Math.min(...groups.map((group) => group.reduce((total, cell) => total + cell.capacityAh, 0)));
  const state = new PackState(groups);
  const stepS = request.stepS ?? usualStepS(state, load, capacityAh);
  const { limiting, ...carried } = carry(state, request, stepS, capacityAh);
  const meanA = carried.runTimeS > 0 ? (carried.deliveredAh * 3600) / carried.runTimeS : 0;
  const leftAh = groups.map((_, g) =>
    carried.ends === 'cutoff' && g !== limiting ? given(state.only(g), meanA, cutoffPerGroupV, coarser * stepS).ah : 0,
  );
  return {
    ...carried,
    limitingGroup: limiting + 1,
    leftAh,
    strandedAh: leftAh.reduce((a, b) => a + b, 0),
    cellsAloneWh: aloneWh(groups, meanA, cutoffPerGroupV, coarser * stepS),
    hottest: hottestOf(state),
    soc: byGroup(state, (i) => state.soc[i] as number),
  };
}

/** Moves the pack on under its load until that ends. */
function carry(
  state: PackState,
  { load, cutoffPerGroupV, onProgress }: PackRunInput,
  stepS: number,
  capacityAh: number,
) {
  const before = new Float64Array(state.groupV.length);
  const course = new Thinned(state.groupV.length);
  course.push(0, state.groupV);
  let [t, ampereS, wattS] = [0, 0, 0];
  let start: number[][] | null = null;
  let limiting: number | null = null;
  let ends: RunEnd = 'profile-over';
  for (const { step, currentA } of stepsOf(load, stepS)) {
    const packA = amperesOf(load, currentA, state.lookAhead(step));
    if (packA === null) {
      ends = 'not-carried';
      break;
    }
    before.set(state.groupV);
    state.moveOn(packA);
    if (packA > 0) start ??= fractionsOf(state);
    const crossed = packA > 0 ? firstCrossed(before, state.groupV, cutoffPerGroupV) : null;
    const fraction = crossed?.share ?? 1;
    const fallenV = (sum(state.groupV) - sum(before)) * fraction;
    t += step * fraction;
    ampereS += packA * step * fraction;
    wattS += (sum(before) + fallenV / 2) * packA * step * fraction;
    if (crossed) {
      [ends, limiting] = ['cutoff', crossed.group];
      break;
    }
    course.push(t, state.groupV);
    onProgress?.(Math.min(1, ampereS / 3600 / capacityAh));
  }
  const end = fractionsOf(state);
  return {
    ends,
    runTimeS: t,
    deliveredAh: ampereS / 3600,
    deliveredWh: wattS / 3600,
    limiting: limiting ?? state.groupV.indexOf(Math.min(...state.groupV)),
    course: course.done(),
    currentShare: { start: start ?? end, end },
  };
}

/** Step by step; the first of each part is a moment, in which a load comes on and nothing has flowed yet. */
function* stepsOf(load: Load, stepS: number): Generator<{ step: number; currentA: number }> {
  const parts = 'profile' in load ? load.profile : [{ forS: longestS, currentA: NaN }];
  for (const { forS, currentA } of parts) {
    let left = forS;
    for (let wanted = momentS; left > 1e-9; wanted = stepS) {
      const step = Math.min(wanted, left);
      yield { step, currentA };
      left -= step;
    }
  }
}

function check({ groups, load, stepS }: PackRunInput): void {
  if (groups.length === 0 || groups.some((group) => group.length === 0))
    throw new ImpossibleInput('groups', { code: 'group-without-cells' });
  for (const { capacityAh, ohmicOhm, branches } of groups.flat())
    if (!(capacityAh > 0) || !(ohmicOhm > 0) || branches.some(({ timeConstantS }) => !(timeConstantS > 0)))
      throw new ImpossibleInput('groups', { code: 'not-above-zero', value: Math.min(capacityAh, ohmicOhm) });
  const given = 'profile' in load ? load.profile.map(({ forS }) => forS) : [Object.values(load)[0] as number];
  if (stepS !== undefined) given.push(stepS);
  for (const value of given)
    if (!(value > 0) || !Number.isFinite(value)) throw new ImpossibleInput('load', { code: 'not-above-zero', value });
  if ('profile' in load && !load.profile.some(({ currentA }) => currentA > 0))
    throw new ImpossibleInput('load', { code: 'not-above-zero', value: 0 });
}

/** What the load takes at the end of the step, A; null where the pack cannot give that power at any current. */
function amperesOf(load: Load, partA: number, { openV, ohm }: { openV: number; ohm: number }): number | null {
  if ('currentA' in load) return load.currentA;
  if ('profile' in load) return partA;
  // P = (openV − I·ohm)·I, the lower current of the two.
  const under = openV ** 2 - 4 * load.powerW * ohm;
  return under < 0 ? null : (openV - Math.sqrt(under)) / (2 * ohm);
}

function usualStepS(state: PackState, load: Load, capacityAh: number): number {
  const amperes =
    'profile' in load
      ? Math.max(...load.profile.map(({ currentA }) => currentA))
      : (amperesOf(load, NaN, state.lookAhead(finestS)) ?? Infinity);
  return Math.min(coarsestS, Math.max(finestS, ((capacityAh / amperes) * 3600) / stepsWanted));
}

function sum(values: Float64Array): number {
  let total = 0;
  for (let i = 0; i < values.length; i += 1) total += values[i] as number;
  return total;
}

/** The group that fell below the cut-off first within a step, and after which share of it; null where none did. */
function firstCrossed(
  before: Float64Array,
  after: Float64Array,
  cutoffV: number,
): { group: number; share: number } | null {
  let first: { group: number; share: number } | null = null;
  for (let g = 0; g < after.length; g += 1) {
    const to = after[g] as number;
    if (to > cutoffV) continue;
    const from = before[g] as number;
    const fraction = from > to ? Math.min(1, Math.max(0, (from - cutoffV) / (from - to))) : 0;
    if (!first || fraction < first.share) first = { group: g, share: fraction };
  }
  return first;
}

const byGroup = <T>({ starts, groupV }: PackState, of: (i: number) => T): T[][] =>
  Array.from(groupV, (_, g) =>
    Array.from({ length: (starts[g + 1] as number) - (starts[g] as number) }, (_, k) => of((starts[g] as number) + k)),
  );

function fractionsOf(state: PackState): number[][] {
  return byGroup(state, (i) => state.currentA[i] as number).map((amperes) => {
    const all = amperes.reduce((a, b) => a + b, 0);
    return amperes.map((one) => (all === 0 ? 1 / amperes.length : one / all));
  });
}

/** What a pack gives from its present charge to the cut-off, without more of it. */
function given(state: PackState, currentA: number, cutoffV: number, stepS: number) {
  const before = new Float64Array(state.groupV.length);
  let [ampereS, wattS] = [0, 0];
  for (let t = 0; t < longestS; t += stepS) {
    state.lookAhead(stepS);
    before.set(state.groupV);
    state.moveOn(currentA);
    const fraction = firstCrossed(before, state.groupV, cutoffV)?.share;
    ampereS += currentA * stepS * (fraction ?? 1);
    wattS += ((sum(before) + sum(state.groupV)) / 2) * currentA * stepS * (fraction ?? 1);
    if (fraction !== undefined) break;
  }
  return { ah: ampereS / 3600, wh: wattS / 3600 };
}

function aloneWh(groups: readonly (readonly RunCell[])[], meanA: number, cutoffV: number, stepS: number): number {
  if (meanA === 0) return 0;
  return groups
    .flatMap((group) => {
      const ah = group.reduce((total, cell) => total + cell.capacityAh, 0);
      return group.map((cell) => given(new PackState([[cell]]), (meanA * cell.capacityAh) / ah, cutoffV, stepS).wh);
    })
    .reduce((a, b) => a + b, 0);
}

function hottestOf(state: PackState): PackRun['hottest'] {
  const all = byGroup(state, (i) => i).flatMap((own, g) =>
    own.map((i, k) => {
      const heatJ = state.heatJ[i] as number;
      return { group: g + 1, cell: k + 1, heatJ, riseAtMostK: heatJ / (heatPerAhK * state.capacityAhOf(i)) };
    }),
  );
  return all.reduce((a, b) => (b.riseAtMostK > a.riseAtMostK ? b : a));
}
