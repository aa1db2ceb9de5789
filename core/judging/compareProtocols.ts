import type { Protocol } from './facts';
import { type Agreement, agreementOf, type Pair } from '@/core/resistance/agreement';
import { judgeRatio, type RatioVerdict } from '@/core/resistance/methods';
import { modelName, mostPlentiful } from './models';
import type { JudgedCell } from './judgeCell';
import type { JudgedPack } from './judgePack';
import type { JudgedSubject } from './subject';

export interface CodedPair extends Pair {
  code: string;
  /** Maker and model of a cell, or that it is a pack. */
  model: string;
}

/** A cell or a pack, with its newest figure under each protocol; of a pack a group's mean. */
type Compared = Pick<CodedPair, 'code' | 'model'> & Pick<JudgedSubject, 'figures'>;

/** What packs are among the models: by a group's mean they compare whatever their size. */
export const packModel = 'packs, a group';

export interface Comparison {
  protocols: Protocol[];
  first: Protocol | null;
  second: Protocol | null;
  /** Models with cells or packs measured by both, the most plentiful first. */
  models: string[];
  /** The one the rest is about; null for every model together. */
  model: string | null;
  pairs: CodedPair[];
  agreement: Agreement | null;
  verdict: RatioVerdict | null;
}

/** How many cells and packs were measured by two protocols, by both their ids. */
function sharedBy(compared: readonly Compared[]): Map<number, Map<number, number>> {
  const counts = new Map<number, Map<number, number>>();
  for (const { figures } of compared) {
    for (const [a] of figures) {
      const own = counts.get(a) ?? new Map<number, number>();
      counts.set(a, own);
      for (const [b] of figures) if (a !== b) own.set(b, (own.get(b) ?? 0) + 1);
    }
  }
  return counts;
}

const figureOf = ({ figures }: Compared, protocolId: number): number | undefined =>
  figures.find(([id]) => id === protocolId)?.[1];

/** Every model together, instead of the one with most cells. */
export const everyModel = 'every';

/**
 * Two protocols compared with each other on the cells of one model, or the packs, measured by both; without a choice
 * the two with most in common, and the model with most of them. Nothing is converted from one into the other.
 */
export function compareProtocols(
  { cells, protocols: known }: { cells: readonly JudgedCell[]; protocols: ReadonlyMap<number, Protocol> },
  packs: readonly JudgedPack[],
  firstId: number | null,
  secondId: number | null,
  chosenModel: string | null = null,
): Comparison {
  const compared: Compared[] = [
    ...cells
      .filter((cell) => !cell.putAway)
      .map((cell) => ({ code: cell.code, model: modelName(cell), figures: cell.figures })),
    ...packs.map(({ code, figures }) => ({ code, model: packModel, figures })),
  ];
  const ofChosen = compared.filter(({ model }) => model === chosenModel);
  const shared = sharedBy(ofChosen.length > 0 ? ofChosen : compared);
  const protocols = [...known.values()].filter((protocol) => shared.has(protocol.id));
  const pairsOf = (a: Protocol, b: Protocol): CodedPair[] =>
    compared.flatMap((one) => {
      const [first, second] = [figureOf(one, a.id), figureOf(one, b.id)];
      return first === undefined || second === undefined ? [] : [{ code: one.code, model: one.model, first, second }];
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
