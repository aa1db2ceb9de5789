import { judgeReading, noTools, type ResistanceFacts } from '@/core/resistance/judgeReading';
import { methodKeys, methods } from '@/core/resistance/methods';
import { sayReading, understandReading } from './roundLine';

const cell = { code: 'A1-001', chemistry: 'li-ion', times: 0, weldedTo: [], series: 1 } as const;
const typed = methodKeys.filter((key) => key !== 'pulse');

test.each(typed)('%s: what its example shows is understood, said back and gives a resistance', (method) => {
  const line = understandReading(
    methods[method].example,
    { method, loadResistanceOhm: method === 'resistor' ? 2.2 : null, batchMedianOhm: null },
    cell,
    () => cell,
    () => null,
  );
  expect(line).toMatchObject({ kind: 'reading', code: 'A1-001', asks: null });
  const [facts] = line.kind === 'reading' ? line.reading.bodies : [];
  if (line.kind !== 'reading' || !facts || facts.kind === 'pulse') throw new Error(line.kind);
  const { temperatureC } = line.reading;
  expect(temperatureC).toBeNull();
  const load =
    method === 'resistor'
      ? { loadResistanceOhm: 2.2, loadTolerance: 0.01, loadRatingW: 5 }
      : { loadResistanceOhm: null, loadTolerance: null, loadRatingW: null };
  const stored = { ...facts, ...(facts.kind === 'load-step' ? load : { zeroTaken: null }) } as ResistanceFacts;
  const result = judgeReading(stored, noTools);
  expect(result?.resistance.value).toBeGreaterThan(0.01);
  expect(result?.resistance.value).toBeLessThan(0.09);
  expect(result?.budget.length).toBeGreaterThan(0);
  // Stored and read back it says the same.
  expect(sayReading({ bodies: [stored], temperatureC: null })).toBe(sayReading(line.reading));
});

test('every budget names its largest share first', () => {
  const result = judgeReading(
    {
      kind: 'load-step',
      openV: 3.95,
      loadedV: 3.87,
      afterV: 3.94,
      afterS: null,
      currentA: 1.6,
      step: 0.01,
      currentStep: 0.01,
      loadResistanceOhm: null,
      loadTolerance: null,
      loadRatingW: null,
    },
    { ...noTools, voltage: { resolution: 0.01, accuracyShare: 0.01, accuracyCounts: 0 } },
  );
  const fractions = result?.budget.map((fraction) => fraction.u) ?? [];
  expect(fractions).toEqual([...fractions].sort((a, b) => b - a));
  expect(result?.budget.map((fraction) => fraction.input)).toEqual(
    expect.arrayContaining([
      'open voltage',
      'loaded voltage',
      'noise of the readings',
      'time of the recovery voltage',
      'load current',
      'gain of the meter',
    ]),
  );
});
