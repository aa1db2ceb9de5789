import type { InspectionFinding } from '../grading/intake';
import type { Complaint } from '../packs/complaints';
import type { PackSaying, PackState } from '../packs/groupVoltages';
import type { RemedyKind } from '../packs/remedies';
import type { Quantity } from '../quantity/quantity';
import type { Body } from './bodies';

/** A pack that was looked at: the rounds that were read together, what was found and said of it, what was done. */
export interface Visit {
  from: Date;
  to: Date;
  rounds: number;
  /** In the newest round at rest, else in the newest. */
  spreadV: Quantity;
  state: PackState;
  /** The group that stood apart then, from the negative terminal; null where none did. */
  apart: number | null;
  findings: InspectionFinding[];
  complaints: Complaint[];
  remedies: RemedyKind[];
  rescued: boolean;
}

interface VisitRound {
  state: PackState;
  takenAt: Date;
  judgement: { spreadV: Quantity; says: readonly PackSaying[] };
}

/** What is read this long after the rest belongs to another visit. Own rule. */
const betweenMs = 14 * 86_400_000;
/** Signs come with the pack, before anything is read of it. */
const aheadMs = 86_400_000;

/**
 * The visits of a pack, the newest first. A visit is not opened or closed by hand: rounds within two weeks of each
 * other are one visit, and what was found, said or done from a day before it until the next belongs to it.
 *
 * @param rounds every valid round, the newest first
 * @param filed everything else on file for the pack
 */
export function visitsOf(rounds: readonly VisitRound[], filed: readonly { takenAt: Date; body: Body }[]): Visit[] {
  const visits: VisitRound[][] = [];
  rounds.forEach((round, i) => {
    const later = rounds[i - 1];
    const own = visits.at(-1);
    if (own && later && later.takenAt.getTime() - round.takenAt.getTime() <= betweenMs) own.push(round);
    else visits.push([round]);
  });
  return visits.map((rounds, i) => {
    const fromMs = beganMs(rounds);
    const next = visits[i - 1];
    const untilMs = next ? beganMs(next) - aheadMs : Infinity;
    const own = filed.flatMap(({ takenAt, body }) => {
      const at = takenAt.getTime();
      return at >= fromMs - aheadMs && at < untilMs ? [body] : [];
    });
    return {
      from: new Date(fromMs),
      to: (rounds[0] as VisitRound).takenAt,
      rounds: rounds.length,
      ...stoodIn(rounds),
      findings: [...new Set(own.flatMap((body) => (body.kind === 'inspection' ? body.findings : [])))],
      complaints: own.flatMap((body) => (body.kind === 'complaint' ? [body.said] : [])),
      remedies: own.flatMap((body) => (body.kind === 'remedy' ? [body.way] : [])),
      rescued: own.some(({ kind }) => kind === 'rescue'),
    };
  });
}

const beganMs = (rounds: readonly VisitRound[]): number => (rounds.at(-1) as VisitRound).takenAt.getTime();

function stoodIn(rounds: readonly VisitRound[]): Pick<Visit, 'spreadV' | 'state' | 'apart'> {
  const { judgement, state } = rounds.find((round) => round.state === 'rest') ?? (rounds[0] as VisitRound);
  const imbalance = judgement.says.find(({ code }) => code === 'spread');
  return {
    spreadV: judgement.spreadV,
    state,
    apart: imbalance?.code === 'spread' ? (imbalance.furthest?.position ?? null) : null,
  };
}
