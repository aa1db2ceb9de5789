import type { HouseRules } from '../chemistry/houseRules';
import type { Equipment } from '../judging/equipment';
import type { PackRound, Protocol } from '../judging/facts';
import type { UnfitReason } from '../judging/fitForUse';
import { channelOfGroup } from '../judging/instrumentBook';
import { correctedVoltage } from '../judging/correctedVoltage';
import type { JudgedCell } from '../judging/judgeCell';
import { countsSinceMend, type JudgedPack, type PackResistances } from '../judging/judgePack';
import type { CapacityBy } from '../judging/judgePartial';
import { isPack, type JudgedSubject } from '../judging/subject';
import { quadrature, type Quantity } from '../quantity/quantity';
import { type MethodKey, showsTenSeconds } from '../resistance/methods';
import { type ChargeMove, jobMove, type OutOfService, type SubjectFacts, type VoltageRound } from './facts';
import { type Known, known, type KnownSource } from './known';
import { stateOf, type SubjectState } from './subjectState';

/** What was done last with a subject at the bench, and when that ended. */
export interface LastJob {
  kind: 'charge' | 'balance' | 'storage' | 'discharge';
  endedAt: Date;
}

/** The state of a cell or pack by all that is on file of it. */
export const stateOfSubject = (
  subject: JudgedSubject,
  rules: HouseRules,
  equipment: Equipment,
  now: Date,
  lastJob: LastJob | null = null,
): SubjectState => stateOf(factsOfSubject(subject, equipment, lastJob), rules, now);

/** All that is on file of a cell or pack, as the state takes it. A cell is a pack of one group. */
export function factsOfSubject(subject: JudgedSubject, equipment: Equipment, lastJob: LastJob | null): SubjectFacts {
  const shared = {
    code: subject.code,
    chemistry: subject.chemistry,
    ratedCapacityAh: subject.ratedCapacityAh,
    curve: equipment.curves.of(subject)?.plain ?? null,
    rescues: subject.rescues,
    isUntested: isUntested(subject),
  };
  const moves = [...movesOf(subject), ...jobMoves(lastJob)];
  return isPack(subject)
    ? { ...shared, ...packFacts(subject, equipment), moves }
    : { ...shared, ...cellFacts(subject, equipment), moves };
}

/** After a rescue its self-discharge, capacity and resistance are measured before any use. Common practice. */
function isUntested({ rescuedAt, held, capacity, resistance }: JudgedSubject): boolean {
  if (rescuedAt === null) return false;
  const keeps = held?.verdict === 'holds' && held.beganAt > rescuedAt;
  return !keeps || capacity === null || resistance === null;
}

type OwnFacts = Omit<
  SubjectFacts,
  'code' | 'chemistry' | 'ratedCapacityAh' | 'curve' | 'rescues' | 'isUntested' | 'moves'
>;

function cellFacts(cell: JudgedCell, { protocols, instruments }: Equipment): OwnFacts {
  const { voltage, held, standing } = cell;
  const unfit: UnfitReason[] = [
    ...(held?.verdict === 'leaks' ? [{ code: 'leaks' as const, position: 1 }] : []),
    ...(standing === 'retire' ? [{ code: 'retire' as const }] : []),
  ];
  return {
    series: 1,
    hasBoard: cell.board,
    balanceConnector: null,
    labelChargeA: cell.labelChargeA,
    labelDischargeA: cell.labelDischargeA,
    rounds: voltage
      ? [{ state: 'rest', at: voltage.takenAt, groupsV: [correctedVoltage(voltage, instruments)], terminalV: null }]
      : [],
    capacities: [capacityKnown(cell, cell.capacity)],
    resistances: [cell.resistance ? known(cell.resistance, 'measured') : byOtherMethods(cell.figures, protocols)],
    outOfService: cellOut(cell),
    unfit,
  };
}

function cellOut({ putAway, intake, pack }: JudgedCell): OutOfService | null {
  if (putAway) return 'put-away';
  if (intake.class === 'out') return 'scrapped';
  return pack ? 'built-in' : null;
}

