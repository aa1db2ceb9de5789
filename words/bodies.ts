import type { InspectionFinding } from '@/core/grading/intake';
import type { Body, BodyKind } from '@/core/judging/bodies';
import { display, formatFigure, formatRead } from '@/core/quantity/format';
import { counted } from './counted';
import { jobName } from './schedule';
import { retireStepText } from './retiring';
import { broughtBackText, takenOutText } from './use';
import { upkeepText } from './upkeep';
import { complaintAnswerText, complaintText } from './complaints';
import { hoursText, millivolts, minutesText } from './figures';
import { findingName } from './intake';
import { remedyText } from './remedies';
import { ownLimitsText, rescueWhyText } from './rescue';

/** What each kind of body is called in a list. */
export const bodyName: Record<BodyKind, string> = {
  voltage: 'voltage',
  mass: 'weight',
  inspection: 'inspection',
  'skin-temperature': 'skin temperature',
  'load-step': 'resistance',
  'two-current': 'resistance',
  resistance: 'resistance',
  pulse: 'resistance',
  'cross-check': 'cross-check',
  weld: 'weld',
  'as-new': 'as new',
  label: 'label',
  cycles: 'cycles',
  'run-time': 'run time',
  'capacity-noted': 'capacity',
  'partial-charge': 'partial charge',
  twins: 'twins',
  complaint: 'complaint',
  'put-off': 'postponed',
  job: 'job wanted',
  'job-begun': 'job begun',
  'taken-out': 'taken out',
  'brought-back': 'brought back',
  mended: 'mended',
  retiring: 'retired',
  remedy: 'balancing',
  rescue: 'rescue',
  'rescue-reading': 'rescue',
  'rescue-act': 'rescue',
  note: 'note',
};

const volt = (value: number, step: number): string => formatRead(value, step, display.voltage);
const ampere = (value: number, step: number): string => formatRead(value, step, display.current);

export const findingsText = (findings: readonly InspectionFinding[]): string =>
  findings.length === 0 ? 'nothing found' : findings.map((finding) => findingName[finding]).join(', ');

const actTexts = { off: 'current off', on: 'current on again', end: 'over' };

type Texts = { [Kind in BodyKind]: (body: Extract<Body, { kind: Kind }>) => string };

