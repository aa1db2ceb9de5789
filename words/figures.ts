/** A share in whole per cent. */
export const percentText = (share: number): string => `${Math.round(share * 100)} %`;

export const secondsText = (seconds: number): string => `${Math.round(seconds)} s`;

/** The first few of a list, and a sign that there are more. */
export const firstOf = (shown: readonly (string | number)[], count: number): string =>
  `${shown.join(', ')}${count > shown.length ? ', …' : ''}`;
