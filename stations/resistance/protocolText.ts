import type { Protocol } from '@/core/judging/facts';
import { methods } from '@/core/resistance/methods';
import { formatDuration } from '@/core/quantity/format';

/** What a protocol asks for, in one line. */
export const conditionsText = ({ method, charge, temperature, restS, rateC, holdS }: Protocol): string =>
  [
    methods[method].name,
    ...(charge ? [`${Math.round(charge.from * 100)}–${Math.round(charge.to * 100)} % charge`] : []),
    ...(temperature ? [`${temperature.coldestC}–${temperature.warmestC} °C`] : []),
    ...(restS > 0 ? [`rested ${formatDuration(restS)}`] : []),
    ...(rateC === null ? [] : [`${rateC}C`]),
    ...(method === 'ac-meter' ? [] : [`read at ${holdS} s`]),
  ].join(' · ');

export const protocolText = (protocol: Protocol): string => `${protocol.name} · ${conditionsText(protocol)}`;
