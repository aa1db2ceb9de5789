/**
 * How far the level read after a load still lies below where the cell comes to rest, as a share of the resistance: at
 * once, and how it wears off. From simulated cells and common practice: 4 % after 20 s, 1 % after 60 s.
 */
const atOnce = 0.08;
const wearsOffS = 29;
/** Assumed where the time of the recovery voltage is not noted. */
export const assumedAfterS = 20;

/**
 * By which share a resistance from "recovery voltage − loaded" is low, since the cell had not come to rest when the
 * level was read: the value, and as much again for uncertainty (rectangular from none to twice that).
 *
 * @param afterS when the level was read after the load came off; null where not noted
 */
export function notYetRested(afterS: number | null): { share: number; u: number } {
  const fraction = atOnce * Math.exp(-(afterS ?? assumedAfterS) / wearsOffS);
  return { share: fraction, u: fraction / Math.sqrt(3) };
}