function packFacts(pack: JudgedPack, equipment: Equipment): OwnFacts {
  return {
    series: pack.series,
    hasBoard: pack.board !== 'none',
    balanceConnector: pack.balanceConnector ?? null,
    labelChargeA: pack.label?.chargeA ?? null,
    labelDischargeA: pack.label?.dischargeA ?? null,
    rounds: roundsOf(pack, equipment),
    capacities: packCapacities(pack),
    resistances: packResistances(pack, equipment),
    outOfService: packOut(pack),
    unfit: pack.unfit.filter(({ code }) => !['out', 'apart', 'retiring'].includes(code)),
  };
}

function packOut({ apart, retiring, intake }: JudgedPack): OutOfService | null {
  if (apart) return 'apart';
  if (retiring) return 'retired';
  return intake.class === 'out' ? 'scrapped' : null;
}

/** Its newest rounds of each kind, corrected, the newest first. */
function roundsOf({ latest, rested, afterUse }: JudgedPack, equipment: Equipment): VoltageRound[] {
  const rounds = new Map([latest, rested, afterUse].flatMap((round) => (round ? [[round.entry, round] as const] : [])));
  return [...rounds.values()]
    .sort((a, b) => b.takenAt.getTime() - a.takenAt.getTime())
    .map((round) => voltageRound(round, equipment));
}

function voltageRound(round: PackRound, { instruments }: Equipment): VoltageRound {
  const { groupVoltagesV, groupStepsV, instrumentId, terminalV, terminalStepV, terminalInstrumentId, takenAt } = round;
  const volt = (valueV: number | null, step: number | null, id: number | null, channel: number): Quantity | null =>
    valueV === null
      ? null
      : correctedVoltage({ valueV, step: step ?? 0.001, instrumentId: id, channel, takenAt }, instruments);
  return {
    state: round.state,
    at: takenAt,
    groupsV: groupVoltagesV.map((v, i) =>
      volt(v, groupStepsV[i] ?? null, instrumentId, channelOfGroup(instruments, instrumentId, i + 1)),
    ),
    terminalV: volt(terminalV, terminalStepV, terminalInstrumentId, 1),
  };
}

const capacitySource: Record<CapacityBy, KnownSource> = {
  discharge: 'measured',
  partial: 'estimated',
  noted: 'reported',
};

/** A discharge that ended early says only that it holds at least this much: the label counts where that is more. */
function capacityKnown(
  { capacityIsAtLeast, capacityBy, ratedCapacityAh }: JudgedSubject,
  capacity: Quantity | null,
): Known | null {
  if (!capacity || capacityBy === null) return null;
  if (capacityIsAtLeast && capacity.value < ratedCapacityAh) return null;
  return known(capacity, capacitySource[capacityBy]);
}

/** What the whole gave is what its weakest group holds; what another had left it holds beside. */
function packCapacities(pack: JudgedPack): (Known | null)[] {
  const least = capacityKnown(pack, pack.capacity);
  const atEnd = pack.capacityBy === 'discharge' ? (pack.run?.groups ?? null) : null;
  return Array.from({ length: pack.series }, (_, i) => {
    const left = atEnd?.find(({ position }) => position === i + 1)?.leftAh ?? null;
    if (!least || !left) return least;
    return { ...least, value: least.value + Math.max(0, left.value), u: quadrature(least.u, left.u) };
  });
}

/** What a method shows against ten seconds of load, and how well that is known (standard). From memory. */
const toTenSeconds: Partial<Record<MethodKey, { times: number; u: number; source: KnownSource }>> = {
  'two-current': { times: 1.25, u: 0.15, source: 'measured' },
  told: { times: 1.35, u: 0.3, source: 'reported' },
  'ac-meter': { times: 1.6, u: 0.25, source: 'measured' },
};
/** The best kind first: a worse one never displaces a better. */
const kinds = Object.keys(toTenSeconds) as MethodKey[];
/** Groups of a pack differ from their mean by this much (standard), where the whole alone was measured. From memory. */
const groupsDifferU = 0.15;

