import { median } from 'simple-statistics';
import { type Chance, seededChance } from '../statistics/random';
import { type Block, blocksOf } from './blocks';
import { type Match, matchCells, type MatchRequest } from './match';

/** What other ways to build it would have given, Ah of the weakest group. */
export interface BuiltOtherwise {
  /** One after the other as their codes come; null where welded cells do not fall into groups so. */
  labelOrderAh: number | null;
  /** The middle of many builds at random. */
  randomAh: number;
  /** With one more cell as good as the best of all. */
  betterCell: { capacityAh: number; packAh: number };
}

const randomBuilds = 200;

/**
 * What a match is to be held against: a build in the order of codes, builds at random (the same every time), and a
 * match with one better cell.
 *
 * @throws ImpossibleInput as `matchCells` does
 */
export function builtOtherwise(request: MatchRequest, { groups, left }: Match): BuiltOtherwise {
  const { series, parallel, cells } = request;
  const blocks = blocksOf(cells, series, parallel);
  const byCode = [...blocks].sort((a, b) => codeOf(a).localeCompare(codeOf(b), 'en', { numeric: true }));
  const chance = seededChance(1);
  const random = Array.from({ length: randomBuilds }, () => filled(shuffled(blocks, chance), series, parallel));
  const best = [...groups.flatMap((group) => group.cells), ...left].reduce((a, b) =>
    b.capacityAh > a.capacityAh ? b : a,
  );
  const more = { ...best, id: `${best.id}+`, bond: undefined };
  const better = matchCells({ ...request, cells: [...cells, more], onProgress: undefined });
  return {
    labelOrderAh: filled(byCode, series, parallel),
    randomAh: median(random.flatMap((ah) => ah ?? [])),
    betterCell: { capacityAh: best.capacityAh, packAh: better.possibleAh },
  };
}

const codeOf = ({ cells: [first] }: Block): string => first?.id ?? '';

function shuffled<T>(all: readonly T[], chance: Chance): T[] {
  const list = [...all];
  for (let i = list.length - 1; i > 0; i -= 1) {
    const j = Math.floor(chance.uniform() * (i + 1));
    [list[i], list[j]] = [list[j] as T, list[i] as T];
  }
  return list;
}

/** The weakest of groups that are filled one after the other, in that order, Ah; null where they are not all filled. */
function filled(blocks: readonly Block[], series: number, parallel: number): number | null {
  const room = new Array<number>(series).fill(parallel);
  const sums = new Array<number>(series).fill(0);
  for (const { size, capacityAh } of blocks) {
    const g = room.findIndex((places) => places >= size);
    if (g < 0) continue;
    room[g] = (room[g] as number) - size;
    sums[g] = (sums[g] as number) + capacityAh;
  }
  return room.some((places) => places > 0) ? null : Math.min(...sums);
}
