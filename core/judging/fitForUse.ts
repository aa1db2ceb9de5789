import { median } from 'simple-statistics';
import type { HouseRules, RuleKey } from '../chemistry/houseRules';
import type { IntakeVerdict } from '../grading/intake';
import type { Status } from '../grading/status';
import type { PackJudgement } from '../packs/groupVoltages';
import type { BroughtBack } from './facts';
import type { PackResistances } from './judgePack';
import type { HeldVerdict } from './judgeSelfDischarge';
import type { RetireAct } from './retiring';

/** Why a pack is not to be used. */
export type UnfitReason = (
  | { code: 'out' | 'apart' | 'retiring' | 'rescue-first' | 'retire' }
  /** Read just after use, or at rest since. */
  | { code: 'group-low'; position: number; belowV: number; afterUse: boolean; at: Date }
  | { code: 'apart-by'; spreadV: number; at: Date }
  | { code: 'ran-too-low'; lowestV: number; position: number | null; floorV: number; at: Date }
  | { code: 'leaks'; position: number }
  | { code: 'group-failing'; position: number }
) & { rule?: RuleKey };

/** A round of voltages with what the rules say of it. */
export interface Judged {
  takenAt: Date;
  judgement: PackJudgement;
}

interface Looked {
  intake: Pick<IntakeVerdict, 'class'>;
  apart: unknown;
  retiring: RetireAct | null;
  standing: Status;
  held: HeldVerdict | null;
  amongGroups: PackResistances | null;
  rested: Judged | null;
  afterUse: Judged | null;
  /** The newest first. */
  uses: readonly BroughtBack[];
  floorV: number;
}

/**
 * Whether a pack may be handed out; every reason why not. A group that came back 0.2 V low keeps it out until a round
 * at rest explains it. Source: common practice; the limits are house rules.
 */
export function unfitFor(pack: Looked): UnfitReason[] {
  const { intake, apart, retiring, standing, held, amongGroups } = pack;
  if (apart) return [{ code: 'apart' }];
  if (retiring) return [{ code: 'retiring' }];
  if (intake.class === 'out') return [{ code: 'out' }];
  const failing = amongGroups?.groups.filter(({ level }) => level === 'failing') ?? [];
  return [
    ...(intake.class === 'rescue-only' ? [{ code: 'rescue-first' as const }] : []),
    ...unevenIn(pack),
    ...ranTooLow(pack),
    ...(held?.verdict === 'leaks' ? [{ code: 'leaks' as const, position: held.position }] : []),
    ...failing.map(({ position }) => ({ code: 'group-failing' as const, position })),
    ...(standing === 'retire' ? [{ code: 'retire' as const }] : []),
  ];
}

/** What a look at the groups just after use comes to. */
export type AfterUse =
  | { code: 'even' }
  /** A little lower than the others: it is watched. */
  | { code: 'noted' | 'not-to-use'; position: number; belowV: number };

/** At once, as a pack comes back. Source: common practice; both limits are house rules. */
export function afterUseSays(groupsV: readonly (number | null)[], rules: HouseRules): AfterUse {
  const read = groupsV.filter((v) => v !== null);
  const [lowest, highest] = [Math.min(...read), Math.max(...read)];
  // Differences of readings with steps of a millivolt carry binary dust.
  const spreadV = Math.round((highest - lowest) * 1e9) / 1e9;
  const low = { position: groupsV.indexOf(lowest) + 1, belowV: belowOthers(read, lowest) };
  if (spreadV >= rules.spreadOutV) return { code: 'not-to-use', ...low };
  return spreadV > rules.spreadGoodV ? { code: 'noted', ...low } : { code: 'even' };
}

/** How far one group is below the median of the others, V; without the dust of binary figures. */
function belowOthers(volts: readonly number[], one: number): number {
  const others = volts.filter((_, i) => i !== volts.indexOf(one));
  return Math.round((median(others) - one) * 1e9) / 1e9;
}

/** By the newer of what was read after use and at rest. */
function unevenIn({ rested, afterUse }: Looked): UnfitReason[] {
  const isAfterUse = afterUse !== null && (rested === null || afterUse.takenAt > rested.takenAt);
  const round = isAfterUse ? afterUse : rested;
  if (round?.judgement.level !== 'out-of-service') return [];
  const { groups, spreadV } = round.judgement;
  const low = groups.filter(({ odd, deviationV }) => odd && deviationV < 0);
  const rule = 'spreadOutV' as const;
  if (low.length === 0) return [{ code: 'apart-by', spreadV: spreadV.value, at: round.takenAt, rule }];
  const volts = groups.map(({ voltageV }) => voltageV);
  return low.map(({ position, voltageV }) => ({
    code: 'group-low',
    position,
    belowV: belowOthers(volts, voltageV),
    afterUse: isAfterUse,
    at: round.takenAt,
    rule,
  }));
}

/** A group that met its floor under load, until the pack was read at rest since. */
function ranTooLow({ uses, rested, floorV }: Looked): UnfitReason[] {
  const [last] = uses;
  if (!last || last.lowestV === null || last.lowestV >= floorV || (rested && rested.takenAt > last.at)) return [];
  return [{ code: 'ran-too-low', lowestV: last.lowestV, position: last.lowestPosition, floorV, at: last.at }];
}
