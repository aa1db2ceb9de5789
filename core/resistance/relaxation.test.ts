import { seededChance } from '../statistics/random';
import { fitRelaxation, type SeenStep } from './relaxation';

const times = Array.from({ length: 120 }, (_, i) => 0.05 * 1.1 ** i).filter((t) => t < 60);
const tools = { stepS: 0.05, levelU: 0, driftUOhmPerS: 0, relativeU: 0 };
/** A cell's answer: at once, branches of [Ω, s], and what the charge costs a second. */
const seen = (ohmic: number, branches: [number, number][], noise = 2e-5, droopOhmPerS = 0, seed = 1): SeenStep => {
  const chance = seededChance(seed);
  const points = times.map((x) => ({
    x,
    y:
      ohmic +
      droopOhmPerS * x +
      branches.reduce((sum, [ohm, tau]) => sum + ohm * (1 - Math.exp(-x / tau)), 0) +
      chance.normal(0, noise),
  }));
  return { ...tools, points, sampleU: noise };
};
const between = (branches: [number, number][], fromS: number, toS: number): number =>
  branches.reduce((sum, [ohm, tau]) => sum + ohm * (Math.exp(-fromS / tau) - Math.exp(-toS / tau)), 0);

test.each<[string, [number, number][]]>([
  ['one branch', [[0.02, 6]]],
  [
    'two branches',
    [
      [0.008, 0.8],
      [0.012, 14],
    ],
  ],
  [
    'three branches',
    [
      [0.006, 0.6],
      [0.008, 9],
      [0.01, 150],
    ],
  ],
])('%s, the discharge left in: at once and in stages, within what is said', (_, branches) => {
  const fit = fitRelaxation(seen(0.03, branches, 2e-5, 5e-5));
  const within = (quantity: { value: number; u: number } | null | undefined, truth: number) =>
    expect(Math.abs((quantity?.value ?? NaN) - truth)).toBeLessThan(2 * (quantity?.u ?? 0));
  within(fit?.ohmicOhm, 0.03);
  const stage = fit?.stages.find(({ fromS }) => fromS === 1);
  within(stage?.resistanceOhm, between(branches, 1, 10));
});

test('one or two time constants are told where the log shows no more, and stand for their neighbours', () => {
  const fit = fitRelaxation(
    seen(0.02, [
      [0.008, 0.6],
      [0.012, 10],
    ]),
  );
  expect(fit?.branches).toHaveLength(2);
  const [quick, slow] = fit?.branches ?? [];
  expect((quick?.timeConstantS.value ?? 0) / 0.6).toBeCloseTo(1, 1);
  expect((slow?.resistanceOhm.value ?? 0) / 0.012).toBeCloseTo(1, 1);
  expect(slow?.timeConstantS.u).toBeGreaterThan(0.1 * (slow?.timeConstantS.value ?? 0));
});

test('what the log is too coarse, too short or too noisy to tell is not told', () => {
  const coarse = fitRelaxation({ ...seen(0.02, [[0.01, 5]]), stepS: 1 });
  expect(coarse).toMatchObject({ ohmicOhm: null, branches: [] });
  expect(coarse?.stages.map(({ fromS }) => fromS)).not.toContain(0);
  expect(fitRelaxation(seen(0.02, [[0.01, 5]], 0.01))?.stages).toEqual([]);
  const short = seen(0.02, [[0.01, 5]]);
  expect(
    fitRelaxation({ ...short, points: short.points.filter(({ x }) => x < 8) })?.stages.some(({ toS }) => toS > 8),
  ).toBe(false);
});

test('an uncertainty of level, drift or current widens the result', () => {
  const plain = seen(0.02, [[0.01, 5]]);
  const u = (change: Partial<SeenStep>) => fitRelaxation({ ...plain, ...change })?.ohmicOhm?.u ?? 0;
  expect(u({ levelU: 0.001 })).toBeGreaterThan(0.001);
  expect(u({ relativeU: 0.05 })).toBeGreaterThan(0.0009);
});

test('what comes at once and the stages add up to what is seen, the charge aside', () => {
  const branches: [number, number][] = [
    [0.008, 0.8],
    [0.012, 14],
  ];
  const fit = fitRelaxation(seen(0.03, branches, 1e-5, 3e-5));
  const resistanceOf = fit?.stages
    .filter(({ toS }) => toS <= 10)
    .reduce((sum, { resistanceOhm }) => sum + resistanceOhm.value, fit.ohmicOhm?.value ?? NaN);
  expect(resistanceOf).toBeCloseTo(0.03 + between(branches, 0, 10), 3);
});

test.each([
  ['too few points', seen(0.02, [[0.01, 5]]).points.slice(0, 6)],
  ['a resistance below zero', times.map((x) => ({ x, y: -0.04 }))],
])('%s: nothing is made up', (_, points) => {
  expect(fitRelaxation({ ...tools, points, sampleU: 1e-5 })).toBeNull();
});