type Protocols = ReadonlyMap<number, Pick<Protocol, 'method' | 'holdS'>>;

const scaled = ({ value, u }: Quantity, method: MethodKey): Known | null => {
  const to = toTenSeconds[method];
  if (!to) return null;
  const tenSeconds = value * to.times;
  return known({ value: tenSeconds, u: quadrature(u * to.times, to.u * tenSeconds) }, to.source);
};

function byOtherMethods(figures: JudgedCell['figures'], protocols: Protocols): Known | null {
  for (const kind of kinds) {
    const figure = figures.find(([id]) => protocols.get(id)?.method === kind);
    if (figure) return scaled({ value: figure[1], u: 0 }, kind);
  }
  return null;
}

/** Of each group after ten seconds: measured so, or as its part of the whole; else by another method. */
function packResistances(pack: JudgedPack, { protocols }: Equipment): (Known | null)[] {
  const ofNow = countsSinceMend(pack);
  const times = pack.resistanceTimes.filter(({ takenAt, leftOut }) => ofNow(takenAt) && leftOut === null);
  const methodOf = ({ protocolId }: PackResistances): MethodKey | null => protocols.get(protocolId)?.method ?? null;
  const isTen = (time: PackResistances): boolean => {
    const protocol = protocols.get(time.protocolId);
    return protocol !== undefined && showsTenSeconds(protocol.method, protocol.holdS);
  };
  const among = times.find(({ groups }) => groups.length === pack.series) ?? null;
  return Array.from({ length: pack.series }, (_, i) => {
    const position = i + 1;
    const own = ownFigure(times.filter(isTen), position, pack.series, among);
    if (own) return known(own.figure, 'measured', own.at);
    for (const kind of kinds) {
      const other = ownFigure(
        times.filter((time) => methodOf(time) === kind),
        position,
        pack.series,
        among,
      );
      if (other) return scaled(other.figure, kind);
    }
    return null;
  });
}

/** The newest figure of a group, or its part of the whole. */
function ownFigure(
  times: readonly PackResistances[],
  position: number,
  series: number,
  among: PackResistances | null,
): { figure: Quantity; at: Date } | null {
  for (const time of times) {
    const own = time.groups.find((group) => group.position === position);
    if (own) return { figure: own.resistance, at: time.takenAt };
    if (!time.whole) continue;
    const part = partOfWhole(among, position, series);
    const value = time.whole.value * part.fraction;
    const u = quadrature(time.whole.u * part.fraction, part.u * value);
    return { figure: { value, u }, at: time.takenAt };
  }
  return null;
}

/** As the groups compare under whatever method they were measured; else each an equal part. */
function partOfWhole(among: PackResistances | null, position: number, series: number): { fraction: number; u: number } {
  const own = among?.groups.find((group) => group.position === position);
  return own && among?.sum
    ? { fraction: own.resistance.value / among.sum.value, u: 0.018 }
    : { fraction: 1 / series, u: series > 1 ? groupsDifferU : 0 };
}

/** What went in and out, as far as it is on file. */
function movesOf(subject: JudgedSubject): ChargeMove[] {
  const { run, partial } = subject;
  const runs: ChargeMove[] = run
    ? [
        run.reachedCutoff === false
          ? { at: run.endedAt, kind: 'used', chargeAh: run.capacityAh }
          : { at: run.endedAt, kind: 'emptied' },
      ]
    : [];
  const charged: ChargeMove[] = partial?.isToFull ? [{ at: partial.takenAt, kind: 'charged' }] : [];
  if (!isPack(subject)) return [...runs, ...charged];
  const { uses, takenOut, isOut } = subject;
  return [
    ...runs,
    ...charged,
    ...uses.map(({ at, usedAh }): ChargeMove => ({ at, kind: 'used', chargeAh: usedAh })),
    ...(isOut && takenOut ? [{ at: takenOut.at, kind: 'used' as const, chargeAh: null }] : []),
  ];
}

const jobMoves = (job: LastJob | null): ChargeMove[] => (job ? [{ at: job.endedAt, kind: jobMove[job.kind] }] : []);
