import { createDischargeMeter, type DischargeSettings } from './discharge';
import type { Sample } from './logReader';

const sample = (timeS: number, voltageV: number, currentA: number | null = null): Sample => ({ timeS, voltageV, currentA, temperatureC: null });

function measure(samples: Sample[], settings: DischargeSettings) {
  const meter = createDischargeMeter({ tools: { loadTolerance: 0, currentAccuracyShare: 0, voltageAccuracyV: 0 }, ...settings });
  samples.forEach((one) => meter.push(one));
  return meter.finish(0.001);
}

const codes = (result: { warnings: { code: string }[] }) => result.warnings.map((warning) => warning.code);
/** A straight fall from 4 V by 1 mV/s. */
const falling = (from: number, to: number, step = 1) => Array.from({ length: Math.floor((to - from) / step) + 1 }, (_, i) => sample(from + i * step, 4 - 0.001 * (from + i * step)));

test('common practice: a mean of 8.535 V on 440 Ω for 28 039 s is 151.1 mAh', () => {
  const n = 4000;
  const samples = Array.from({ length: n + 1 }, (_, i) => sample((28039 * i) / n, 8.535 + 0.8 * (0.5 - i / n)));
  const result = measure(samples, { load: { kind: 'resistor', resistanceOhm: 440 }, seriesCells: 7, cutoffV: 7 });
  expect(result.meanVoltageV).toBeCloseTo(8.535, 6);
  expect(result.capacityAh.value).toBeCloseTo(0.1511, 4);
  expect(result.reachedCutoff).toBe(false);
  expect(codes(result)).toEqual(['cutoff-not-reached']);
});

describe('closed forms', () => {
  test('a straight fall on a resistor: the integral of (4 − t/1000)/R', () => {
    const result = measure(falling(0, 800), { load: { kind: 'resistor', resistanceOhm: 2 }, cutoffV: 3.3 });
    expect(result.durationS).toBeCloseTo(700, 6);
    expect(result.capacityAh.value).toBeCloseTo((4 * 700 - 0.0005 * 700 ** 2) / 2 / 3600, 8);
    expect(result.endVoltageV).toBeCloseTo(3.3, 9);
    expect(result.meanCurrentA).toBeCloseTo(3.65 / 2, 6);
  });

  test('a regulated current counts I · t whatever the steps, with the cut-off between two samples', () => {
    const uneven = [0, 1, 7, 8, 20, 33, 60, 61.5, 400, 690, 715, 730, 760].map((t) => sample(t, 4 - 0.001 * t));
    const result = measure(uneven, { load: { kind: 'current', currentA: 0.5 }, cutoffV: 3.3 });
    expect(result.durationS).toBeCloseTo(700, 6);
    expect(result.capacityAh.value).toBeCloseTo((0.5 * 700) / 3600, 9);
  });

  test('a measured current of either sign is integrated; energy is the area of V · I', () => {
    const samples = Array.from({ length: 101 }, (_, i) => sample(36 * i, 3.7, -1));
    const result = measure(samples, { load: { kind: 'column' } });
    expect(result.capacityAh.value).toBeCloseTo(1, 9);
    expect(result.energyWh).toBeCloseTo(3.7, 9);
    expect(result.reachedCutoff).toBeNull();
    expect(codes(result)).toEqual(['current-negated']);
  });
});

