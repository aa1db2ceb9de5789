import fc from 'fast-check';
import { seededChance } from '../statistics/random';
import { fitRelaxation, relaxedOhm } from './relaxation';

const times = Array.from({ length: 120 }, (_, i) => 0.05 * 1.1 ** i).filter((t) => t < 60);
const seen = (ohmic: number, branches: [number, number][], noise = 0, seed = 1) => {
  const chance = seededChance(seed);
  return times.map((x) => ({ x, y: ohmic + branches.reduce((sum, [ohm, tau]) => sum + ohm * (1 - Math.exp(-x / tau)), 0) + chance.normal(0, noise) }));
};

test('one branch comes back, with nothing added to it', () => {
  fc.assert(
    fc.property(fc.double({ min: 0.005, max: 0.08, noNaN: true }), fc.double({ min: 0.004, max: 0.06, noNaN: true }), fc.double({ min: 1, max: 15, noNaN: true }), (ohmic, ohm, tau) => {
      const fit = fitRelaxation(seen(ohmic, [[ohm, tau]], 1e-5));
      expect(fit?.branches).toHaveLength(1);
      expect(fit?.ohmicOhm.value).toBeCloseTo(ohmic, 4);
      expect((fit?.branches[0]?.timeConstantS.value ?? 0) / tau).toBeCloseTo(1, 1);
    }),
    { numRuns: 25 },
  );
});

test('two branches well apart are told from one, the quicker first', () => {
  const fit = fitRelaxation(seen(0.02, [[0.008, 0.6], [0.012, 14]], 5e-5));
  expect(fit?.branches).toHaveLength(2);
  const [quick, slow] = fit?.branches ?? [];
  expect(Math.abs((quick?.timeConstantS.value ?? 0) - 0.6)).toBeLessThan(3 * (quick?.timeConstantS.u ?? 0));
  expect(Math.abs((slow?.resistanceOhm.value ?? 0) - 0.012)).toBeLessThan(3 * (slow?.resistanceOhm.u ?? 0));
});

test('the stated errors hold the truth about as often as they say (simulated, 95 of 100)', () => {
  let held = 0;
  const rounds = 80;
  for (let seed = 1; seed <= rounds; seed++) {
    const fit = fitRelaxation(seen(0.03, [[0.02, 4]], 4e-4, seed));
    const ohm = fit?.branches[0]?.resistanceOhm;
    if (fit?.branches.length === 1 && ohm && Math.abs(ohm.value - 0.02) < 1.98 * ohm.u) held += 1;
  }
  expect(held / rounds).toBeGreaterThan(0.85);
});

test('the curve of the fit passes where the points do', () => {
  const points = seen(0.02, [[0.01, 5]]);
  const fit = fitRelaxation(points);
  for (const { x, y } of points) expect(fit ? relaxedOhm(fit, x) : NaN).toBeCloseTo(y, 5);
});

test.each([
  ['too few points', seen(0.02, [[0.01, 5]]).slice(0, 6)],
  ['no relaxation at all', times.map((x) => ({ x, y: 0.04 }))],
  ['a ramp that never settles', times.map((x) => ({ x, y: 0.02 + x / 1000 }))],
  ['a curve that falls', seen(0.05, [[-0.02, 5]])],
])('%s: nothing is made up', (_, points) => {
  expect(fitRelaxation(points)).toBeNull();
});
