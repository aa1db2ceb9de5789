import { display, formatDuration, formatFigure } from '@/core/quantity/format';

export const volts = (value: number): string => formatFigure(value, display.voltage);
export const millivolts = (value: number): string => formatFigure(value, display.milliVolt);
export const milliohms = (value: number): string => formatFigure(value, display.resistance);
export const watts = (value: number): string => formatFigure(value, display.power);
export const grams = (value: number): string => formatFigure(value, display.mass);

/** A share in whole per cent. */
export const percentText = (fraction: number): string => `${Math.round(fraction * 100)} %`;

/** Minutes with the digits that matter: `7.5 min`. */
export const minutesText = (seconds: number): string => `${Number((seconds / 60).toPrecision(3))} min`;

/** Hours and minutes: `5 h 04 min`; days beyond two of them. */
export const hoursText = (seconds: number): string => {
  const minutes = Math.round(seconds / 60);
  return minutes >= 2880
    ? formatDuration(seconds)
    : `${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, '0')} min`;
};

export const secondsText = (seconds: number): string => `${Math.round(seconds)} s`;

/** The first few of a list, and a sign that there are more. */
export const firstOf = (shown: readonly (string | number)[], count: number): string =>
  `${shown.join(', ')}${count > shown.length ? ', …' : ''}`;

/** As a charger is set and shows it. */
export const setV = (value: number): string => formatFigure(value, display.voltage, 2);
