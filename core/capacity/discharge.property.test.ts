import fc from 'fast-check';
import { createDischargeMeter, type Discharge, type DischargeSettings } from './discharge';
import type { Sample } from './logReader';

/** A smooth fall of voltage, sampled at uneven times; dense enough that no sample is far from the next. */
const steps = fc.array(fc.double({ min: 1, max: 5, noNaN: true }), { minLength: 60, maxLength: 200 });

const logAt = (gaps: number[], startS = 0): Sample[] => {
  let timeS = startS;
  const total = gaps.reduce((sum, gap) => sum + gap, 0);
  return [0, ...gaps].map((gap) => {
    timeS += gap;
    return { timeS, voltageV: 4 - (0.9 * (timeS - startS)) / total, currentA: null, temperatureC: null };
  });
};

function measure(samples: Sample[], settings: DischargeSettings): Discharge {
  const meter = createDischargeMeter(settings);
  samples.forEach((sample) => meter.push(sample));
  return meter.finish(0.001);
}

const current = { load: { kind: 'current', currentA: 0.8 }, cutoffV: 3.4 } as const;
const resistor = { load: { kind: 'resistor', resistanceOhm: 4 }, cutoffV: 3.4 } as const;

test('however a log is sampled, a constant current gives current times the time to the cut-off', () => {
  fc.assert(
    fc.property(steps, (gaps) => {
      const total = gaps.reduce((sum, gap) => sum + gap, 0);
      const toCutoffS = (total * (4 - 3.4)) / 0.9;
      const result = measure(logAt(gaps), current);
      expect(result.durationS).toBeCloseTo(toCutoffS, 6);
      expect(result.capacityAh.value).toBeCloseTo((0.8 * toCutoffS) / 3600, 9);
    }),
  );
});

test('however a log is sampled, a resistor gives the mean voltage over it', () => {
  fc.assert(
    fc.property(steps, (gaps) => {
      const result = measure(logAt(gaps), resistor);
      expect(result.meanVoltageV).toBeCloseTo(3.7, 6);
      expect(result.meanCurrentA).toBeCloseTo(3.7 / 4, 6);
      expect(result.capacityAh.value).toBeCloseTo((result.meanCurrentA * result.durationS) / 3600, 9);
    }),
  );
});

test('what comes after the cut-off changes nothing', () => {
  fc.assert(
    fc.property(steps, fc.integer({ min: 1, max: 50 }), (gaps, more) => {
      const samples = logAt(gaps);
      const last = samples.at(-1) as Sample;
      const longer = [
        ...samples,
        ...Array.from({ length: more }, (_, i) => ({
          ...last,
          timeS: last.timeS + i + 1,
          voltageV: last.voltageV - 0.001 * i,
        })),
      ];
      expect(measure(longer, current).capacityAh).toEqual(measure(samples, current).capacityAh);
    }),
  );
});

test('twice the current is twice the capacity and twice the uncertainty', () => {
  fc.assert(
    fc.property(steps, (gaps) => {
      const [once, twice] = [0.8, 1.6].map((currentA) =>
        measure(logAt(gaps), { ...current, load: { kind: 'current', currentA } }),
      );
      expect(twice?.capacityAh.value).toBeCloseTo(2 * (once?.capacityAh.value ?? NaN), 9);
      expect(twice?.capacityAh.u).toBeCloseTo(2 * (once?.capacityAh.u ?? NaN), 9);
    }),
  );
});

test('a lower cut-off never gives less', () => {
  fc.assert(
    fc.property(
      steps,
      fc.double({ min: 3.15, max: 3.9, noNaN: true }),
      fc.double({ min: 0, max: 0.05, noNaN: true }),
      (gaps, cutoffV, lower) => {
        const at = (volts: number) => measure(logAt(gaps), { ...current, cutoffV: volts }).capacityAh.value;
        expect(at(cutoffV - lower)).toBeGreaterThanOrEqual(at(cutoffV) - 1e-12);
      },
    ),
  );
});

test('no figure is ever anything but a number, whatever voltages a log holds', () => {
  const wildLog = fc.array(
    fc.record({
      gap: fc.double({ min: 0, max: 400, noNaN: true }),
      volts: fc.double({ min: -5, max: 60, noNaN: true }),
    }),
    { minLength: 2, maxLength: 60 },
  );
  fc.assert(
    fc.property(
      wildLog,
      fc.constantFrom<DischargeSettings>(current, resistor, { load: { kind: 'column' } }),
      (log, settings) => {
        let timeS = 0;
        const result = measure(
          log.map(({ gap, volts }) => ({
            timeS: (timeS += gap),
            voltageV: volts,
            currentA: volts / 3,
            temperatureC: null,
          })),
          settings,
        );
        [result.capacityAh.value, result.capacityAh.u, result.energyWh, result.meanCurrentA, result.durationS].forEach(
          (figure) => expect(Number.isFinite(figure)).toBe(true),
        );
      },
    ),
  );
});
