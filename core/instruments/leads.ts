import { positive } from '../impossibleInput';

/** Annealed copper at 20 °C, Ω·m. Source: IEC 60028. */
const copperOhmM = 1.7241e-8;

/**
 * Resistance of a length of copper wire of an American gauge, Ω: diameter 0.127 mm · 92^((36 − n)/39).
 * Source: ASTM B258.
 *
 * @param gauge number, thinner as it grows; 0 to 40
 * @throws ImpossibleInput for a gauge or a length that no lead has
 */
export function wireOhm(gauge: number, lengthM: number): number {
  const diameterM = wireDiameterM(gauge);
  return (copperOhmM * positive('lengthM', lengthM)) / (Math.PI * (diameterM / 2) ** 2);
}

/** Cross-section of an American gauge, mm², as leads are sold by elsewhere. */
export const wireAreaMm2 = (gauge: number): number => Math.PI * (500 * wireDiameterM(gauge)) ** 2;

export const wireDiameterM = (gauge: number): number => 0.127e-3 * 92 ** ((36 - gauge) / 39);

/** Both leads of a two-wire instrument, there and back, clips and contacts aside, Ω. */
export const leadPairOhm = (gauge: number, lengthM: number): number => 2 * wireOhm(gauge, lengthM);
