import { cutoffMet, type LastStretch } from './cutoff';

/** A fall that grows by e within `growS`, known every `stepS`; where it is above 3 V. */
const curve = (t: number, growS: number): number => 3.3 - 0.0001 * t - 0.02 * Math.exp(t / growS);
const metS = (growS: number): number => {
  let [low, high] = [0, 10_000];
  for (let i = 0; i < 60; i++)
    [low, high] = curve((low + high) / 2, growS) > 3 ? [(low + high) / 2, high] : [low, (low + high) / 2];
  return low;
};
const stretch = (growS: number, stepS: number, phaseS: number, change: Partial<LastStretch> = {}): LastStretch => {
  const end = metS(growS);
  const points = Array.from({ length: 8 }, (_, i) => end - phaseS - (7 - i) * stepS).map((timeS) => ({
    timeS,
    voltageV: curve(timeS, growS),
  }));
  return {
    cutoffV: 3,
    points,
    below: null,
    latestS: end - phaseS + stepS,
    inSilence: false,
    endedV: null,
    readingU: 0.0003,
    limitV: 0,
    ...change,
  };
};

test.each([
  [1, 0.4],
  [30, 5],
  [60, 40],
  [120, 90],
  [120, 10],
])('every %d s, %d s before it: carried on to the crossing, within what is said', (stepS, phaseS) => {
  const { reached, atS, uS } = cutoffMet(stretch(150, stepS, phaseS));
  expect(reached).toBe(true);
  expect(Math.abs(atS - metS(150))).toBeLessThan(2 * uS + 0.5);
  expect(uS).toBeLessThan(stepS / 2 + 0.5);
});

test.each([
  [30, 5],
  [60, 40],
  [120, 90],
])('every %d s with a sample below: between the chord and the slope before', (stepS, phaseS) => {
  const timeS = metS(150) - phaseS + stepS;
  const { atS, uS } = cutoffMet(stretch(150, stepS, phaseS, { below: { timeS, voltageV: curve(timeS, 150) } }));
  expect(Math.abs(atS - metS(150))).toBeLessThan(2 * uS + 0.5);
});

test('at the cut-off or a digit or two above it was reached; clearly above was not', () => {
  const flat = (voltageV: number) =>
    cutoffMet({
      ...stretch(150, 1, 1),
      points: Array.from({ length: 20 }, (_, i) => ({ timeS: i, voltageV: voltageV + 0.002 * (19 - i) })),
      latestS: 20,
    });
  expect(flat(3).reached).toBe(true);
  expect(flat(3.003).reached).toBe(true);
  expect(flat(3.05).reached).toBe(false);
});

test('what the voltmeter may be off is doubt in time by the slope', () => {
  const u = (limitV: number) => cutoffMet(stretch(150, 10, 5, { limitV })).uS;
  expect(u(0.02)).toBeGreaterThan(2 * u(0));
});

test('in a silence only that the fall did not slow down is known', () => {
  const silent = cutoffMet(stretch(150, 10, 60, { latestS: metS(150) + 900, inSilence: true }));
  expect(silent.reached).toBe(true);
  expect(silent.uS).toBeGreaterThan(15);
  expect(Math.abs(silent.atS - metS(150))).toBeLessThan(2 * silent.uS);
});

test('where the load ended shows in the first voltage at rest less the jump of the load', () => {
  const early = { points: [3.3, 3.28, 3.25].map((voltageV, i) => ({ timeS: i * 60, voltageV })), latestS: 180 };
  expect(cutoffMet(stretch(150, 60, 60, early)).reached).toBe(false);
  expect(cutoffMet(stretch(150, 60, 60, { ...early, endedV: 3 })).reached).toBe(true);
});
