/** How a pack is built, short: 4s2p. */
export const buildText = ({ series, parallel }: { series: number; parallel: number }): string =>
  `${series}s${parallel}p`;
