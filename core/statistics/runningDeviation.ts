/**
 * Running mean and standard deviation, in constant memory. Source: Welford 1962.
 */
export function createRunningDeviation() {
  let count = 0;
  let mean = 0;
  let squares = 0;
  return {
    push(value: number): void {
      count += 1;
      const apart = value - mean;
      mean += apart / count;
      squares += apart * (value - mean);
    },
    mean: (): number => mean,
    /** The standard deviation as a share of the mean; 0 of a single value. */
    share: (): number => (count < 2 ? 0 : Math.sqrt(squares / (count - 1)) / Math.abs(mean)),
  };
}

export type RunningDeviation = ReturnType<typeof createRunningDeviation>;
