declare module 'jstat' {
  interface Distribution {
    inv(p: number, degrees: number): number;
    cdf(x: number, degrees: number): number;
  }
  export const jStat: {
    chisquare: Distribution;
    normal: {
      inv(p: number, mean: number, deviation: number): number;
      cdf(x: number, mean: number, deviation: number): number;
    };
    studentt: Distribution;
  };
}
