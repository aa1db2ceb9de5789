import { median } from 'simple-statistics';
import { type Chance, seededChance } from '../statistics/random';
import { type Block, blocksOf } from './blocks';
import { type Match, matchCells, type MatchRequest } from './match';

/** What other ways to build it would have given, Ah of the weakest group. */
export interface BuiltOtherwise {
  /** One after the other as their codes come; null where welded cells do not fall into groups so. */
  labelOrderAh: number | null;
  /** The median of many random builds. */
  randomAh: number;
  /** With one more cell as good as the best of all. */
  betterCell: { capacityAh: number; packAh: number };
}

const randomBuilds = 200;

/**
 * What a match is to be compared with: a build in the order of codes, builds at random (the same every time), and a
 * match with one better cell.
 *
 * @throws ImpossibleInput as `matchCells` does
 */
export function builtOtherwise(request: MatchRequest, { groups, left }: Match): BuiltOtherwise {
  const { series, parallel, cells, limits } = request;
  // Of the models that it is of: others could not be added at random.
  const models = new Set(groups.flatMap((group) => group.cells.map(({ model }) => model)));
  const isApart = limits?.modelsInPack !== undefined && models.size > 1;
  const blocks = blocksOf(
    limits?.modelsInPack === undefined ? cells : cells.filter(({ model }) => models.has(model)),
    series,
    parallel,
  );
  const filled = (ordered: readonly Block[]): number | null => filledBy(ordered, series, parallel, isApart);
  const byCode = [...blocks].sort((a, b) => codeOf(a).localeCompare(codeOf(b), 'en', { numeric: true }));
  const chance = seededChance(1);
  const random = Array.from({ length: randomBuilds }, () => filled(shuffled(blocks, chance)));
  const best = [...groups.flatMap((group) => group.cells), ...left].reduce((a, b) =>
    b.capacityAh > a.capacityAh ? b : a,
  );
  const more = { ...best, id: `${best.id}+`, bond: undefined };
  const better = matchCells({ ...request, cells: [...cells, more], onProgress: undefined });
  return {
    labelOrderAh: filled(byCode),
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

/**
 * The weakest of groups that are filled in that order, Ah: each block goes into the first that has room for it, of its
 * own model where they are kept apart. The first `series` that get full are the build; null where this many do not.
 */
function filledBy(blocks: readonly Block[], series: number, parallel: number, isApart: boolean): number | null {
  const groups: { model: string | undefined; room: number; ah: number }[] = [];
  for (const { size, capacityAh, cells } of blocks) {
    const model = isApart ? cells[0]?.model : undefined;
    let group = groups.find((one) => one.room >= size && one.model === model);
    if (!group) groups.push((group = { model, room: parallel, ah: 0 }));
    group.room -= size;
    group.ah += capacityAh;
  }
  const full = groups.filter(({ room }) => room === 0).slice(0, series);
  return full.length < series ? null : Math.min(...full.map(({ ah }) => ah));
}
