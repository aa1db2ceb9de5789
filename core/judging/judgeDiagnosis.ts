import { chemistries } from '../chemistry/chemistries';
import { diagnosePack, firstNamed, type PackDiagnosis, type Placed } from '../packs/diagnosis/diagnose';
import { nextMeasurement, type NextMeasurement } from '../packs/diagnosis/nextMeasurement';
import type { PackJudgement } from '../packs/groupVoltages';
import type { CurveBook } from './curveBook';
import type { PackRound } from './facts';
import type { JudgedPack } from './judgePack';

/** A round of a pack with its voltages corrected. */
export type ReadRound = Pick<PackRound, 'state' | 'takenAt' | 'groupStepsV' | 'currentA' | 'instrumentId'> & {
  judgement: Pick<PackJudgement, 'groups' | 'terminal'>;
};

/** What is wrong with a pack, with the rounds it was told by and what to measure next. */
export interface JudgedDiagnosis extends PackDiagnosis {
  /** In the order of time. */
  rounds: ReadRound[];
  next: NextMeasurement | null;
  first: Placed;
}

/** Rounds further back are of another state of the pack. */
const visitMs = 30 * 86_400_000;
const mostRounds = 10;

/**
 * What is wrong with a pack by its newest visit: the rounds at rest, at the end of a charge and under a known load
 * since it was charged last. Null where nothing of that kind was read, or where it is never charged.
 *
 * @param standing the newest first
 */
export function judgeDiagnosis(
  pack: Pick<JudgedPack, 'chemistry' | 'series' | 'ratedCapacityAh' | 'code' | 'amongGroups'>,
  standing: readonly ReadRound[],
  curves: CurveBook,
): JudgedDiagnosis | null {
  const curve = curves.of(pack);
  const rounds = visitOf(standing);
  const [began] = rounds;
  if (!curve || !began) return null;
  const diagnosis = diagnosePack({
    curve,
    series: pack.series,
    ratedCapacityAh: pack.ratedCapacityAh,
    floorV: chemistries[pack.chemistry].lowestV,
    groupResistancesOhm: resistancesOf(pack),
    rounds: rounds.map(({ state, takenAt, groupStepsV, currentA, instrumentId, judgement: { groups, terminal } }) => ({
      state,
      atS: (takenAt.getTime() - began.takenAt.getTime()) / 1000,
      currentA: currentA ?? 0,
      groupVoltagesV: Array.from(
        { length: pack.series },
        (_, i) => groups.find(({ position }) => position === i + 1)?.voltageV ?? null,
      ),
      digitV: Math.max(...groupStepsV.map((stepV) => stepV ?? 0)),
      instrument: instrumentId === null ? null : String(instrumentId),
      terminalV: terminal && { value: terminal.value, digitV: terminal.u * Math.sqrt(12) },
    })),
  });
  return { ...diagnosis, rounds, next: nextMeasurement(diagnosis, curve), first: firstNamed(diagnosis) };
}

/** The newest that tell the groups from each other. */
function resistancesOf({ series, amongGroups }: Pick<JudgedPack, 'series' | 'amongGroups'>): (number | null)[] | null {
  if (!amongGroups || amongGroups.groups.length < 2) return null;
  const at = new Map(amongGroups.groups.map(({ position, resistance }) => [position, resistance.value]));
  return Array.from({ length: series }, (_, i) => at.get(i + 1) ?? null);
}

/** The rounds of the newest visit that tell something, the oldest first. */
function visitOf(standing: readonly ReadRound[]): ReadRound[] {
  const telling = standing.filter(
    ({ state, currentA }) => state === 'rest' || state === 'charge-end' || currentA != null,
  );
  const [newest] = telling;
  if (!newest) return [];
  const recent = telling
    .filter(({ takenAt }) => newest.takenAt.getTime() - takenAt.getTime() <= visitMs)
    .slice(0, mostRounds);
  const charged = recent.findIndex(({ state }) => state === 'charge-end');
  return recent.slice(0, charged < 0 ? undefined : charged + 1).toReversed();
}
