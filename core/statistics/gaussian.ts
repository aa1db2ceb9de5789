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
 * @worked Of the covariance 4, 2, 2 and 5: `Array.from(factorOf(Float64Array.of(4, 2, 2, 5), 2).lower)`
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
 * Log density of a multivariate Student distribution about nought: a Gaussian that forgives one reading far off.
 * Source: K. L. Lange, R. J. A. Little, J. M. G. Taylor, J. Am. Stat. Assoc. 84 (1989).
 *
 * @param residual n values
 * @param degrees above 2; the factor is that of its covariance
 * @worked One reading at one standard deviation, four degrees: `logStudent(Float64Array.of(1),
 * factorOf(Float64Array.of(1), 1), 4)`
 */
export function logStudent(residual: Float64Array, { lower, logDeterminant }: Factor, degrees: number): number {
  const n = residual.length;
  const scale = (degrees - 2) / degrees;
  const solved = new Float64Array(n);
  let distance2 = 0;
  for (let i = 0; i < n; i++) {
    let rest = residual[i] as number;
    for (let k = 0; k < i; k++) rest -= (lower[i * n + k] as number) * (solved[k] as number);
    solved[i] = rest / (lower[i * n + i] as number);
    distance2 += (solved[i] as number) ** 2;
  }
  return (
    logGammaRatio(degrees, n) -
    (n / 2) * Math.log(degrees * Math.PI * scale) -
    logDeterminant / 2 -
    ((degrees + n) / 2) * Math.log1p(distance2 / (degrees * scale))
  );
}

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
