import 'server-only';
import { dischargeArithmetic } from '@/core/capacity/discharge';
import { type HouseRules, lowestVoltageV } from '@/core/chemistry/houseRules';
import { chemistryKeys } from '@/core/chemistry/chemistries';
import { type DutyVerdict, gradeDuty } from '@/core/grading/duty';
import { inspectionFindings, type IntakeVerdict, judgeIntake } from '@/core/grading/intake';
import { nextStation, type Waiting } from '@/core/grading/nextStation';
import { type PackJudgement, judgeGroups } from '@/core/packs/groupVoltages';
import { type Quantity, read, rectangular } from '@/core/quantity/quantity';
import { corrected } from '@/core/instruments/calibration';
import { readingU } from '@/core/instruments/instrument';
import { showsTenSeconds } from '@/core/resistance/methods';
import { listCalibrations } from '@/records/calibrations';
import { type CellFacts, cellFacts, cellsChangedSince } from '@/records/cells';
import { database, type Snapshot, snapshotOf } from '@/records/database';
import { rulesInForce, type RulesInForce } from '@/records/houseRules';
import { listInstruments } from '@/records/instruments';
import { listPacks, type Pack, type PackRound } from '@/records/packs';
import { listProtocols } from '@/records/protocols';
import { bookOf, type InstrumentBook } from '@/stations/instruments/book';
import { type Kept, renewed } from '@/stations/renewed';
import { type Bench, judgeStored } from '@/stations/resistance/judgeStored';

/** A cell with what its facts say under the rules in force. */
export interface JudgedCell extends CellFacts {
  /** Its newest voltage, corrected. */
  voltageV: number | null;
  /** After ten seconds. */
  resistance: Quantity | null;
  /** Why its newest ten-second reading does not count; null where it does, or where there is none. */
  leftOut: string | null;
  capacity: Quantity | null;
  intake: IntakeVerdict;
  duty: DutyVerdict;
  waits: Waiting;
}

export interface Workshop extends Bench {
  rules: RulesInForce;
  /** In order of their codes. */
  cells: JudgedCell[];
  /** Where in `cells` a cell stands, by its code. */
  places: ReadonlyMap<string, number>;
}

/** Cut-off of a test discharge by chemistry under these rules, V per cell. */
export const cutoffsOf = (rules: HouseRules): Record<string, number> => Object.fromEntries(chemistryKeys.map((key) => [key, lowestVoltageV(key, rules)]));

/** A voltage as read, corrected as its instrument was calibrated at the time, with the doubt of both. */
const correctedVoltage = (voltage: NonNullable<CellFacts['voltage']>, book: InstrumentBook): Quantity => {
  const range = book.byId(voltage.instrumentId)?.ranges.voltage;
  const reading = { value: voltage.valueV, u: range ? readingU(voltage.valueV, range) : rectangular(voltage.step) };
  return corrected(reading, book.calibrationAt(voltage.instrumentId, voltage.channel, voltage.takenAt)?.correction ?? null);
};

export function judgeCell(facts: CellFacts, rules: HouseRules, bench: Bench): JudgedCell {
  const massKg = facts.massKg === null ? null : read(facts.massKg, facts.massStepKg ?? 0);
  const voltageV = facts.voltage && correctedVoltage(facts.voltage, bench.instruments).value;
  const intake = judgeIntake({ ...facts, restVoltageV: voltageV, massKg }, rules);
  const { resistance, leftOut } = tenSecondOf(facts, bench);
  const capacity = facts.run && { value: facts.run.capacityAh, u: facts.run.capacityU };
  const safety = [
    ...(facts.findings ?? []).filter((finding) => inspectionFindings[finding].safety).map((finding) => inspectionFindings[finding].text),
    ...(intake.unsafe && facts.findings !== null ? intake.reasons.filter((reason) => reason.rule === 'bestSpecificEnergyWhPerKg' || reason.rule === 'weightTolerance').map((reason) => reason.text) : []),
  ];
  const duty = gradeDuty({ chemistry: facts.chemistry, asNewCapacityAh: facts.ratedCapacityAh, asNewIs: 'rated', capacityAh: capacity, resistanceOhm: resistance, safety }, rules);
  return { ...facts, voltageV, resistance, leftOut, capacity, intake, duty, waits: nextStation(intake, duty, facts.buildId !== null) };
}

/** The newest ten-second figure that was taken as its protocol asks: another one would not compare with the limits. */
function tenSecondOf(facts: CellFacts, bench: Bench): Pick<JudgedCell, 'resistance' | 'leftOut'> {
  let leftOut: string | null = null;
  for (const load of facts.loads) {
    const protocol = bench.protocols.get(load.protocolId);
    if (!protocol || !showsTenSeconds(load.method, protocol.holdS)) continue;
    const judged = judgeStored(load, facts, bench);
    if (judged.leftOut === null) return { resistance: judged.result?.resistance ?? null, leftOut };
    leftOut ??= judged.leftOut;
  }
  return { resistance: null, leftOut };
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
