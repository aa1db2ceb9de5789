import { groupedBy } from '../grouped';
import { ImpossibleInput } from '../impossibleInput';
import { blocksOf, type MatchCell } from './blocks';
import { upperBoundAh } from './bound';
import { type Match, matchFrom, type MatchRequest } from './matched';

/** Up to this many cells the search among the models is not cut short. */
const matchedInFull = 26;
/** Of more cells this many matches of a model are made at the most. */
const mostMatches = 24;
/** Of more models than these the most plentiful are looked at, and nothing is proven. */
const mostModels = 14;

/**
 * A match whose groups are of one model each, of no more models than `limits.modelsInPack`. How many groups each model
 * makes is decided by how strong its weakest group is then: at first by its upper bound, and by its match for the
 * numbers that the best way takes, until the best way is of matches alone. Source: own rule.
 *
 * @param matchAlike of cells of one model
 * @throws ImpossibleInput where a bond or a pin forbids it, or no number of models makes this many groups
 */
export function matchByModel(request: MatchRequest, matchAlike: (request: MatchRequest) => Match): Match {
  const { series, parallel, cells, pins = [], limits, enoughAh = Infinity, isOver = () => false } = request;
  if (new Set(cells.map(({ model }) => model)).size <= 1) return matchAlike(request);
  const { models, isAll } = modelsOf(request);
  if (pins.some(({ group }) => group !== undefined)) throw new ImpossibleInput('pins', { code: 'pins-by-group' });

  const cellsOf = (model: number): MatchCell[] => models[model] ?? [];
  const alike = (model: number, count: number): MatchRequest => ({
    ...request,
    onProgress: undefined,
    series: count,
    cells: cellsOf(model),
    pins: pins.filter(({ cell }) => cellsOf(model).some(({ id }) => id === cell)),
  });
  const boundOf = remembered((model, count) => {
    const { pins } = alike(model, count);
    const boundAh = upperBoundAh(blocksOf(cellsOf(model), count, parallel, pins), count, parallel);
    return boundAh > 0 ? boundAh : null;
  });
  const matches = remembered((model, count) => matchAlike(alike(model, count)));
  const bestWay = (strengthOf: Strength): Way | null =>
    strongestWay(
      models.map((of, model) => ({
        least: Math.ceil((alike(model, 1).pins?.length ?? 0) / parallel),
        most: Math.floor(of.length / parallel),
      })),
      { series, mostModels: limits?.modelsInPack ?? 1, strengthOf },
    );

  const boundAh = bestWay(boundOf.find)?.weakestAh ?? 0;
  const isSmall = models.flat().length <= matchedInFull;
  const mayGoOn = (): boolean => isSmall || (matches.all().length < mostMatches && !isOver());
  let best: { match: Match[]; possibleAh: number } | null = null;
  let isSettled = false;
  while (!isSettled && (best === null || (best.possibleAh < enoughAh && mayGoOn()))) {
    const way = bestWay((model, count) => {
      const match = matches.known(model, count);
      return match === undefined ? boundOf.find(model, count) : (match?.possibleAh ?? null);
    });
    if (!way) break;
    const parts = way.shares.flatMap((count, model) => (count > 0 ? [{ model, count }] : []));
    isSettled = parts.every(({ model, count }) => matches.known(model, count) !== undefined);
    const found = parts.flatMap(({ model, count }) => matches.find(model, count) ?? []);
    const possibleAh = Math.min(...found.map((part) => part.possibleAh));
    if (found.length === parts.length && possibleAh > (best?.possibleAh ?? 0)) best = { match: found, possibleAh };
  }
  if (!best) throw new ImpossibleInput('cells', { code: 'too-few-of-a-model', series, parallel });
  const isFull = isSettled && isSmall && matches.all().every((match) => match?.proven ?? true);
  return matchFrom(
    best.match.flatMap(({ groups }) => groups),
    {
      ...request,
      boundAh,
      possibleAh: best.possibleAh,
      proven: isAll && (isFull || best.possibleAh >= boundAh - 1e-12),
    },
  );
}

/** The cells of each model that makes at least one group or has a pinned cell, the most plentiful first. */
function modelsOf({ cells, parallel, pins = [] }: MatchRequest): { models: MatchCell[][]; isAll: boolean } {
  const bonds = groupedBy(
    cells.filter(({ bond }) => bond !== undefined),
    ({ bond }) => bond ?? '',
  );
  for (const [bond, members] of bonds)
    if (new Set(members.map(({ model }) => model)).size > 1)
      throw new ImpossibleInput('cells', { code: 'bond-of-models', bond });
  const isPinned = (of: readonly MatchCell[]): boolean => of.some(({ id }) => pins.some(({ cell }) => cell === id));
  const all = [...groupedBy(cells, ({ model }) => model ?? '').values()].sort((a, b) => b.length - a.length);
  const able = all.filter((of) => of.length >= parallel || isPinned(of));
  const models = able.filter((of, i) => i < mostModels || isPinned(of));
  return { models, isAll: models.length === able.length };
}

/** What is found once for a model and a count; null where it cannot be, undefined where it was not looked for yet. */
function remembered<T>(look: (model: number, count: number) => T) {
  const found = new Map<string, T | null>();
  const known = (model: number, count: number): T | null | undefined => found.get(`${model} ${count}`);
  return {
    known,
    find: (model: number, count: number): T | null => {
      const before = known(model, count);
      if (before !== undefined) return before;
      const now = orNull(() => look(model, count));
      found.set(`${model} ${count}`, now);
      return now;
    },
    all: (): (T | null)[] => [...found.values()],
  };
}

function orNull<T>(find: () => T): T | null {
  try {
    return find();
  } catch (error) {
    if (error instanceof ImpossibleInput) return null;
    throw error;
  }
}

/** The weakest group of a model that makes this many, Ah; null where it cannot. */
type Strength = (model: number, count: number) => number | null;

/** How many groups each model makes, and the weakest of them all, Ah. */
interface Way {
  shares: number[];
  weakestAh: number;
}

/**
 * The way with the strongest weakest group; of equal ones that of the fewest models. By models one after the other: of
 * those before only the best way for each number of models and of groups matters.
 *
 * @param models how many groups each has to make at the least, and can make at the most
 */
function strongestWay(
  models: readonly { least: number; most: number }[],
  { series, mostModels, strengthOf }: { series: number; mostModels: number; strengthOf: Strength },
): Way | null {
  /** By how many models are used, then by how many groups they make. */
  let best: (Way | null)[][] = [[{ shares: [], weakestAh: Infinity }]];
  models.forEach(({ least, most }, model) => {
    const next: (Way | null)[][] = Array.from({ length: Math.min(mostModels, model + 1) + 1 }, () => []);
    const offer = (used: number, made: number, way: Way): void => {
      const known = next[used]?.[made];
      if (next[used] && (!known || known.weakestAh < way.weakestAh)) next[used][made] = way;
    };
    best.forEach((byCount, used) =>
      byCount.forEach((way, made) => {
        if (!way) return;
        if (least === 0) offer(used, made, { ...way, shares: [...way.shares, 0] });
        for (let count = Math.max(1, least); count <= Math.min(most, series - made); count += 1) {
          const ah = strengthOf(model, count);
          if (ah !== null)
            offer(used + 1, made + count, {
              shares: [...way.shares, count],
              weakestAh: Math.min(way.weakestAh, ah),
            });
        }
      }),
    );
    best = next;
  });
  return best
    .map((byCount) => byCount[series] ?? null)
    .reduce((a, b) => (b && (!a || b.weakestAh > a.weakestAh) ? b : a), null);
}
