/** How a fade runs along its axis: 0 at the first run, 1 at the last, rising throughout. */
export interface AgeingShape {
  prior: number;
  at(x: number): number;
  /** The place where it reaches a value. */
  where(value: number): number;
  /** Within the runs: above 0 where the fade speeds up, below where it slows down, else 0. */
  bend: number;
}

interface Axis {
  /** Where the fade began; at the first run or before it. */
  origin: number;
  first: number;
  last: number;
}

/** Powers of the axis, evenly apart as logarithms; ln of the power has this standard deviation. From memory. */
const powers = [0.4, 0.5, 0.63, 0.79, 1, 1.26, 1.58, 2, 2.5, 3.2, 4, 5];
const powerDeviation = 0.6;
/** Where a knee lies, in spans past the first run; and by how much the fade is faster after it. From memory. */
const kneeAt = [0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1, 1.1, 1.2, 1.3, 1.45, 1.6, 1.8, 2.1, 2.5];
const fasterAfter = [2, 3.5, 6];
/** Of cells whose fade has a knee. From memory. */
const withKnee = 0.35;
/** A power within this of 1 is as good as straight. */
const asGoodAsStraight = 0.3;

/** All shapes that are weighed, with priors that add up to 1. */
export function ageingShapes(axis: Axis): AgeingShape[] {
  const weights = powers.map((power) => Math.exp(-0.5 * (Math.log(power) / powerDeviation) ** 2));
  const sum = weights.reduce((a, b) => a + b, 0);
  return [
    ...powers.map((power, i) => powerShape(power, ((1 - withKnee) * (weights[i] as number)) / sum, axis)),
    ...kneeAt.flatMap((place) =>
      fasterAfter.map((times) => kneeShape(place, times, withKnee / kneeAt.length / fasterAfter.length, axis)),
    ),
  ];
}

function powerShape(power: number, prior: number, { origin, first, last }: Axis): AgeingShape {
  const raised = (x: number): number => Math.max(0, x - origin) ** power;
  const [atFirst, atLast] = [raised(first), raised(last)];
  const rise = atLast - atFirst;
  const straight = (value: number): number => first + value * (last - first);
  return {
    prior,
    at: (x) => (raised(x) - atFirst) / rise,
    where: (value) => {
      const g = atFirst + value * rise;
      // Before its origin nothing faded: go back at the mean rate.
      return g < 0 ? straight(value) : origin + g ** (1 / power);
    },
    bend: Math.abs(Math.log(power)) < asGoodAsStraight ? 0 : Math.log(power),
  };
}

function kneeShape(place: number, times: number, prior: number, { first, last }: Axis): AgeingShape {
  const span = last - first;
  const run = (t: number): number => t + (times - 1) * Math.max(0, t - place);
  const atLast = run(1);
  return {
    prior,
    at: (x) => run((x - first) / span) / atLast,
    where: (value) => {
      const g = value * atLast;
      return first + span * (g <= place ? g : place + (g - place) / times);
    },
    bend: place < 1 ? 1 : 0,
  };
}