const texts: Texts = {
  voltage: ({ voltageV, step }) => volt(voltageV, step),
  mass: ({ massKg, step }) => formatRead(massKg, step, display.mass),
  inspection: ({ findings }) => findingsText(findings),
  'skin-temperature': ({ skinC, step }) =>
    `${formatRead(skinC, step, { unit: '°C', factor: 1, decimals: 1 })} on its surface`,
  'load-step': ({ openV, loadedV, afterV, currentA, currentStep, step, loadedStep, afterStep }) => {
    const loaded = `loaded ${volt(loadedV, loadedStep ?? step)}`;
    return [
      `open ${volt(openV, step)}`,
      currentA === null ? loaded : `${loaded} at ${ampere(currentA, currentStep ?? 0.01)}`,
      ...(afterV === null ? [] : [`after ${volt(afterV, afterStep ?? step)}`]),
    ].join(', ');
  },
  'two-current': ({ atLowV, lowCurrentA, atHighV, highCurrentA, step, highStep, currentStep }) =>
    `${volt(atLowV, step)} at ${ampere(lowCurrentA, currentStep)}, ` +
    `${volt(atHighV, highStep ?? step)} at ${ampere(highCurrentA, currentStep)}`,
  resistance: ({ resistanceOhm, step, openV, openStep }) => {
    const shown = `resistance ${formatRead(resistanceOhm, step, display.resistance)}`;
    return openV === null ? shown : `${shown}, open ${volt(openV, openStep ?? 0.001)}`;
  },
  pulse: ({ runId, atS }) => `step at ${Math.round(atS)} s of run ${runId}`,
  'cross-check': ({ channel, voltageV, step }) => `channel ${channel}: ${volt(voltageV, step)}`,
  weld: () => 'welded together, read as one',
  'as-new': ({ capacityAh, price, resistancesOhm }) =>
    [
      ...(capacityAh === null ? [] : [formatFigure(capacityAh, display.capacity, 2)]),
      ...(resistancesOhm === null
        ? []
        : [`${resistancesOhm.map((ohm) => (ohm * 1000).toFixed(1)).join(' · ')} mΩ from the negative terminal`]),
      ...(price === null ? [] : [`cost ${price}`]),
    ].join(', '),
  label: ({ chargeA, dischargeA, balanceConnector }) =>
    [
      ...(chargeA === null ? [] : [`charge at most ${formatFigure(chargeA, display.current, 2)}`]),
      ...(dischargeA === null ? [] : [`discharge at most ${formatFigure(dischargeA, display.current, 2)}`]),
      ...(balanceConnector === null ? [] : [balanceConnector ? 'has a balance connector' : 'no balance connector']),
    ].join(', '),
  cycles: ({ count }) => `${counted(count, 'cycle')} so far`,
  'partial-charge': ({ startVoltagesV, step, chargeAh, endVoltageV }) =>
    `${formatFigure(chargeAh, display.capacity)} charged from ` +
    `${startVoltagesV.map((value) => volt(value, step).replace(/ V$/, '')).join(' · ')} V to ` +
    (endVoltageV === null ? 'full' : volt(endVoltageV, step)),
  'capacity-noted': ({ capacityAh, step }) => `capacity ${formatRead(capacityAh, step, display.capacity)} as noted`,
  'run-time': ({ durationS }) => `served for ${minutesText(durationS)}`,
  job: ({ job, dueAt }) => (dueAt === null ? jobName(job) : `${jobName(job)}, by ${dueAt.slice(0, 10)}`),
  'taken-out': takenOutText,
  'brought-back': broughtBackText,
  mended: ({ position, takenOut, putIn }) => {
    const instead = takenOut.length > 0 ? ` in the place of ${takenOut.join(', ')}` : '';
    return `group ${position}: ${putIn.join(', ')}${instead}`;
  },
  retiring: retireStepText,
  'job-begun': ({ station }) => `at ${station}`,
  'put-off': ({ act, untilAt, reason }) => `${upkeepText(act)}: not before ${untilAt.slice(0, 10)}; ${reason}`,
  complaint: ({ said, answer }) => `${complaintText(said).name}; by its test ${complaintAnswerText(answer)}`,
  remedy: ({ way, hours, spreadV }) =>
    `${remedyText(way)}: forecast ${hoursText(hours * 3600)}, then ${millivolts(spreadV)} apart`,
  rescue: ({ currentA, ownLimits, ownReason }) =>
    `rescue started at ${formatFigure(currentA, display.current)}` +
    (ownLimits && ownReason ? `; ${ownLimitsText({ limits: ownLimits, reason: ownReason })}` : ''),
  'rescue-reading': ({ voltagesV, step, skinC, isWarm }) =>
    [
      `${voltagesV.map((value) => volt(value, step).replace(/ V$/, '')).join(' · ')} V`,
      ...(skinC === null ? [] : [`${skinC} °C`]),
      ...(isWarm ? ['warm'] : []),
    ].join(', '),
  'rescue-act': ({ act, why }) => `${actTexts[act]}: ${rescueWhyText(why)}`,
  twins: () => 'twins, bought and used together',
  note: ({ text }) => text,
};

const resistanceText = ({ resistanceOhm, step }: Extract<Body, { kind: 'resistance' }>): string =>
  formatRead(resistanceOhm, step, display.resistance);

/** What was filed of one kind in one press of Enter, in words: of a pack a figure for each group. */
export function bodiesText(bodies: readonly Body[]): string {
  const resistances = bodies.flatMap((body) => (body.kind === 'resistance' && body.openV === null ? body : []));
  if (bodies.length < 2 || resistances.length < bodies.length) return bodies.map(bodyText).join(' · ');
  const whole = resistances.find(({ position }) => position === 0);
  const groups = resistances.filter((one) => one !== whole).map((one) => resistanceText(one).replace(/ mΩ$/, ''));
  return `${groups.join(' · ')} mΩ${whole ? `, ${resistanceText(whole)} together` : ''}`;
}

/** A body in words, with the digits that were typed. */
export const bodyText = (body: Body): string => (texts[body.kind] as (body: Body) => string)(body);
