import type { Protocol } from './facts';
import { type Agreement, agreementOf, type Pair } from '@/core/resistance/agreement';
import { judgeRatio, type RatioVerdict } from '@/core/resistance/methods';
import { modelName, mostPlentiful } from './models';
import type { JudgedCell } from './judgeCell';

export interface CellPair extends Pair {
  code: string;
  /** Maker and model of the cell. */
  model: string;
}

export interface Comparison {
  protocols: Protocol[];
  first: Protocol | null;
  second: Protocol | null;
  /** Models with cells measured by both, the most plentiful first. */
  models: string[];
  /** The one the rest is about; null for every model together. */
  model: string | null;
  pairs: CellPair[];
  agreement: Agreement | null;
  verdict: RatioVerdict | null;
}

/** How many cells were measured by two protocols, by both their ids. */
function sharedBy(cells: readonly JudgedCell[]): Map<number, Map<number, number>> {
  const counts = new Map<number, Map<number, number>>();
  for (const { figures } of cells) {
    for (const [a] of figures) {
      const own = counts.get(a) ?? new Map<number, number>();
      counts.set(a, own);
      for (const [b] of figures) if (a !== b) own.set(b, (own.get(b) ?? 0) + 1);
    }
  }
  return counts;
}

const figureOf = ({ figures }: JudgedCell, protocolId: number): number | undefined =>
  figures.find(([id]) => id === protocolId)?.[1];

/** Every model together, instead of the one with most cells. */
export const everyModel = 'every';

/**
 * Two protocols held against each other on the cells of one model measured by both; without a choice the two with most
 * cells in common, and the model with most of them. Nothing is converted from one into the other.
 */
export function compareProtocols(
  { cells: all, protocols: known }: { cells: readonly JudgedCell[]; protocols: ReadonlyMap<number, Protocol> },
  firstId: number | null,
  secondId: number | null,
  chosenModel: string | null = null,
): Comparison {
  const cells = all.filter((cell) => !cell.putAway);
  const shared = sharedBy(cells);
  const protocols = [...known.values()].filter((protocol) => shared.has(protocol.id));
  const pairsOf = (a: Protocol, b: Protocol): CellPair[] =>
    cells.flatMap((cell) => {
      const [first, second] = [figureOf(cell, a.id), figureOf(cell, b.id)];
      return first === undefined || second === undefined
        ? []
        : [{ code: cell.code, model: modelName(cell), first, second }];
    });
  const choices = protocols.flatMap((a) =>
    protocols.filter((b) => b.id !== a.id).map((b) => ({ a, b, count: shared.get(a.id)?.get(b.id) ?? 0 })),
  );
  const fitting = choices.filter(
    ({ a, b }) => (firstId === null || a.id === firstId) && (secondId === null || b.id === secondId),
  );
  const best = fitting.reduce<(typeof choices)[number] | null>(
    (most, one) => (one.count > (most?.count ?? -1) ? one : most),
    null,
  );
  if (!best)
    return {
      protocols,
      first: protocols.find((one) => one.id === firstId) ?? null,
      second: null,
      models: [],
      model: null,
      pairs: [],
      agreement: null,
      verdict: null,
    };
  const both = pairsOf(best.a, best.b);
  const models = mostPlentiful(both.map((pair) => pair.model)).map(({ name }) => name);
  const model = chosenModel === everyModel ? null : (models.find((name) => name === chosenModel) ?? models[0] ?? null);
  const pairs = model === null ? both : both.filter((pair) => pair.model === model);
  const agreement = agreementOf(pairs);
  return {
    protocols,
    first: best.a,
    second: best.b,
    models,
    model,
    pairs,
    agreement,
    verdict: agreement && judgeRatio(best.a.method, best.b.method, agreement.ratio),
  };
}
