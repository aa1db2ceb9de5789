import { seededChance } from '../statistics/random';
import { createDischargeMeter } from './discharge';
import type { Sample } from './logReader';
import { createVoltageSense } from './voltageSense';

const sample = (timeS: number, voltageV: number): Sample => ({ timeS, voltageV, currentA: null, temperatureC: null });

/** Whether each sample was taken as loaded; null where everything before was taken back. */
function sense(samples: Sample[], { seriesCells = 1, digitV }: { seriesCells?: number; digitV?: number } = {}) {
  const loaded = new Map<number, boolean>();
  let steps = 0;
  const one = createVoltageSense(
    { seriesCells, digitV },
    {
      sample: ({ timeS }, isLoaded, stepsOn) => {
        loaded.set(timeS, isLoaded);
        steps = Math.max(steps, Math.abs(stepsOn));
      },
      wentOn: () => {},
      beginAnew: () => loaded.forEach((_, timeS) => loaded.set(timeS, false)),
      endedAtLowest: () => {},
    },
  );
  samples.forEach(one.push);
  const end = one.finish();
  const times = [...loaded].filter(([, isLoaded]) => isLoaded).map(([timeS]) => timeS);
  return { fromS: times[0], toS: times.at(-1), steps, ...end };
}

/** At rest, 60 mV lower under load and falling, at rest again; every `stepS`. */
const logged = (on: number, off: number, length: number, { stepS = 1, noiseV = 0, fallVPerS = 1e-4 } = {}): Sample[] =>
  Array.from({ length: Math.floor(length / stepS) + 1 }, (_, i) => i * stepS).map((t, i) => {
    const under = Math.min(Math.max(0, t - on), off - on);
    return sample(
      t,
      3.9 -
        under * fallVPerS -
        (t >= on && t < off ? 0.06 + 0.02 * (1 - Math.exp(-(t - on) / 20)) : 0) +
        (i % 2 ? noiseV : -noiseV),
    );
  });

test.each([1, 10, 60])('a load between two rests, every %d s, is loaded where it was and nowhere else', (stepS) => {
  expect(sense(logged(600, 4200, 6000, { stepS }))).toMatchObject({ fromS: 600, toS: 4200 - stepS });
});

test('one load is on once, however the voltage falls after it', () => {
  // 3 A at once and 3 A more within the next seconds: read as two loads before.
  const twice = Array.from({ length: 60 }, (_, t) =>
    sample(t, t < 20 ? 3.9 : 3.7 - 0.15 * (1 - Math.exp(-(t - 20) / 1.2))),
  );
  expect(sense(twice)).toMatchObject({ fromS: 20, steps: 1 });
});

test.each<[string, Sample[], number | null]>([
  ['noise of a coarse logger', logged(9e9, 9e9, 120, { noiseV: 0.005 }), null],
  [
    'digits of 20 mV',
    logged(0, 9000, 4000).map(({ timeS, voltageV }) => sample(timeS, Math.round(voltageV / 0.02) * 0.02)),
    0.02,
  ],
  ['a knee that grows step by step', Array.from({ length: 60 }, (_, t) => sample(t, 3.4 - 0.0002 * t ** 1.6)), null],
])('%s is no switching', (_, samples, digitV) => {
  expect(sense(samples, digitV === null ? {} : { digitV }).steps).toBe(0);
});

test('a load taken off in a coarse log is seen though the rest lies below the last loaded sample', () => {
  const fall = [0, 60, 120, 180, 240, 300, 360, 420, 480].map((t) => sample(t, 3.5 - 0.0003 * t));
  const knee = [sample(540, 3.3), sample(600, 3.22), sample(660, 3.1)];
  const rest = [720, 780, 840, 900, 960].map((t, i) => sample(t, 3.06 + 0.004 * i));
  expect(sense([...fall, ...knee, ...rest])).toMatchObject({ toS: 660 });
});

test('a charge before it is no load, and a log that only rises holds none', () => {
  const charge = Array.from({ length: 100 }, (_, i) => sample(i * 60, 3.6 + 0.005 * i));
  const after = logged(1200, 4800, 6000, { stepS: 60 }).map(({ timeS, voltageV }) =>
    sample(timeS + 6000, voltageV + 0.15),
  );
  expect(sense([...charge, ...after])).toMatchObject({ fromS: 7200, toS: 10_740, onlyRose: false });
  expect(sense(charge)).toMatchObject({ onlyRose: true });
});

test('what counts as a jump grows with the cells in series', () => {
  const stack = logged(20, 50, 80).map(({ timeS, voltageV }) => sample(timeS, voltageV * 2));
  expect(sense(stack, { seriesCells: 2 }).fromS).toBe(20);
  expect(sense(stack, { seriesCells: 40 }).steps).toBe(0);
});

test('a log of voltage alone with a known current shows the resistance of its load', () => {
  const meter = createDischargeMeter({ load: { kind: 'current', currentA: 1 } });
  logged(20, 500, 500).forEach(meter.push);
  const { edges } = meter.finish(0.001);
  expect(edges.filter(({ deltaCurrentA }) => deltaCurrentA > 0)).toHaveLength(1);
  expect(edges[0]).toMatchObject({ atS: 20, deltaCurrentA: 1 });
  expect(Math.abs((edges[0]?.resistanceOhm['10s'] ?? 0) - 0.068)).toBeLessThan(
    2 * (edges[0]?.standardUncertaintyOhm['10s'] ?? 0),
  );
});

test('a silence in the middle of a noisy plateau is no end of the load', () => {
  const chance = seededChance(3);
  const plateau = Array.from({ length: 3000 }, (_, t) =>
    sample(t, Math.round((3.9 - t * 1e-4 + chance.normal(0, 0.0006)) * 1000) / 1000),
  ).filter(({ timeS }) => timeS < 1000 || timeS > 1180);
  expect(sense(plateau, { digitV: 0.001 })).toMatchObject({ fromS: 0, toS: 2999, steps: 0 });
});
