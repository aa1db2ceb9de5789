import 'server-only';
import { type Agreement, agreementOf, type Pair } from '@/core/resistance/agreement';
import { judgeRatio, type RatioVerdict } from '@/core/resistance/methods';
import { database } from '@/records/database';
import type { Protocol } from '@/records/protocols';
import { readingsOfRounds } from '@/records/readings';
import { listRounds } from '@/records/rounds';
import { modelName, mostPlentiful } from '@/stations/models';
import { cellOfCode, judgedWorkshop } from '@/workshop/judged';
import { figuresByCell, judgeReadings } from './round';

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

/** The newest comparable figure of each cell in each protocol, Ω. */
async function figuresByProtocol(): Promise<{ protocols: Protocol[]; figures: Map<number, Map<string, number>>; modelOf(code: string): string }> {
  const db = database();
  const [rounds, workshop] = await Promise.all([listRounds(db), judgedWorkshop()]);
  const protocols = [...workshop.protocols.values()];
  const figures = new Map<number, Map<string, number>>();
  for (const protocol of protocols) {
    const ids = rounds.filter((round) => round.protocolId === protocol.id).map((round) => round.id);
    if (ids.length === 0) continue;
    const newest = figuresByCell(judgeReadings(await readingsOfRounds(db, ids), workshop));
    figures.set(protocol.id, new Map([...newest].map(([code, { result }]) => [code, result?.resistance.value ?? NaN])));
  }
  const modelOf = (code: string): string => {
    const cell = cellOfCode(workshop, code);
    return cell ? modelName(cell) : '';
  };
  return { protocols: protocols.filter((protocol) => (figures.get(protocol.id)?.size ?? 0) > 0), figures, modelOf };
}

/** Every model together, instead of the one with most cells. */
export const everyModel = 'every';

/**
 * Two protocols held against each other on the cells of one model measured by both; without a choice the two with most
 * cells in common, and the model with most of them. Nothing is converted from one into the other.
 */
export async function compareProtocols(firstId: number | null, secondId: number | null, chosenModel: string | null = null): Promise<Comparison> {
  const { protocols, figures, modelOf } = await figuresByProtocol();
  const pairsOf = (a: Protocol, b: Protocol): CellPair[] =>
    [...(figures.get(a.id) ?? [])].flatMap(([code, first]) => {
      const second = figures.get(b.id)?.get(code);
      return second === undefined ? [] : [{ code, model: modelOf(code), first, second }];
    });
  const choices = protocols.flatMap((a) => protocols.filter((b) => b.id !== a.id).map((b) => ({ a, b, count: pairsOf(a, b).length })));
  const fitting = choices.filter(({ a, b }) => (firstId === null || a.id === firstId) && (secondId === null || b.id === secondId));
  const best = fitting.reduce<(typeof choices)[number] | null>((most, one) => (one.count > (most?.count ?? -1) ? one : most), null);
  if (!best) return { protocols, first: protocols.find((one) => one.id === firstId) ?? null, second: null, models: [], model: null, pairs: [], agreement: null, verdict: null };
  const all = pairsOf(best.a, best.b);
  const models = mostPlentiful(all.map((pair) => pair.model)).map(({ name }) => name);
  const model = chosenModel === everyModel ? null : (models.find((name) => name === chosenModel) ?? models[0] ?? null);
  const pairs = model === null ? all : all.filter((pair) => pair.model === model);
  const agreement = agreementOf(pairs);
  return { protocols, first: best.a, second: best.b, models, model, pairs, agreement, verdict: agreement && judgeRatio(best.a.method, best.b.method, agreement.ratio) };
}
