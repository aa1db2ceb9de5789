import { chemistries } from '../chemistry/chemistries';
import type { HouseRules } from '../chemistry/houseRules';
import type { Waiting } from '../grading/nextStation';
import type { Status } from '../grading/status';
import { type ClinicVerdict, isRoundAsked } from '../judging/judgeClinic';
import { type Act, permission } from './permissions';
import type { SubjectState } from './subjectState';

/** What is done next with a cell or pack. */
export type NextStep =
  | { code: 'set-aside' | 'retire-weak' | 'retire-leaking' | 'retire-unrescued' | 'do-not-charge' }
  | { code: 'put-away' | 'retired' | 'in-pack' | 'use-once' | 'free' | 'look-again' }
  | { code: 'in-build'; buildId: number }
  | { code: 'rescue' | 'measure-groups' | 'go-on-with-intake' | 'wake-board' | 'charge' }
  | { code: 'clinic'; verdict: ClinicVerdict }
  | { code: 'balance'; way: 'charger' | 'group'; lowest: number; apartV: number }
  | { code: 'measure-rested'; position: number | null }
  | { code: 'seat-connector'; position: number }
  | { code: 'self-discharge-test' | 'resistance' | 'capacity-test' };

/** What is done with each step; null of what only says where it is. */
const stepActs: Partial<Record<NextStep['code'], Act>> = {
  'set-aside': 'retire',
  'retire-weak': 'retire',
  'retire-leaking': 'retire',
  'retire-unrescued': 'retire',
  rescue: 'rescue',
  charge: 'charge',
  'self-discharge-test': 'self-discharge-test',
  resistance: 'resistance',
  'capacity-test': 'capacity-test',
};

/** The act of a step; null of what only says where it is, or asks for a reading. */
export const actOf = (step: NextStep): Act | null => {
  if (step.code === 'balance') return step.way === 'charger' ? 'balance' : 'top-up';
  return stepActs[step.code] ?? null;
};

/** What is known of a subject beside its state. */
export interface About {
  waits: Waiting;
  standing: Status;
  buildId: number | null;
  leaks: boolean;
  /** What the clinic concludes; null where nothing was diagnosed. */
  clinic: ClinicVerdict | null;
}

/**
 * What is done next, in order; the first is the next step on every screen. A step that is not allowed is replaced by
 * the step that clears the way, so that the first is never refused.
 */
export function nextSteps(state: SubjectState, about: About, rules: HouseRules): NextStep[] {
  const wanted = [...whereItIs(state, about), ...beforeAnything(state, rules), ...causes(state, about), ...work(about)];
  const steps = wanted.flatMap((step): NextStep[] => cleared(step, state, rules));
  return steps.length > 0 ? steps : [{ code: state.series > 1 ? 'look-again' : 'free' }];
}

/** The step itself where it is allowed, else what comes before it. */
function cleared(step: NextStep, state: SubjectState, rules: HouseRules): NextStep[] {
  const act = actOf(step);
  if (act === null) return [step];
  const allowed = permission(state, act, rules);
  if (allowed.allowed) return [step];
  const [barrier] = allowed.because;
  switch (barrier?.code) {
    case 'empty':
      return permission(state, 'charge', rules).allowed ? [{ code: 'charge' }] : [];
    case 'balance-first':
      return balanceOf(state);
    case 'measure-first':
      return [{ code: 'measure-groups' }];
    case 'too-low-for-rescue':
    case 'rescue-forbidden':
      return [{ code: 'retire-unrescued' }];
    default:
      return [];
  }
}

/** Where nothing more is done with it. */
function whereItIs({ outOfService, series, chemistry }: SubjectState, { waits, buildId }: About): NextStep[] {
  if (outOfService === 'put-away') return [{ code: 'put-away' }];
  if (outOfService === 'scrapped') return [{ code: 'set-aside' }];
  if (outOfService === 'retired') return [{ code: 'retired' }];
  if (outOfService === 'built-in') return [{ code: 'in-pack' }];
  if (waits === 'build' && buildId !== null) return [{ code: 'in-build', buildId }];
  return chemistry === 'alkaline' && waits !== 'intake' && series === 1 ? [{ code: 'use-once' }] : [];
}

/** What comes before any other work. */
function beforeAnything(state: SubjectState, rules: HouseRules): NextStep[] {
  const { outOfService, aboveFull, belowFloor, board, readAt, series, isGroupsRead } = state;
  if (outOfService) return [];
  if (aboveFull) return [{ code: 'do-not-charge' }];
  if (belowFloor) return [{ code: 'rescue' }];
  if (series > 1 && (readAt === null || !isGroupsRead)) return [{ code: 'measure-groups' }];
  const isCutOff = board === 'cut-off' && !permission(state, 'charge', rules).allowed;
  return isCutOff ? [{ code: 'wake-board' }] : [];
}

const balanceOf = ({ imbalance, connector, chemistry }: SubjectState): NextStep[] => {
  if (!imbalance) return [];
  const isByCharger = connector !== 'none' && chemistries[chemistry].family === 'lithium';
  const { lowest, voltageV: apartV } = imbalance;
  return [{ code: 'balance', way: isByCharger ? 'charger' : 'group', lowest, apartV }];
};

/** What is wrong with it. */
function causes(state: SubjectState, { clinic, leaks, standing }: About): NextStep[] {
  if (state.outOfService || state.belowFloor) return [];
  const { unfit, imbalance } = state;
  // The readings may be of another state than noted: nothing follows from them before that is known.
  if (clinic && isRoundAsked(clinic)) return [{ code: 'clinic', verdict: clinic }];
  const isFault = clinic && !['use-on', 'measure', 'balance', 'downgrade', 'rescue'].includes(clinic.act);
  return [
    ...(leaks && standing === 'retire' ? [{ code: 'retire-leaking' as const }] : []),
    ...(isFault ? [{ code: 'clinic' as const, verdict: clinic }] : []),
    ...(imbalance?.isLarge || clinic?.act === 'balance' ? balanceOf(state) : []),
    ...unfit.flatMap((reason): NextStep[] => {
      if (reason.code === 'ran-too-low') return [{ code: 'measure-rested', position: reason.position }];
      if (reason.code === 'group-low' && reason.afterUse)
        return [{ code: 'measure-rested', position: reason.position }];
      return reason.code === 'group-failing' ? [{ code: 'seat-connector', position: reason.position }] : [];
    }),
    ...(clinic?.act === 'downgrade' ? [{ code: 'clinic' as const, verdict: clinic }] : []),
  ];
}

/** The measurement that is missing. */
function work({ waits, standing, leaks }: About): NextStep[] {
  switch (waits) {
    case 'intake':
      return [{ code: 'go-on-with-intake' }];
    case 'resistance':
      return [{ code: 'resistance' }];
    case 'capacity':
      return [{ code: 'capacity-test' }];
    case 'shelf':
      if (standing === 'ungraded') return [{ code: 'self-discharge-test' }];
      return standing === 'retire' && !leaks ? [{ code: 'retire-weak' }] : [];
    default:
      return [];
  }
}
