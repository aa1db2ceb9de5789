import type { Segment } from '@/core/capacity/segments';

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
