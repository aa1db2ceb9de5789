import { refusalOf } from '@/words/impossible';
import { warningText } from '@/words/warnings';
import { createDischargeMeter, type DischargeSettings } from './discharge';
import type { Sample } from './logReader';

const sample = (timeS: number, voltageV: number, currentA: number | null = null): Sample => ({
  timeS,
  voltageV,
  currentA,
  temperatureC: null,
});

function measure(samples: Sample[], settings: DischargeSettings) {
  const meter = createDischargeMeter({
    tools: { loadTolerance: 0, currentAccuracyShare: 0, voltageAccuracyV: 0 },
    ...settings,
  });
  samples.forEach((one) => meter.push(one));
  return meter.finish(0.001);
}

const codes = (result: { warnings: { code: string }[] }) => result.warnings.map((warning) => warning.code);
/** A straight fall from 4 V by 1 mV/s. */
const falling = (from: number, to: number, step = 1) =>
  Array.from({ length: Math.floor((to - from) / step) + 1 }, (_, i) =>
    sample(from + i * step, 4 - 0.001 * (from + i * step)),
  );

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
    expect(result.warnings.map(warningText)[0]).toContain('2 wild samples');
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
  const result = measure(falling(0, 800), {
    load: { kind: 'current', currentA: 1 },
    cutoffV: 3.3,
    tools: { loadTolerance: 0.01 * Math.sqrt(3), voltageAccuracyV: 0 },
  });
  // 1 % of 700 As, 0.29 mV over 1 mV/s at 1 A, and half a second of 1 A before the log began.
  expect(result.capacityAh.u * 3600).toBeCloseTo(Math.hypot(7, 0.2887, 0.5), 3);
  expect(result.budget.map(({ input }) => input)).toEqual(['load', 'moment of switching', 'cut-off']);
});

test('load steps of a measured current show their resistance at 1 and 10 s', () => {
  const samples = Array.from({ length: 40 }, (_, i) =>
    sample(i, i < 10 ? 4 : 4 - 2 * 0.05 - 0.001 * (i - 10), i < 10 ? 0 : 2),
  );
  const [edge] = measure(samples, { load: { kind: 'column' } }).edges;
  expect(edge?.deltaCurrentA).toBeCloseTo(2, 9);
  expect(edge?.resistanceOhm['1s']).toBeCloseTo(0.0503, 4);
  expect(edge?.resistanceOhm['10s']).toBeCloseTo(0.05475, 4);
});

test('a load of nothing is refused', () => {
  expect(refusalOf(() => createDischargeMeter({ load: { kind: 'resistor', resistanceOhm: 0 } }))).toContain('load');
});