describe('rough logs', () => {
  const load = { kind: 'current', currentA: 1 } as const;

  test('three wild samples in a row are left out, and nothing is lost by it', () => {
    const samples = falling(0, 800);
    [300, 301, 302].forEach((i) => (samples[i] = sample(i, 1.2)));
    const result = measure(samples, { load, cutoffV: 3.3 });
    expect(result.durationS).toBeCloseTo(700, 6);
    expect(codes(result)).toEqual(['wild-samples']);
  });

  test('wild samples at the very start and end are left out as well', () => {
    const samples = falling(0, 100);
    samples[0] = sample(0, 9);
    samples[100] = sample(100, 9);
    const result = measure(samples, { load });
    expect(result.warnings[0]?.message).toContain('2 wild samples');
  });

  test('a dip with its own surge of current is no wild sample', () => {
    const samples = Array.from({ length: 60 }, (_, i) => sample(i, i === 30 ? 3.2 : 3.8, i === 30 ? 5 : 1));
    expect(codes(measure(samples, { load: { kind: 'column' } }))).toEqual([]);
  });

  test('a gap is bridged, named and paid for in uncertainty', () => {
    const samples = falling(0, 800).filter(({ timeS }) => timeS < 200 || timeS > 500);
    const whole = measure(falling(0, 800), { load: { kind: 'resistor', resistanceOhm: 2 }, cutoffV: 3.3 });
    const result = measure(samples, { load: { kind: 'resistor', resistanceOhm: 2 }, cutoffV: 3.3 });
    expect(result.gaps).toEqual([{ fromS: 199, toS: 501 }]);
    expect(result.capacityAh.value).toBeCloseTo(whole.capacityAh.value, 6);
    expect(result.capacityAh.u).toBeGreaterThan(5 * whole.capacityAh.u);
  });

  test('a brief dip below the cut-off does not end the discharge', () => {
    const samples = falling(0, 800);
    [600, 601].forEach((i) => (samples[i] = sample(i, 3.28)));
    const result = measure(samples, { load, cutoffV: 3.3 });
    expect(result.durationS).toBeCloseTo(700, 6);
    expect(codes(result)).toEqual(['brief-dips']);
  });

  test('a device that takes its load off at the cut-off did reach it', () => {
    const samples = [...falling(0, 701), ...Array.from({ length: 20 }, (_, i) => sample(702 + i, 3.42))];
    const result = measure(samples, { load, cutoffV: 3.3 });
    expect(result.reachedCutoff).toBe(true);
    expect(result.durationS).toBeCloseTo(700, 6);
    expect(codes(result)).toEqual(['rest-left-out']);
  });

  test('a log that ends right below the cut-off reached it; one that starts below waits until it is above', () => {
    expect(measure(falling(0, 701), { load, cutoffV: 3.3 }).durationS).toBeCloseTo(700, 6);
    const late = [sample(0, 2.9), sample(1, 2.9), sample(2, 2.9), sample(3, 2.9), ...falling(4, 800)];
    // The load came on between 3 and 4 s.
    expect(measure(late, { load, cutoffV: 3.3 }).durationS).toBeCloseTo(696.5, 6);
  });
});

test('the uncertainty holds the load, the step at the cut-off, and for a resistor the voltage step', () => {
  const result = measure(falling(0, 800), { load: { kind: 'current', currentA: 1 }, cutoffV: 3.3, tools: { loadTolerance: 0.01 * Math.sqrt(3), voltageAccuracyV: 0 } });
  // 1 % of 700 As, 0.29 mV over 1 mV/s at 1 A, and half a second of 1 A before the log began.
  expect(result.capacityAh.u * 3600).toBeCloseTo(Math.hypot(7, 0.2887, 0.5), 3);
  expect(result.budget.map(({ input }) => input)).toEqual(['load', 'moment of switching', 'cut-off']);
});

test('load steps of a measured current show their resistance at 1 and 10 s', () => {
  const samples = Array.from({ length: 40 }, (_, i) => sample(i, i < 10 ? 4 : 4 - 2 * 0.05 - 0.001 * (i - 10), i < 10 ? 0 : 2));
  const [edge] = measure(samples, { load: { kind: 'column' } }).edges;
  expect(edge?.deltaCurrentA).toBeCloseTo(2, 9);
  expect(edge?.resistanceOhm['1s']).toBeCloseTo(0.0503, 4);
  expect(edge?.resistanceOhm['10s']).toBeCloseTo(0.05475, 4);
});

test('a load of nothing is refused', () => {
  expect(() => createDischargeMeter({ load: { kind: 'resistor', resistanceOhm: 0 } })).toThrow('load');
});
