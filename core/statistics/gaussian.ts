/** A covariance taken apart after Cholesky. */
export interface Factor {
  /** Row by row, what lies above its diagonal unused. */
  lower: Float64Array;
  logDeterminant: number;
}

/**
 * Cholesky's decomposition of a covariance.
 *
 * @param covariance n × n row by row, positive definite; what is not by a rounding error is taken to be
 */
export function factorOf(covariance: Float64Array, n: number): Factor {
  const lower = Float64Array.from(covariance);
  let logDeterminant = 0;
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let sum = lower[i * n + j] as number;
      for (let k = 0; k < j; k++) sum -= (lower[i * n + k] as number) * (lower[j * n + k] as number);
      lower[i * n + j] = i === j ? Math.sqrt(Math.max(sum, 1e-18)) : sum / (lower[j * n + j] as number);
      if (i === j) logDeterminant += 2 * Math.log(lower[i * n + j] as number);
    }
  return { lower, logDeterminant };
}

/**
 * Log density of a multivariate Student distribution about 0: a Gaussian that forgives one reading far off.
 * Source: K. L. Lange, R. J. A. Little, J. M. G. Taylor, J. Am. Stat. Assoc. 84 (1989).
 *
 * @param values n of them
 * @param degrees above 2; the factor is that of their covariance
 * @param centre what is taken off each value; left out: nothing
 */
export function logStudent(
  values: ArrayLike<number>,
  { lower, logDeterminant }: Factor,
  degrees: number,
  centre: ArrayLike<number> | null = null,
): number {
  const n = values.length;
  const scale = (degrees - 2) / degrees;
  const solved = solve(values, lower, n, centre);
  let distance2 = 0;
  for (let i = 0; i < n; i++) distance2 += (solved[i] as number) ** 2;
  return (
    logGammaRatio(degrees, n) -
    (n / 2) * Math.log(degrees * Math.PI * scale) -
    logDeterminant / 2 -
    ((degrees + n) / 2) * Math.log1p(distance2 / (degrees * scale))
  );
}

/** Room for the substitution: a new array for each of many thousand calls takes longer than the call. */
let room = new Float64Array(32);

/**
 * Forward substitution: what times the lower factor (n × n) gives the values less their centre; these may be fewer than
 * n. It lies at the beginning of a room that the next call uses again.
 */
function solve(
  values: ArrayLike<number>,
  lower: Float64Array,
  n: number,
  centre: ArrayLike<number> | null,
): Float64Array {
  if (room.length < n) room = new Float64Array(2 * n);
  const solved = room;
  for (let i = 0; i < values.length; i++) {
    let rest = (values[i] as number) - (centre === null ? 0 : (centre[i] as number));
    for (let k = 0; k < i; k++) rest -= (lower[i * n + k] as number) * (solved[k] as number);
    solved[i] = rest / (lower[i * n + i] as number);
  }
  return solved;
}

/** A Student distribution of one value. */
export interface Student {
  centre: number;
  scale: number;
  degrees: number;
}

/**
 * The last of n values that follow a multivariate Student distribution about 0, where the others are known.
 * Source: P. Ding, The American Statistician 70 (2016).
 *
 * @param known the n − 1 others
 * @param degrees above 2; the factor is that of the covariance of all n
 * @param centre of all n; left out: 0
 */
export function lastGiven(
  known: ArrayLike<number>,
  { lower }: Factor,
  degrees: number,
  centre: ArrayLike<number> | null = null,
): Student {
  const m = known.length;
  const n = m + 1;
  const shrink = (degrees - 2) / degrees;
  const solved = solve(known, lower, n, centre);
  let [distance2, own] = [0, 0];
  for (let k = 0; k < m; k++) {
    const one = solved[k] as number;
    distance2 += (one * one) / shrink;
    own += one * (lower[m * n + k] as number);
  }
  const ownU = lower[m * n + m] as number;
  return {
    centre: own + (centre === null ? 0 : (centre[m] as number)),
    scale: ownU * Math.sqrt((shrink * (degrees + distance2)) / (degrees + m)),
    degrees: degrees + m,
  };
}

/** Log density of a value, but for what is the same for all of this many degrees. */
export const logStudentAt = (value: number, { centre, scale, degrees }: Student): number =>
  -Math.log(scale) - ((degrees + 1) / 2) * Math.log1p(((value - centre) / scale) ** 2 / degrees);

/** log Γ((degrees + n)/2) − log Γ(degrees/2). */
function logGammaRatio(degrees: number, n: number): number {
  let sum = 0;
  let from = degrees / 2;
  for (let left = n; left >= 2; left -= 2) {
    sum += Math.log(from);
    from += 1;
  }
  // Half a step by Stirling's series, good to a part in a thousand, and the same for every hypothesis.
  return n % 2 === 0 ? sum : sum + 0.5 * Math.log(from - 0.25);
}
