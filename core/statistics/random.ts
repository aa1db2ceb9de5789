import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64';
import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus';

/** A seeded source of chance: the same seed gives the same sequence on every machine. */
export interface Chance {
  /** Uniform on [0, 1). */
  uniform(): number;
  /** Normal with that mean and standard deviation (Box and Muller 1958). */
  normal(mean: number, deviation: number): number;
}

export function seededChance(seed: number): Chance {
  const generator = xoroshiro128plus(seed);
  const uniform = () => uniformFloat64(generator);
  let spare: number | null = null;
  const standardNormal = (): number => {
    if (spare !== null) {
      const value = spare;
      spare = null;
      return value;
    }
    const radius = Math.sqrt(-2 * Math.log(1 - uniform()));
    const angle = 2 * Math.PI * uniform();
    spare = radius * Math.sin(angle);
    return radius * Math.cos(angle);
  };
  return { uniform, normal: (mean, deviation) => mean + deviation * standardNormal() };
}

let pool: Float64Array | null = null;

/** Standard normal deviates, always the same, so that a page shows the same figures twice; made at the first call. */
export function fixedDeviates(): Float64Array {
  if (!pool) {
    const { normal } = seededChance(1);
    pool = Float64Array.from({ length: 6000 }, () => normal(0, 1));
  }
  return pool;
}
