import type { ChargeEfficiency } from '@/core/capacity/chargeEfficiency';
import type { Segment } from '@/core/capacity/segments';
import { percentText } from './figures';

const held: Record<Segment['mode'], string> = {
  'constant-current': ' at constant current',
  'constant-voltage': ', taper at constant voltage',
  resistor: ' through a resistor',
  power: ' at constant power',
  pulse: ' pulse',
  other: '',
};
const kinds: Record<Segment['kind'], string> = { rest: 'Rest', discharge: 'Discharge', charge: 'Charge' };

/** What went on in a segment of a log. */
export const segmentText = ({ kind, mode }: Pick<Segment, 'kind' | 'mode'>): string =>
  kind === 'rest' ? kinds.rest : `${kinds[kind]}${held[mode]}`;

/** What the device numbered a segment; empty where it did not. */
export const numberedText = ({ cycle, step }: Pick<Segment, 'cycle' | 'step'>): string =>
  [...(cycle === undefined ? [] : [`cycle ${cycle}`]), ...(step === undefined ? [] : [`step ${step}`])].join(', ');

const efficiency: Record<ChargeEfficiency['says'], (fraction: string) => string> = {
  agrees: (fraction) => `It gave back ${fraction} of the charge put in, as a healthy lithium cell does.`,
  lost: (fraction) =>
    `It gave back ${fraction} of the charge put in. A healthy lithium cell loses 1 or 2 %. Check its ` +
    'resistance, and put it to a self-discharge test; light duty at best until that is known.',
  'not-empty': (fraction) => `It gave ${fraction} of the charge put in. It was not empty at the start of the charge.`,
  'no-measure': () => 'The charge put in is no measure of its capacity: this chemistry takes more than it gives.',
};

/** What a charge and the discharge behind it say. */
export const efficiencyText = ({ share: fraction, says }: ChargeEfficiency): string =>
  efficiency[says](percentText(fraction));
