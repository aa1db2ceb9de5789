/** Peukert's exponent of a sealed lead-acid battery, and the hours for which it is rated. From memory. */
const [exponent, ratedHours] = [1.15, 20];

/**
 * What a lead-acid battery gives at a current, Ah: less the faster it is drawn, and never more than it is rated.
 * Source: W. Peukert 1897; the exponent is from memory.
 */
export function peukertAh(ratedAh: number, currentA: number): number {
  const ratedA = ratedAh / ratedHours;
  return currentA <= ratedA ? ratedAh : ratedAh * (ratedA / currentA) ** (exponent - 1);
}
