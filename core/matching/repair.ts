import type { Quantity } from '../quantity/quantity';
import type { KnownCell } from '../simulation/predictRun';
import { groupedBy } from '../grouped';
import { ImpossibleInput } from '../impossibleInput';
import type { MatchCell } from './blocks';
import { type GroupFigures, groupFigures, packFigures } from './groupFigures';
import { type Match, matchCells, type MatchRequest } from './match';

/** A cell that lies on the shelf. */
export interface Spare extends KnownCell {
  id: string;
  /** At rest as it was read last; null where not read. */
  voltageV: number | null;
  bond?: string | undefined;
}

export interface RepairRequest {
  /** Capacities of the groups that stay as they are; null of one that is not known. */
  others: readonly (Quantity | null)[];
  /** Cells of the mended group that stay in it; none where several are replaced. */
  kept: readonly KnownCell[];
  /** How many cells are to be put in, into each of this many groups. */
  places: number;
  groups: number;
  /** After ten seconds, of a median cell of the pack; null where that is not known. */
  neighbourOhm: number | null;
  spares: readonly Spare[];
  /** The house's limit of unlike resistances. */
  sharingTimes: number;
}

/** Spares that could go in, and what the pack would be with them. */
export interface Fit {
  /** Of each mended group. */
  groups: (GroupFigures & { spares: Spare[] })[];
  /** Of the pack, by its weakest group; null where a group is not known. */
  packAh: Quantity | null;
  /** The resistance of the one that is least like its neighbours, as times theirs; null where theirs is not known. */
  ohmTimes: number | null;
  /** Why they do not fit; null where they do. */
  short: 'capacity' | 'resistance' | null;
}

const mostFits = 12;

/**
 * Which spares fit a group of a pack, or several that are replaced together: those that hold as much as its weakest
 * good group and resist as its other cells do come first, the most alike before the stronger ones; then what falls
 * short, the best first. Of several places each set is of other cells than those before. Welded pairs stay whole.
 * Source: common practice; ranking by an own rule.
 */
export function fitsOf(request: RepairRequest): Fit[] {
  const known = request.others.flatMap((one) => one ?? []);
  const neededAh = known.length === 0 ? null : Math.min(...known.map(({ value }) => value));
  return setsOf(request, neededAh)
    .map((spares) => fitOf(spares, request, neededAh))
    .sort((a, b) => Number(a.short !== null) - Number(b.short !== null) || worth(b, neededAh) - worth(a, neededAh))
    .slice(0, mostFits);
}

/** Of what fits the likeness, of what does not the capacity of the group up to what is needed. */
function worth({ short, ohmTimes, groups }: Fit, neededAh: number | null): number {
  const ah = weakestAh(groups);
  return short === null
    ? -Math.abs(Math.log(ohmTimes ?? 1)) - ah / 1e6
    : Math.min(ah, neededAh ?? ah) - 1e6 * Number(short === 'resistance');
}

const weakestAh = (groups: Fit['groups']): number => Math.min(...groups.map(({ capacity }) => capacity?.value ?? 0));

/** Sets of spares, each a list of every mended group. */
function setsOf({ spares, places, groups, kept }: RepairRequest, neededAh: number | null): Spare[][][] {
  if (places === 1 && groups === 1) return spares.filter(({ bond }) => bond === undefined).map((spare) => [[spare]]);
  const keptAh = kept.reduce((sum, { capacity }) => sum + capacity.value, 0);
  const byId = new Map(spares.map((spare) => [spare.id, spare]));
  const sets: Spare[][][] = [];
  let left: MatchCell[] = spares.map(({ id, capacity, resistance, bond }) => ({
    id,
    capacityAh: capacity.value,
    capacityU: capacity.u,
    resistanceOhm: resistance.value,
    bond,
  }));
  while (sets.length < mostFits && left.length >= groups * places) {
    const enoughAh = neededAh === null ? undefined : Math.max(1e-3, neededAh - keptAh);
    const match = matched({ series: groups, parallel: places, cells: left, enoughAh });
    if (!match) break;
    sets.push(match.groups.map(({ cells }) => cells.flatMap(({ id }) => byId.get(id) ?? [])));
    const chosen = new Set(match.groups.flatMap(({ cells }) => cells.map(({ id }) => id)));
    left = left.filter(({ id }) => !chosen.has(id));
  }
  return sets;
}

/** Null where whole blocks do not fill them: pairs alone fill no odd number of places. */
function matched(request: MatchRequest): Match | null {
  const bonded = groupedBy(request.cells, ({ bond, id }) => bond ?? id);
  const cells = request.cells.filter(({ bond, id }) => (bonded.get(bond ?? id)?.length ?? 0) <= request.parallel);
  try {
    return matchCells({ ...request, cells });
  } catch (error) {
    if (error instanceof ImpossibleInput) return null;
    throw error;
  }
}

function fitOf(
  sets: Spare[][],
  { others, kept, neighbourOhm, sharingTimes }: RepairRequest,
  neededAh: number | null,
): Fit {
  const groups = sets.map((spares) => ({ spares, ...groupFigures([...kept, ...spares]) }));
  const ratios = neighbourOhm === null ? [] : sets.flat().map(({ resistance }) => resistance.value / neighbourOhm);
  const ohmTimes = ratios.reduce<number | null>(
    (far, ratio) => (far === null || Math.abs(Math.log(ratio)) > Math.abs(Math.log(far)) ? ratio : far),
    null,
  );
  // A group by itself may resist less than others; a cell beside others that does carries for them.
  const isUnlike = ohmTimes !== null && (ohmTimes > sharingTimes || (kept.length > 0 && ohmTimes < 1 / sharingTimes));
  const isWeak = neededAh !== null && weakestAh(groups) < neededAh;
  const weak = isWeak ? ('capacity' as const) : null;
  return {
    groups,
    packAh: packFigures([...others.map((capacity) => ({ capacity, resistance: null })), ...groups]).capacity,
    ohmTimes,
    short: isUnlike ? 'resistance' : weak,
  };
}
