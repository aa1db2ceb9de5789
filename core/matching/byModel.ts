import { groupedBy } from '../grouped';
import { ImpossibleInput } from '../impossibleInput';
import { blocksOf, type MatchCell } from './blocks';
import { upperBoundAh } from './bound';
import { type Match, matchFrom, type MatchRequest } from './matched';

/** How many groups each model makes, in the order of the models. */
type Shares = number[];

/** Up to this many cells every share of the groups is matched, not only reckoned from its bound. */
const matchedInFull = 26;
/** Of more models than these the most plentiful are looked at, and nothing is proven. */
const mostModels = 14;

/**
 * A match whose groups are of one model each, of no more models than `limits.modelsInPack`. More groups of one model
 * make its weakest group weaker, never stronger: so the groups are given out one by one, each to the model that then
 * stands strongest, and no other way to give them out has a stronger weakest group. The bound of every way is that of
 * its models; on small shelves every model is matched for every count. Source: own rule.
 *
 * @param matchAlike of cells of one model
 * @throws ImpossibleInput where a bond or a pin forbids it, or no number of models makes so many groups
 */
export function matchByModel(request: MatchRequest, matchAlike: (request: MatchRequest) => Match): Match {
  const { series, parallel, cells, pins = [], limits } = request;
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
    return upperBoundAh(blocksOf(cellsOf(model), count, parallel, pins), count, parallel);
  });
  const matchOf = remembered((model, count) => matchAlike(alike(model, count)));

  const isSmall = models.flat().length <= matchedInFull;
  const needed = models.map((_, model) => Math.ceil((alike(model, 1).pins?.length ?? 0) / parallel));
  const mostOf = (model: number): number => Math.min(series, Math.floor(cellsOf(model).length / parallel));
  const waysBy = (strengthOf: (model: number, count: number) => number): Way[] =>
    choicesOf(models.length, limits?.modelsInPack ?? 1, needed).flatMap(
      (chosen) => shared(chosen, needed, series, mostOf, strengthOf) ?? [],
    );
  const bounds = waysBy((model, count) => boundOf(model, count) ?? 0);
  const boundAh = Math.max(0, ...bounds.map(({ weakestAh }) => weakestAh));
  const ways = isSmall ? waysBy((model, count) => matchOf(model, count)?.possibleAh ?? 0) : bounds;
  const best = strongestOf(ways);
  const tooFew = new ImpossibleInput('cells', { code: 'too-few-of-a-model', series, parallel });
  if (!best) throw tooFew;

  const parts = best.shares.flatMap((count, model) => (count > 0 ? [matchOf(model, count)] : []));
  const [found, isWhole] = [parts.filter((part) => part !== null), parts.every((part) => part !== null)];
  if (!isWhole) throw tooFew;
  const possibleAh = Math.min(...found.map((part) => part.possibleAh));
  const isFull = isSmall && found.every(({ proven }) => proven);
  const proven = isAll && (isFull || possibleAh >= boundAh - 1e-12);
  return matchFrom(
    found.flatMap(({ groups }) => groups),
    { ...request, boundAh, possibleAh, proven },
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

/** What is found once for a model and a count; null where it cannot be. */
function remembered<T>(find: (model: number, count: number) => T): (model: number, count: number) => T | null {
  const known = new Map<string, T | null>();
  return (model, count) => {
    const key = `${model} ${count}`;
    if (!known.has(key))
      known.set(
        key,
        orNull(() => find(model, count)),
      );
    return known.get(key) ?? null;
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

/** Every choice of up to `most` models that has those which must be in it, fewer models first. */
function choicesOf(count: number, most: number, needed: Shares): number[][] {
  const all = Array.from({ length: 2 ** count - 1 }, (_, i) =>
    Array.from({ length: count }, (_, model) => model).filter((model) => ((i + 1) >> model) % 2 === 1),
  );
  return all
    .filter((chosen) => chosen.length <= most && needed.every((n, model) => n === 0 || chosen.includes(model)))
    .sort((a, b) => a.length - b.length);
}

interface Way {
  shares: Shares;
  weakestAh: number;
}

/** The groups given out among these models; null where they do not make so many. */
function shared(
  chosen: readonly number[],
  needed: Shares,
  series: number,
  mostOf: (model: number) => number,
  strengthOf: (model: number, count: number) => number,
): Way | null {
  const shares = [...needed];
  for (let given = shares.reduce((sum, n) => sum + n, 0); given < series; given += 1) {
    const next = chosen
      .filter((model) => (shares[model] ?? 0) < mostOf(model))
      .map((model) => ({ model, ah: strengthOf(model, (shares[model] ?? 0) + 1) }))
      .reduce<{ model: number; ah: number } | null>((a, b) => (a && a.ah >= b.ah ? a : b), null);
    if (!next || next.ah <= 0) return null;
    shares[next.model] = (shares[next.model] ?? 0) + 1;
  }
  const strengths = shares.flatMap((n, model) => (n > 0 ? [strengthOf(model, n)] : []));
  const isWhole = shares.reduce((sum, n) => sum + n, 0) === series;
  return isWhole ? { shares, weakestAh: Math.min(...strengths) } : null;
}

/** Of equal ones the first. */
const strongestOf = (ways: readonly Way[]): Way | null =>
  ways.reduce<Way | null>((a, b) => (a && a.weakestAh >= b.weakestAh ? a : b), null);
