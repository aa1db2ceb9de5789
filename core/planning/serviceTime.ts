import { type Chemistry, chemistries } from '../chemistry/chemistries';
import type { HouseRules, RuleKey } from '../chemistry/houseRules';
import type { OpenCircuitCurve } from '../chemistry/openCircuit';
import { positive } from '../impossibleInput';
import { quadrature, type Quantity } from '../quantity/quantity';
import { curveOf, type GroupState, type SubjectState } from '../state/subjectState';
import { peukertAh } from './peukert';

/** At what a group under load is to sound an alarm, V; and the house rule that says so. */
export interface AlarmLevel {
  alarmV: number;
  rule: RuleKey | null;
}

/** Iron phosphate and nickel have one usual stop in use, the high-voltage pouch cell its own. Common practice. */
const usualStopV = { lfp: 2.8, nimh: 1, nicd: 1, lihv: 3.5 } as const;

/**
 * The lowest group under load decides: at this level there is still time to stop. Null of what has no such level, its
 * voltage under load saying too little.
 */
export function alarmOf(chemistry: Chemistry, rules: HouseRules): AlarmLevel | null {
  if (chemistry === 'lipo') return { alarmV: rules.alarmPouchV, rule: 'alarmPouchV' };
  if (chemistry === 'li-ion') return { alarmV: rules.alarmCylindricalV, rule: 'alarmCylindricalV' };
  return chemistry in usualStopV ? { alarmV: usualStopV[chemistry as keyof typeof usualStopV], rule: null } : null;
}

export interface ServiceRequest {
  state: SubjectState;
  /** From a full charge, or from its charge now. */
  from: 'full' | 'now';
  /** The mean of the use. */
  currentA: number;
  /** The highest of it, where the load has a peak. */
  peakA?: number | null;
  rules: HouseRules;
}

/** For how long a pack serves, and what ends it. */
export type ServiceTime =
  | {
      code: 'serves';
      minutes: Quantity;
      /** Of the charge of the group that ends it, when the time is over. */
      left: number;
      /** The reserve is met before the alarm, or the alarm sounds before. */
      by: 'reserve' | 'alarm';
      /** The group that ends it. */
      position: number;
      /** Of that group, V; null where its resistance was not measured. */
      sagV: Quantity | null;
    }
  /** It would sound at once. */
  | { code: 'sags-at-once'; sagV: Quantity; alarmV: number; position: number }
  /** More than its label allows, or than its groups can give without sagging far. */
  | { code: 'too-small'; mostA: number; by: 'label' | 'sag' }
  | { code: 'empty'; position: number }
  | { code: 'charge-not-known' | 'never-charged' };

/** What flows for minutes meets this many times the resistance after ten seconds (standard). From memory. */
const lasting = { times: 1.3, u: 0.15 };
/** What is rated at a gentle current gives less at a higher one; good to this fraction (standard). From memory. */
const rateU = 0.02;
/** Beyond this many times the current of the house's sag nothing is drawn from a group. Own rule. */
const mostSags = 3;

/**
 * For how long a pack serves at a current until the house's reserve is left, or the alarm sounds: the group that is
 * there first ends it. Source: I·t, and the rested curve less the sag of the group; Peukert for lead-acid.
 *
 * @throws ImpossibleInput where the current is not above zero
 */
export function serviceTime(request: ServiceRequest): ServiceTime {
  const { state, from, currentA, rules } = request;
  const peakA = Math.max(request.peakA ?? 0, positive('currentA', currentA));
  const curve = curveOf(state);
  if (!curve) return { code: 'never-charged' };
  const tooSmall = beyondLimit(state, peakA, rules);
  if (tooSmall) return tooSmall;
  const times = state.groups.map((group) => groupTime(group, request, peakA, curve));
  const [unknown] = times.filter(({ code }) => code === 'charge-not-known');
  if (from === 'now' && unknown) return unknown;
  const stopped = times.find(({ code }) => code !== 'serves');
  if (stopped) return stopped;
  return times.reduce((least, one) =>
    one.code === 'serves' && least.code === 'serves' && one.minutes.value < least.minutes.value ? one : least,
  );
}

function beyondLimit(
  { chemistry, groups, limits }: SubjectState,
  peakA: number,
  rules: HouseRules,
): ServiceTime | null {
  if (limits.dischargeA !== null)
    return peakA > limits.dischargeA ? { code: 'too-small', mostA: limits.dischargeA, by: 'label' } : null;
  const sagLimitV = mostSags * rules.sagShare * chemistries[chemistry].nominalV;
  const mostA = Math.min(...groups.map(({ resistance }) => sagLimitV / resistance.value));
  return peakA > mostA ? { code: 'too-small', mostA, by: 'sag' } : null;
}

/** The sag of a group at a current, V; null where its resistance was not measured. */
export const sagOf = ({ resistance }: Pick<GroupState, 'resistance'>, currentA: number): Quantity | null =>
  resistance.source === 'usual'
    ? null
    : {
        value: currentA * lasting.times * resistance.value,
        u: currentA * quadrature(lasting.times * resistance.u, lasting.u * resistance.value),
      };

function groupTime(
  group: GroupState,
  { state, from, currentA, rules }: ServiceRequest,
  peakA: number,
  curve: OpenCircuitCurve,
): ServiceTime {
  const { position, capacity } = group;
  const soc = from === 'full' ? { value: 1, u: 0 } : group.soc;
  if (!soc) return { code: 'charge-not-known' };
  const isLead = chemistries[state.chemistry].family === 'lead';
  const capacityAh = isLead ? peukertAh(capacity.value, currentA) : capacity.value;
  const sagV = sagOf(group, peakA);
  const alarm = alarmOf(state.chemistry, rules);
  const sounds = sagV && alarm ? { value: alarm.alarmV + sagV.value, u: sagV.u } : null;
  if (sagV && alarm && sounds && sounds.value >= curve.voltageAt(Math.min(1, soc.value)))
    return { code: 'sags-at-once', sagV, alarmV: alarm.alarmV, position };
  const reserve = isLead ? rules.leadReserve : rules.reserveShare;
  const atAlarm = sounds && curve.socAt(sounds);
  const isAlarm = atAlarm !== null && atAlarm.value > reserve;
  const left = isAlarm ? atAlarm : { value: reserve, u: 0 };
  if (soc.value <= left.value) return { code: 'empty', position };
  const fraction = soc.value - left.value;
  const value = (60 * capacityAh * fraction) / currentA;
  const u = value * quadrature(capacity.u / capacity.value, left.u / fraction, soc.u / fraction, rateU);
  return {
    code: 'serves',
    minutes: { value, u },
    left: left.value,
    by: isAlarm ? 'alarm' : 'reserve',
    position,
    sagV,
  };
}
