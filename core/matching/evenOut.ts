import type { Chance } from '../statistics/random';
import type { Block } from './blocks';
import { type Arrangement, isFree } from './exchange';

/** This many exchanges are tried, at most; and of few blocks each with each other this many times. */
const mostTries = 300_000;
const timesEach = 40;

/**
 * Exchanges what makes a group stronger than it must be for weaker blocks that are left over: groups become equal, and
 * the better cells are spared. No group falls below `floorAh`. Changes the arrangement in place.
 */
export function spareSurplus({ groups, sums, left }: Arrangement, floorAh: number): void {
  groups.forEach((group, g) => {
    for (;;) {
      let best: { mine: number; theirs: number; sum: number } | null = null;
      for (const [mine, block] of group.entries()) {
        if (block.isPinned) continue;
        for (const [theirs, other] of left.entries()) {
          if (other.size !== block.size || other.capacityAh >= block.capacityAh) continue;
          const sum = (sums[g] as number) - block.capacityAh + other.capacityAh;
          if (sum >= floorAh - rounding && (best === null || sum < best.sum)) best = { mine, theirs, sum };
        }
      }
      if (!best) return;
      const { mine, theirs, sum } = best;
      const block = group[mine] as Block;
      group[mine] = left[theirs] as Block;
      left[theirs] = block;
      sums[g] = sum;
    }
  });
}

/** Sums of the same cells in another order differ by less, Ah. */
const rounding = 1e-9;

/** Of the cells of a block: logarithms of their resistances, summed, their squares, and what they conduct. */
interface Conducted {
  log: number;
  square: number;
  siemens: number;
}

const conductedBy = (blocks: readonly Block[]): Conducted => {
  const sum: Conducted = { log: 0, square: 0, siemens: 0 };
  for (const { resistanceOhm } of blocks.flatMap(({ cells }) => cells)) {
    const log = Math.log(resistanceOhm);
    sum.log += log;
    sum.square += log * log;
    sum.siemens += 1 / resistanceOhm;
  }
  return sum;
};

/** How far cells of a group lie apart (variance of the logarithm), of a pack of this many in parallel. */
const apartWithin = ({ log, square }: Conducted, parallel: number): number =>
  Math.max(0, square / parallel - (log / parallel) ** 2);

/**
 * How unlike resistances are: the mean variance within groups, where it decides how a current is shared, and that
 * between groups, where it decides who sags; of the logarithm, so that it is the square of a share. Source: own rule.
 */
export function unlikeness(groups: readonly (readonly Block[])[], parallel: number): number {
  const conducted = groups.map(conductedBy);
  const logs = conducted.map(({ siemens }) => -Math.log(siemens));
  const mean = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0) / values.length;
  const between = mean(logs.map((log) => log * log)) - mean(logs) ** 2;
  return mean(conducted.map((one) => apartWithin(one, parallel))) + Math.max(0, between);
}

/**
 * Exchanges blocks of one size, between groups and with what is left over, as long as resistances become more alike;
 * no group leaves the span from `floorAh` to `ceilingAh`. Changes the arrangement in place.
 */
export function evenResistances(
  { groups, sums, left }: Arrangement,
  parallel: number,
  { floorAh, ceilingAh }: { floorAh: number; ceilingAh: number },
  chance: Chance,
  isOver: () => boolean = () => false,
): void {
  const series = groups.length;
  const of = new Map([...groups.flat(), ...left].map((block) => [block, conductedBy([block])]));
  const state = groups.map(conductedBy);
  const logOf = (g: number): number => -Math.log((state[g] as Conducted).siemens);
  const places = [
    ...groups.flatMap((group, g) => group.flatMap((block, i) => (isFree(block) ? [{ g, i }] : []))),
    ...left.map((_, i) => ({ g: -1, i })),
  ];
  const listOf = (g: number): Block[] => (g < 0 ? left : (groups[g] as Block[]));
  const moved = (g: number, out: Conducted, into: Conducted): Conducted => {
    const { log, square, siemens } = state[g] as Conducted;
    return {
      log: log - out.log + into.log,
      square: square - out.square + into.square,
      siemens: siemens - out.siemens + into.siemens,
    };
  };
  const fits = (sum: number): boolean => sum >= floorAh && sum <= ceilingAh;
  let logSum = groups.reduce((sum, _, g) => sum + logOf(g), 0);
  const tries = Math.min(mostTries, timesEach * places.length ** 2);
  for (let n = 0; n < tries; n++) {
    if (n % 4096 === 0 && isOver()) return;
    const a = places[Math.floor(chance.uniform() * places.length)];
    const b = places[Math.floor(chance.uniform() * places.length)];
    if (!a || !b || a.g === b.g || a.g < 0) continue;
    const [mine, theirs] = [listOf(a.g)[a.i] as Block, listOf(b.g)[b.i] as Block];
    if (mine.size !== theirs.size || (b.g < 0 && mine.isPinned)) continue;
    const rise = theirs.capacityAh - mine.capacityAh;
    const [sumA, sumB] = [(sums[a.g] as number) + rise, b.g < 0 ? floorAh : (sums[b.g] as number) - rise];
    if (!fits(sumA) || !fits(sumB)) continue;
    const [out, into] = [of.get(mine) as Conducted, of.get(theirs) as Conducted];
    const newA = moved(a.g, out, into);
    const newB = b.g < 0 ? null : moved(b.g, into, out);
    const logA = -Math.log(newA.siemens);
    const logB = newB ? -Math.log(newB.siemens) : 0;
    const [oldA, oldB] = [logOf(a.g), b.g < 0 ? 0 : logOf(b.g)];
    const newSum = logSum - oldA - oldB + logA + logB;
    const within =
      apartWithin(newA, parallel) -
      apartWithin(state[a.g] as Conducted, parallel) +
      (newB ? apartWithin(newB, parallel) - apartWithin(state[b.g] as Conducted, parallel) : 0);
    const between = logA ** 2 + logB ** 2 - oldA ** 2 - oldB ** 2 - (newSum ** 2 - logSum ** 2) / series;
    if (within + between > -leastChange) continue;
    listOf(a.g)[a.i] = theirs;
    listOf(b.g)[b.i] = mine;
    sums[a.g] = sumA;
    state[a.g] = newA;
    if (newB) {
      sums[b.g] = sumB;
      state[b.g] = newB;
    }
    logSum = newSum;
  }
}

/** Less than this is rounding. */
const leastChange = 1e-12;
