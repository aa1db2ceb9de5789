/** @jest-environment node */
import type { DischargeSettings } from '@/core/capacity/discharge';
import type { Sample } from '@/core/capacity/logReader';
import { ImpossibleInput } from '@/core/impossibleInput';
import { meterBeside, meterHere } from './meterBeside';

/** A discharge of a pack of two groups that crosses its cut-off, with samples without a current. */
const samples = Array.from({ length: 50_000 }, (_, i): Sample => {
  const groupsV = [4.1 - i / 40_000, 4.05 - i / 36_000];
  const isUnknown = i % 1000 === 7;
  return {
    timeS: i / 5,
    voltageV: groupsV.reduce((a, b) => a + b, 0),
    currentA: isUnknown ? null : 1.5,
    temperatureC: null,
    groupsV,
    step: i < 20_000 ? 1 : 2,
  };
});
const settings: DischargeSettings = { load: { kind: 'column' }, cutoffPerGroupV: 2.9, seriesCells: 2 };

test('beside comes to what it comes to here', async () => {
  const [here, beside] = [meterHere(settings), meterBeside(settings)];
  for (const sample of samples) {
    here.push(sample);
    beside.push(sample);
    await beside.ready();
  }
  const result = await beside.finish(0.001, 0.01);
  beside.end();
  expect(result.reachedCutoff).toBe(true);
  expect(result.segments.map(({ step }) => step)).toEqual([1, 2]);
  expect(result).toEqual(await here.finish(0.001, 0.01));
});

test('an unmeterable log is refused as it would be here', async () => {
  const beside = meterBeside({ load: { kind: 'resistor', resistanceOhm: 0 } });
  beside.push(samples[0] as Sample);
  await expect(beside.finish(0.001, null)).rejects.toThrow(ImpossibleInput);
  beside.end();
});
