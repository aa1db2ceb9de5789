import 'server-only';
import { dischargeArithmetic } from '@/core/capacity/discharge';
import type { HouseRules } from '@/core/chemistry/houseRules';
import { type PackJudgement, judgeGroups } from '@/core/packs/groupVoltages';
import { listCalibrations } from '@/records/calibrations';
import { type CellFacts, cellFacts, cellsChangedSince } from '@/records/cells';
import { database, type Snapshot, snapshotOf } from '@/records/database';
import { rulesInForce, type RulesInForce } from '@/records/houseRules';
import { listInstruments } from '@/records/instruments';
import { listPacks, type Pack, type PackRound } from '@/records/packs';
import { listProtocols } from '@/records/protocols';
import { bookOf, type InstrumentBook } from './book';
import { correctedVoltage, cutoffsOf, judgeCell, type JudgedCell } from './judgeCell';
import type { Bench } from './judgeStored';
import { type Kept, renewed } from './renewed';

export interface Workshop extends Bench {
  rules: RulesInForce;
  /** In order of their codes. */
  cells: JudgedCell[];
  /** Where in `cells` a cell stands, by its code. */
  places: ReadonlyMap<string, number>;
}

const held = globalThis as typeof globalThis & { judgedWorkshop?: Kept<Workshop> };

/**
 * Every cell judged. Kept by this process, which judges only what changed since; all anew under changed rules.
 *
 * @param asOf taken just now, where the caller has one
 */
export async function judgedWorkshop(asOf?: Snapshot): Promise<Workshop> {
  const db = database();
  const snapshot = asOf ?? (await snapshotOf(db));
  const keep = (now: Kept<Workshop> | undefined) => {
    held.judgedWorkshop = now;
  };
  return renewed(held.judgedWorkshop, snapshot, keep, async (before) => {
    const factsOf = (rules: HouseRules, only: number[] | null) => cellFacts(db, cutoffsOf(rules), dischargeArithmetic, only);
    // What changed is asked for together with the rules, in the hope that they are the same.
    const [rules, instruments, calibrations, protocols, changed] = await Promise.all([
      rulesInForce(db),
      listInstruments(db),
      listCalibrations(db),
      listProtocols(db),
      before && cellsChangedSince(db, before.snapshot).then((ids) => (ids.length === 0 ? [] : factsOf(before.value.rules.limits, ids))),
    ]);
    const bench: Bench = { instruments: bookOf(instruments, calibrations), protocols: new Map(protocols.map((protocol) => [protocol.id, protocol])) };
    const judge = (facts: CellFacts[]): JudgedCell[] => facts.map((cell) => judgeCell(cell, rules.limits, bench));
    const shelf = before && changed && before.value.rules.version === rules.version ? withChanged(before.value, judge(changed)) : inOrder(judge(await factsOf(rules.limits, null)));
    return { rules, ...bench, ...shelf };
  });
}

type CellShelf = Pick<Workshop, 'cells' | 'places'>;

const inOrder = (cells: JudgedCell[]): CellShelf => ({ cells, places: new Map(cells.map((cell, place) => [cell.code, place])) });

/** The cell of that code; null where there is none. */
export const cellOfCode = ({ cells, places }: CellShelf, code: string): JudgedCell | null => cells[places.get(code) ?? -1] ?? null;

/** The same cells with those judged anew in their places, and new ones where their codes belong. */
function withChanged({ cells, places }: CellShelf, anew: readonly JudgedCell[]): CellShelf {
  if (anew.some((cell) => !places.has(cell.code))) {
    const codes = new Set(anew.map((cell) => cell.code));
    return inOrder([...cells.filter((cell) => !codes.has(cell.code)), ...anew].sort((a, b) => (a.code < b.code ? -1 : 1)));
  }
  const all = cells.slice();
  for (const cell of anew) all[places.get(cell.code) as number] = cell;
  return { cells: all, places };
}

export type JudgedPack = Pack & { latest: PackRound | null; judgement: PackJudgement | null };

/** What every screen asks of the records beside the cells: asked once for each state of the workshop. */
export function oncePer<T>(ask: (workshop: Workshop) => Promise<T>): (workshop: Workshop) => Promise<T> {
  const asked = new WeakMap<Workshop, Promise<T>>();
  return (workshop) => {
    const before = asked.get(workshop);
    if (before) return before;
    const now = ask(workshop);
    asked.set(workshop, now);
    now.catch(() => asked.delete(workshop));
    return now;
  };
}

export const judgedPacks = oncePer(async ({ rules, instruments }): Promise<JudgedPack[]> =>
  (await listPacks(database())).map((pack) => ({ ...pack, judgement: pack.latest && judgePackRound(pack, pack.latest, rules.limits, instruments) })),
);

/** Group i is read by channel i of an instrument with several, all by the one of any other; the terminals by their own. */
export function judgePackRound(pack: Pack, round: PackRound, rules: HouseRules, book: InstrumentBook): PackJudgement {
  const volt = (valueV: number, instrumentId: number | null, channel: number) => correctedVoltage({ valueV, step: round.stepV, instrumentId, channel, takenAt: round.takenAt }, book);
  const hasChannels = (book.byId(round.instrumentId)?.channels ?? 1) > 1;
  const groups = round.groupVoltagesV.map((valueV, i) => volt(valueV, round.instrumentId, hasChannels ? i + 1 : 1));
  const terminal = round.terminalV === null ? null : volt(round.terminalV, round.terminalInstrumentId, 1);
  return judgeGroups(
    {
      chemistry: pack.chemistry, state: round.state, stepV: round.stepV,
      groupVoltagesV: groups.map((group) => group.value), groupU: groups.map((group) => group.u),
      terminalVoltageV: terminal?.value ?? null, ...(terminal ? { terminalU: terminal.u } : {}),
    },
    rules,
  );
}
