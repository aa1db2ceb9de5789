import type { TakenOut } from '@/core/judging/facts';
import type { AfterUse } from '@/core/judging/fitForUse';
import type { AlarmLevel, ServiceTime } from '@/core/planning/serviceTime';
import { display, formatFigure, formatQuantity } from '@/core/quantity/format';
import type { Question } from '@/core/state/permissions';
import { minutesText, percentText, setV } from './figures';
import { type Sentences, sentenceOf } from './say';

const group = (position: number): string => `Group ${position}`;

const afterUses: Sentences<AfterUse> = {
  even: () => 'Its groups are even',
  noted: ({ position, belowV }) => `${group(position)} is ${formatFigure(belowV, display.milliVolt)} lower: watch it`,
  'not-to-use': ({ position, belowV }) =>
    `${group(position)} is ${formatFigure(belowV, display.milliVolt)} lower: it is not to be used until that is ` +
    'explained',
};

/** What a look just after use comes to, without its full stop. */
export const afterUseText = (says: AfterUse): string => sentenceOf(afterUses, says);

/** At what its alarm is set, and why. */
export const alarmText = (alarm: AlarmLevel): string =>
  `Set its alarm to ${setV(alarm.alarmV)} for the lowest group, loaded: then there is still time to stop. Where it ` +
  'sounds at full load and falls silent at half load, the pack sags but is not empty yet.';

const minutes = { unit: 'min', factor: 1 / 60, decimals: 1 };

/** For how long it serves. */
export function serviceTimeText(time: ServiceTime, currentA: number): string {
  const at = `${Number(currentA.toPrecision(3))} A`;
  switch (time.code) {
    case 'never-charged':
      return 'Its cells are used once.';
    case 'charge-not-known':
      return 'Its charge is not known. Measure it at rest, or charge it.';
    case 'empty':
      return `${group(time.position)} is down to its reserve. Charge it first.`;
    case 'too-small':
      return (
        `Too small for ${at}: ` +
        (time.by === 'label'
          ? `its label allows ${formatFigure(time.mostA, display.current, 2)}.`
          : `above ${formatFigure(time.mostA, display.current, 1)} it sags too far.`)
      );
    case 'sags-at-once':
      return `At ${at} it sags by ${formatQuantity(time.sagV, display.voltage)}: its alarm sounds at once. Draw less.`;
    case 'serves': {
      const { value, u } = time.minutes;
      const served = formatQuantity({ value: value * 60, u: u * 60 }, minutes);
      const left = `${Math.round(100 * time.left)} %`;
      return time.by === 'reserve'
        ? `${served} at ${at}, then ${left} is left`
        : `${served} at ${at}, then its alarm sounds with ${left} left`;
    }
  }
}

/** What is asked before a pack goes out. */
export const questionText = (question: Question): string =>
  question.code === 'charge-not-known'
    ? 'Its charge is not known.'
    : `It is not full: ${group(question.position).toLowerCase()} is at ${percentText(question.fraction)}.`;

/** As it was taken out. */
export const takenOutText = ({ forWhat, currentA, timerS }: Omit<TakenOut, 'at'>): string =>
  [
    'taken out',
    ...(forWhat === null ? [] : [`for ${forWhat}`]),
    ...(currentA === null ? [] : [`at ${formatFigure(currentA, display.current)}`]),
    ...(timerS === null ? [] : [`timer ${minutesText(timerS)}`]),
  ].join(', ');

/** As it came back. */
export const broughtBackText = ({
  usedAh,
  lowestV,
  lowestPosition,
}: {
  usedAh: number | null;
  lowestV: number | null;
  lowestPosition: number | null;
}): string =>
  [
    'brought back',
    ...(usedAh === null ? [] : [`${formatFigure(usedAh, display.capacity, 2)} used`]),
    ...(lowestV === null
      ? []
      : [`lowest ${setV(lowestV)}${lowestPosition === null ? '' : ` in group ${lowestPosition}`}`]),
  ].join(', ');