describe('only the discharge counts', () => {
  const one = { kind: 'current', currentA: 1 } as const;
  const voltageAt = (under: number): number => {
    if (under < 0) return 4.1;
    if (under < 3600) return 4 - (0.95 * under) / 3600 - 0.05 * (under / 3600) ** 20;
    return 3.25 - 0.05 * Math.exp(-(under - 3600) / 300);
  };
  /** Rest, an hour of 1 A from 4.0 to 3.0 V, recovery; every 10 s. */
  const logged = (beforeS: number, afterS: number, currentOf: (t: number) => number | null = () => null) =>
    Array.from({ length: (beforeS + 3600 + afterS) / 10 }, (_, i) => i * 10).map((t) => {
      const under = t - beforeS;
      return sample(t, Math.round(voltageAt(under) * 1000) / 1000, currentOf(under));
    });

  test.each([
    [600, 0],
    [0, 1800],
    [600, 1800],
    [60, 60],
  ])('with a told current: %d s of rest before and %d s of recovery after are left out', (beforeS, afterS) => {
    const result = measure(logged(beforeS, afterS), { load: one, cutoffV: 3 });
    expect(result.reachedCutoff).toBe(true);
    expect(Math.abs(result.capacityAh.value - 1)).toBeLessThan(2 * result.capacityAh.u + 0.006);
    expect(result.durationS).toBeLessThan(3620);
    expect(result.meanCurrentA).toBeCloseTo(1, 6);
  });

  test('with a column: zero current ends it, 12 mA of noise does not fix the sign, every fifth cell empty loses nothing', () => {
    const noise = (t: number) => 0.012 * Math.sin(t * 12.9898);
    const column = (sign: 1 | -1) => (t: number) => (t < 0 || t >= 3600 ? noise(t) : sign * (1 + noise(t)));
    for (const sign of [1, -1] as const) {
      const result = measure(logged(600, 1800, column(sign)), { load: { kind: 'column' }, cutoffV: 3 });
      expect(result.capacityAh.value).toBeCloseTo(1, 2);
      expect(codes(result).includes('current-negated')).toBe(sign === -1);
    }
    const holes = measure(
      logged(600, 600, (t) => ((t / 10) % 5 === 0 ? null : column(1)(t))),
      { load: { kind: 'column' }, cutoffV: 3 },
    );
    expect(holes.capacityAh.value).toBeCloseTo(1, 2);
    expect(codes(holes)).toContain('current-missing');
  });

  test('a charge in the same file is recognised: by sign with a column, by direction without one', () => {
    const charge = Array.from({ length: 180 }, (_, i) => sample(i * 20, 3.4 + 0.75 * (i / 180), -0.7));
    const discharge = logged(600, 600, (t) => (t < 0 || t >= 3600 ? 0 : 1)).map((one_) => ({
      ...one_,
      timeS: one_.timeS + 3600,
    }));
    const both = [...charge, ...discharge];
    const byColumn = measure(both, { load: { kind: 'column' }, cutoffV: 3 });
    expect(byColumn.capacityAh.value).toBeCloseTo(1, 2);
    expect(codes(byColumn)).toContain('charge-left-out');
    expect(
      measure(
        both.map((each) => ({ ...each, currentA: null })),
        { load: one, cutoffV: 3 },
      ).capacityAh.value,
    ).toBeCloseTo(1, 2);
  });

  test('a log of a charge alone holds no discharge: nothing, said so, and never a negative capacity', () => {
    const charge = (currentA: number | null) =>
      Array.from({ length: 180 }, (_, i) => sample(i * 20, 3.4 + 0.75 * (i / 180), currentA));
    for (const [current, load] of [
      [-0.7, { kind: 'column' }],
      [0.7, { kind: 'column' }],
      [null, one],
    ] as const) {
      const result = measure(charge(current), { load, cutoffV: 3 });
      expect(result).toMatchObject({ capacityAh: { value: 0 }, reachedCutoff: false });
      expect(codes(result)).toContain('no-discharge');
    }
  });

  test.each([
    [1, 3.003],
    [10, 3.002],
    [60, 3.08],
    [120, 3.17],
  ])('every %d s, stopped at the cut-off with %d V as the last under load: reached', (stepS, about) => {
    const knee = (t: number) => 3.6 - t / 9000 - 0.0002 * Math.exp(t / 250);
    const stop = Array.from({ length: 4000 }, (_, i) => i).find((t) => knee(t) <= 3) ?? 0;
    const samples = Array.from({ length: Math.ceil(stop / stepS) }, (_, i) =>
      sample(i * stepS, Math.round(knee(i * stepS) * 1000) / 1000),
    );
    expect(Math.abs((samples.at(-1)?.voltageV ?? 0) - about)).toBeLessThan(0.12);
    const rest = Array.from({ length: 12 }, (_, i) => sample((samples.length + i) * stepS, 3.24 + 0.002 * i));
    for (const log of [samples, [...samples, ...rest]]) {
      const result = measure(log, { load: one, cutoffV: 3 });
      expect(result.reachedCutoff).toBe(true);
      expect(Math.abs(result.capacityAh.value - stop / 3600)).toBeLessThan(2 * result.capacityAh.u + 0.0001);
    }
    expect(measure(samples.slice(0, Math.floor(samples.length * 0.7)), { load: one, cutoffV: 3 }).reachedCutoff).toBe(
      false,
    );
  });

  test('of several discharges the first that ends at the cut-off counts', () => {
    const later = (from: number, samples: Sample[]) => samples.map((each) => ({ ...each, timeS: each.timeS + from }));
    const cut = logged(60, 0, (t) => (t < 0 ? 0 : 1)).filter(({ timeS }) => timeS < 1500);
    const charge = Array.from({ length: 90 }, (_, i) => sample(1500 + i * 20, 3.7 + 0.4 * (i / 90), -1));
    const whole = later(
      3300,
      logged(60, 300, (t) => (t < 0 || t >= 3600 ? 0 : 1)),
    );
    const result = measure([...cut, ...charge, ...whole], { load: { kind: 'column' }, cutoffV: 3 });
    expect(result).toMatchObject({ reachedCutoff: true });
    expect(result.capacityAh.value).toBeCloseTo(1, 2);
    expect(result.fromS).toBeGreaterThan(3300);
  });
});

describe('what is unknown enters the uncertainty', () => {
  const samples = falling(0, 800);
  const u = (settings: Partial<DischargeSettings>) =>
    measure(samples, { load: { kind: 'resistor', resistanceOhm: 2 }, cutoffV: 3.3, ...settings }).capacityAh.u;

  test('tolerance of the load, accuracy of the voltmeter', () => {
    const exactly = { loadTolerance: 0, voltageAccuracyV: 0 };
    expect(u({ tools: { ...exactly, loadTolerance: 0.05 } })).toBeGreaterThan(0.028 * 0.35);
    expect(u({ tools: { ...exactly, voltageAccuracyShare: 0.01 } })).toBeGreaterThan(0.005 * 0.35);
  });

  test('what nobody said is assumed, and said', () => {
    expect(codes(measure(samples, { load: { kind: 'resistor', resistanceOhm: 2 }, cutoffV: 3.3, tools: {} }))).toEqual([
      'load-tolerance-assumed',
      'voltage-accuracy-assumed',
    ]);
  });

  test('zero and digit of a column', () => {
    const column = samples.map((each) => ({ ...each, currentA: 1 }));
    const byColumn = (tools: DischargeSettings['tools'], stepA: number) => {
      const meter = createDischargeMeter({
        load: { kind: 'column' },
        cutoffV: 3.3,
        tools: { voltageAccuracyV: 0, ...tools },
      });
      column.forEach(meter.push);
      return meter.finish(0.001, stepA).capacityAh;
    };
    expect(byColumn({ currentAccuracyA: 0.02 }, 0.001).u).toBeCloseTo((0.02 / Math.sqrt(3)) * (700 / 3600), 3);
    expect(byColumn({ currentAccuracyA: 0 }, 0.1).u).toBeCloseTo((0.1 / Math.sqrt(12)) * (700 / 3600), 3);
  });

  test('a cut-off that was met within a silence', () => {
    const gap = falling(0, 800).filter(({ timeS }) => timeS < 640 || timeS > 760);
    const result = measure(gap, { load: { kind: 'current', currentA: 1 }, cutoffV: 3.3 });
    expect(Math.abs(result.durationS - 700)).toBeLessThan(2 * (result.capacityAh.u * 3600) + 1);
    expect(codes(result)).toContain('cutoff-in-gap');
  });
});
