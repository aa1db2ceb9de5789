import type { Chemistry } from '../chemistry/chemistries';
import type { HouseRules, RuleKey } from '../chemistry/houseRules';
import { openCircuitOf } from '../chemistry/openCircuit';
import { positive } from '../impossibleInput';
import { quadrature, type Quantity } from '../quantity/quantity';

/** At what a group under load is to sound an alarm, V; and the house rule that says so. */
export interface AlarmLevel {
  alarmV: number;
  rule: RuleKey | null;
}

/** Iron phosphate and nickel have one usual stop in use, the high-voltage pouch cell its own. Common practice. */
const usualStopV = { lfp: 2.8, nimh: 1, nicd: 1, lihv: 3.5 } as const;

/**
 * The lowest group under load decides: at this level there is still time to stop. Null of what has no such level, its
 * voltage under load telling too little.
 */
export function alarmOf(chemistry: Chemistry, rules: HouseRules): AlarmLevel | null {
  if (chemistry === 'lipo') return { alarmV: rules.alarmPouchV, rule: 'alarmPouchV' };
  if (chemistry === 'li-ion') return { alarmV: rules.alarmCylindricalV, rule: 'alarmCylindricalV' };
  return chemistry in usualStopV ? { alarmV: usualStopV[chemistry as keyof typeof usualStopV], rule: null } : null;
}

export interface ServiceAsked {
  chemistry: Chemistry;
  capacityAh: Quantity;
  /** Of the group that gives in first, after ten seconds; null where nobody read it. */
  resistanceOhm: Quantity | null;
  /** In the mean of the use. */
  currentA: number;
  rules: HouseRules;
}

/** For how long a full pack serves, and what ends it. */
export type ServiceTime =
  | {
      code: 'serves';
      minutes: Quantity;
      /** Of its charge, when the time is over. */
      left: number;
      /** The reserve is met before the alarm, or the alarm sounds before. */
      by: 'reserve' | 'alarm';
      /** Of the group that gives in first, V; null where nobody read its resistance. */
      sagV: Quantity | null;
    }
  /** It would sound at once. */
  | { code: 'sags-at-once'; sagV: Quantity; alarmV: number }
  | { code: 'never-charged' };

/** What flows for minutes meets so many times the resistance after ten seconds (standard). From memory. */
const lasting = { times: 1.3, u: 0.15 };
/** What is rated at a gentle current gives less at a higher one; good to this share (standard). From memory. */
const rateU = 0.02;

/**
 * For how long a full pack serves at a current until the house's reserve is left, or the alarm sounds. Source: I·t, and
 * the rested curve less the sag of the weakest group.
 *
 * @throws ImpossibleInput where the current is not above nought
 * @worked A full pouch pack of 5 Ah and 8 mΩ a group at 10 A: `serviceTime({ chemistry: 'lipo', capacityAh:
 * { value: 5, u: 0.1 }, resistanceOhm: { value: 0.008, u: 0.0005 }, currentA: 10, rules: presetRules('workshop')
 * }).minutes` min
 */
export function serviceTime({ chemistry, capacityAh, resistanceOhm, currentA, rules }: ServiceAsked): ServiceTime {
  positive('currentA', currentA);
  if (chemistry === 'alkaline') return { code: 'never-charged' };
  const curve = openCircuitOf(chemistry);
  const sagV = resistanceOhm && {
    value: currentA * lasting.times * resistanceOhm.value,
    u: currentA * quadrature(lasting.times * resistanceOhm.u, lasting.u * resistanceOhm.value),
  };
  const alarm = alarmOf(chemistry, rules);
  const sounds = sagV && alarm ? { value: alarm.alarmV + sagV.value, u: sagV.u } : null;
  if (sagV && alarm && sounds && sounds.value >= curve.voltageAt(1))
    return { code: 'sags-at-once', sagV, alarmV: alarm.alarmV };
  const atAlarm = sounds && curve.socAt(sounds);
  const isAlarm = atAlarm !== null && atAlarm.value > rules.reserveShare;
  const left = isAlarm ? atAlarm : { value: rules.reserveShare, u: 0 };
  const value = (60 * capacityAh.value * (1 - left.value)) / currentA;
  const u = value * quadrature(capacityAh.u / capacityAh.value, left.u / (1 - left.value), rateU);
  return { code: 'serves', minutes: { value, u }, left: left.value, by: isAlarm ? 'alarm' : 'reserve', sagV };
}
