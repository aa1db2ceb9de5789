import type { InstrumentRange } from '@/core/instruments/instrument';

/** What a maker promises, or what is assumed: `± 0.5 % ± 3 counts`. */
export const promiseText = ({
  accuracyShare,
  accuracyCounts,
}: Pick<InstrumentRange, 'accuracyShare' | 'accuracyCounts'>): string =>
  `± ${Number((accuracyShare * 100).toPrecision(3))} % ± ${accuracyCounts} ` +
  `${accuracyCounts === 1 ? 'count' : 'counts'}`;
