/** Up to this much a logger may show while nothing flows. */
const restingA = 0.01;
/**
 * What flows is more than this many times the noise of the column, and more than this share of the largest current; but
 * noise alone never hides half of it.
 */
const noises = 3;
const leastFraction = 0.02;
const mostFraction = 0.4;

/**
 * Decides from a column of current whether a current flows, and in which direction. Noise and zero are separated from a
 * load by all values so far, not by the first one.
 */
export function createCurrentSense() {
  let largestA = 0;
  let smoothA = 0;
  let noiseA = 0;
  let lastA: number | null = null;
  return {
    /** −1, 0 or 1: the sign of the current where one flows. */
    wayOf(currentA: number): -1 | 0 | 1 {
      if (lastA !== null) {
        const change = Math.abs(currentA - lastA);
        // A load that goes on or off is no noise.
        if (change < 0.1 * largestA || change < 4 * noiseA || largestA < restingA) noiseA += (change - noiseA) / 50;
      }
      smoothA = lastA === null ? currentA : smoothA + (currentA - smoothA) / 3;
      lastA = currentA;
      if (Math.abs(smoothA) > largestA) largestA = Math.abs(smoothA);
      const size = Math.abs(currentA);
      return size > this.leastA() ? (Math.sign(currentA) as -1 | 1) : 0;
    },
    /** What is less than this is nothing. */
    leastA: (): number =>
      Math.min(
        Math.max(restingA, noises * noiseA, leastFraction * largestA),
        Math.max(restingA / 4, mostFraction * largestA),
      ),
  };
}
