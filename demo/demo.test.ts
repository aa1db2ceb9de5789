import { warningText } from '@/words/warnings';
import { weighClaim } from '@/core/capacity/label';
import { chemistries } from '@/core/chemistry/chemistries';
import { createDischargeMeter } from '@/core/capacity/discharge';
import { lowestVoltageV, presetRules } from '@/core/chemistry/houseRules';
import { openCircuitOf } from '@/core/chemistry/openCircuit';
import { exact } from '@/core/quantity/quantity';
import { seededChance } from '@/core/statistics/random';
import { batches, packs, peculiar } from './scenario';
import { cellsOf, dischargeLog, groupReadings, loadStepReading, restReading } from './simulate';

const first = batches[0] as (typeof batches)[number];
const rules = presetRules('workshop');

describe('the scenario', () => {
  test('has a few hundred cells in batches with codes of their own, and twelve packs', () => {
    expect(batches.reduce((sum, batch) => sum + batch.count, 0)).toBe(244);
    expect(new Set(batches.map((batch) => batch.code)).size).toBe(batches.length);
    expect(packs).toHaveLength(13);
    expect(new Set(packs.map((pack) => pack.code)).size).toBe(13);
  });

  test.each(batches)('$code: the bench has come no further than its cells, and its model can be true', (batch) => {
    expect(batch.read).toBeLessThanOrEqual(batch.count);
    expect(batch.measured).toBeLessThanOrEqual(batch.read);
    expect(batch.discharged).toBeLessThanOrEqual(batch.measured);
    expect(2 * batch.bondedPairs).toBeLessThanOrEqual(batch.count);
    expect(weighClaim(batch.ratedAh, chemistries[batch.chemistry].nominalV, exact(batch.massG / 1000), 280).claim).toBe(
      'possible',
    );
  });

  test('every peculiar cell exists', () => {
    const codes = batches.flatMap((batch) => cellsOf(batch, seededChance(1)).map((cell) => cell.code));
    Object.keys(peculiar).forEach((code) => expect(codes).toContain(code));
  });

  test.each(packs)('$code: every round has a charge for every group', ({ series, ageing, rounds }) => {
    if (ageing) expect(ageing.firstOhm).toHaveLength(series);
    for (const { soc, channelOffsetsV } of rounds) {
      if (Array.isArray(soc)) expect(soc).toHaveLength(series);
      if (channelOffsetsV) expect(channelOffsetsV).toHaveLength(series);
    }
  });
});

describe('the simulation', () => {
  const cells = cellsOf(first, seededChance(9));

  test('the same seed makes the same cells, logs and readings', () => {
    const again = cellsOf(first, seededChance(9));
    expect(again.map((cell) => cell.model.capacityAh)).toEqual(cells.map((cell) => cell.model.capacityAh));
    const [a, b] = [cells[3], again[3]];
    if (!a || !b) throw new Error('no cells');
    expect(dischargeLog(a, first, seededChance(2)).slice(0, 50)).toEqual(
      dischargeLog(b, first, seededChance(2)).slice(0, 50),
    );
    expect(restReading(a, seededChance(4))).toBe(restReading(b, seededChance(4)));
  });

  test('a logged discharge measures nearly the true capacity, as the load leaves a little unseen', () => {
    const cell = cells[10];
    if (!cell) throw new Error('no cell');
    const meter = createDischargeMeter({
      load: { kind: 'current', currentA: first.rate * first.ratedAh },
      cutoffV: lowestVoltageV('li-ion', rules),
    });
    dischargeLog(cell, first, seededChance(7)).forEach((sample) => meter.push(sample));
    const result = meter.finish(0.001);
    expect(result.reachedCutoff).toBe(true);
    expect(result.capacityAh.value / cell.model.capacityAh).toBeGreaterThan(0.96);
    expect(result.capacityAh.value / cell.model.capacityAh).toBeLessThanOrEqual(1);
  });

  test.each(batches)('$code: a ten-second step shows about the resistance of its model', (batch) => {
    const chance = seededChance(5);
    const figures = cellsOf(batch, chance).map((cell) => {
      const { openV, loadedV, afterV, currentA } = loadStepReading(cell, batch.load, chance);
      const amps = currentA ?? loadedV / (batch.load.method === 'resistor' ? batch.load.ohm : NaN);
      return (openV - loadedV - (afterV === null ? 0 : openV - afterV)) / amps;
    });
    const sorted = [...figures].sort((a, b) => a - b);
    const mid = sorted[sorted.length >> 1] ?? NaN;
    expect(mid / batch.resistanceOhm).toBeGreaterThan(0.8);
    expect(mid / batch.resistanceOhm).toBeLessThan(1.35);
  });

  test('a log with a gap has one, one with wild samples has three, one that stops early stays above the floor', () => {
    const h1 = batches[1] as (typeof batches)[number];
    const byCode = new Map([...cells, ...cellsOf(h1, seededChance(9))].map((cell) => [cell.code, cell]));
    const measure = (code: string, batch: typeof first) => {
      const cell = byCode.get(code);
      if (!cell) throw new Error(code);
      const meter = createDischargeMeter({
        load: { kind: 'current', currentA: batch.rate * batch.ratedAh },
        cutoffV: 2.8,
      });
      dischargeLog(cell, batch, seededChance(3)).forEach((sample) => meter.push(sample));
      return meter.finish(0.001);
    };
    expect(measure('S1-044', first).gaps).toHaveLength(1);
    expect(measure('H1-037', h1).warnings.map(warningText)[0]).toContain('3 wild samples');
    expect(measure('H1-030', h1).reachedCutoff).toBe(false);
  });

  test('a channel that reads low moves its group alone, not the terminals', () => {
    const curve = openCircuitOf('lfp');
    const { groups, terminalV } = groupReadings(curve, [0.9, 0.9, 0.9], [0, -0.05, 0], seededChance(1));
    expect((groups[0] ?? 0) - (groups[1] ?? 0)).toBeCloseTo(0.05, 2);
    expect(terminalV).toBeCloseTo(3 * curve.voltageAt(0.9), 1);
  });
});
