import type { Warning } from '../warning';
import type { MatchCell, Pin } from './blocks';

/** What the house allows; nothing is said of what is left out. */
export interface MatchLimits {
  /** Cells are joined only within this voltage, V. */
  joinWithinV?: number | undefined;
  /** The largest resistance of a group against its smallest. */
  sharingTimes?: number | undefined;
  /** The strongest group may exceed the weakest by this share. */
  groupsApartShare?: number | undefined;
  /** Groups are of one model each, and of this many models together. */
  modelsInPack?: number | undefined;
}

export interface MatchRequest {
  series: number;
  parallel: number;
  cells: readonly MatchCell[];
  /** Cells that must be in it. */
  pins?: readonly Pin[] | undefined;
  limits?: MatchLimits | undefined;
  /** Asked now and then: true once the time is up; the best found until then is the answer. */
  isOver?: (() => boolean) | undefined;
  /** Told now and then: what share of the search is done, and what the best so far is. */
  onProgress?: ((fraction: number, best: () => Match) => void) | undefined;
  /** Capacity that is enough, Ah: the strongest cells are then spared as far as it allows. */
  enoughAh?: number | undefined;
  /** Another search with another seed; the same request gives the same match. */
  seed?: number | undefined;
}

export interface MatchedGroup {
  cells: MatchCell[];
  capacityAh: number;
  resistanceOhm: number;
}

export interface Match {
  /** From the strongest; in the order of their numbers where a cell was pinned to one. */
  groups: MatchedGroup[];
  packCapacityAh: number;
  /** The strongest weakest group that was found: more than the pack's by less than is known of it. */
  possibleAh: number;
  upperBoundAh: number;
  /** 1 − packCapacityAh / upperBoundAh; the bound holds for any arrangement of these cells. */
  gap: number;
  /** (strongest − weakest group) / weakest group. */
  spread: number;
  /** True when no arrangement of these cells has a weakest group above `possibleAh`. */
  proven: boolean;
  left: MatchCell[];
  warnings: Warning[];
}

const timeWasUp: Warning = { code: 'time-limit' };

/** How good it is. */
export interface MatchProof {
  boundAh: number;
  possibleAh: number;
  proven: boolean;
}

/** The match that these groups make. */
export function matchFrom(
  groups: MatchedGroup[],
  progress: Pick<MatchRequest, 'cells' | 'limits' | 'isOver' | 'pins'> & MatchProof,
): Match {
  if (!progress.pins?.some(({ group }) => group !== undefined)) groups.sort((a, b) => b.capacityAh - a.capacityAh);
  const capacities = groups.map((group) => group.capacityAh);
  const packCapacityAh = Math.min(...capacities);
  const used = new Set(groups.flatMap((group) => group.cells));
  return {
    groups,
    packCapacityAh,
    possibleAh: Math.max(progress.possibleAh, packCapacityAh),
    upperBoundAh: progress.boundAh,
    gap: Math.max(0, 1 - packCapacityAh / progress.boundAh),
    spread: (Math.max(...capacities) - packCapacityAh) / packCapacityAh,
    proven: progress.proven,
    left: progress.cells.filter((cell) => !used.has(cell)),
    warnings: [
      ...groupWarnings(
        groups.map((group) => group.cells),
        progress.limits,
      ),
      ...(progress.isOver?.() ? [timeWasUp] : []),
    ],
  };
}

/** What is to be seen to before these groups are joined. */
export function groupWarnings(groups: readonly (readonly MatchCell[])[], limits: MatchLimits = {}): Warning[] {
  const { joinWithinV, sharingTimes = Infinity, groupsApartShare = Infinity } = limits;
  const capacities = groups.map((cells) => cells.reduce((sum, cell) => sum + cell.capacityAh, 0));
  const weakestAh = Math.min(...capacities);
  const apartFraction = Math.max(...capacities) / weakestAh - 1;
  const within = groups.flatMap((cells, i): Warning[] => {
    const warnings: Warning[] = [];
    const resistances = cells.map((cell) => cell.resistanceOhm);
    const ratio = Math.max(...resistances) / Math.min(...resistances);
    if (ratio > sharingTimes) warnings.push({ code: 'sharing-uneven', group: i + 1, ratio });
    const voltages = cells.map((cell) => cell.voltageV).filter((voltage) => voltage !== undefined);
    const apartV = Math.max(...voltages) - Math.min(...voltages);
    if (joinWithinV !== undefined && voltages.length > 1 && apartV > joinWithinV)
      warnings.push({ code: 'voltages-apart', apartV, joining: { group: i + 1, withinV: joinWithinV } });
    if (limits.modelsInPack !== undefined && new Set(cells.map(({ model }) => model)).size > 1)
      warnings.push({ code: 'models-mixed', group: i + 1 });
    return warnings;
  });
  const isApart = apartFraction > groupsApartShare;
  return isApart
    ? [...within, { code: 'groups-apart', weakest: capacities.indexOf(weakestAh) + 1, apartFraction }]
    : within;
}
