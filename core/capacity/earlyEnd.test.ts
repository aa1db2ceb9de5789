import { openCircuitOf } from '../chemistry/openCircuit';
import { createDischargeMeter } from './discharge';
import { estimateEarlyEnd } from './earlyEnd';

const curve = openCircuitOf('li-ion');
const capacityAh = 2.4;

/** A discharge at 1 A from full, through 50 mΩ, stopped at that charge, and the rest after it. */
function stopped(atSoc: number, afterS: number, beforeS = 300) {
  const meter = createDischargeMeter({ load: { kind: 'column' }, cutoffV: 2.8, voltageDigitV: 0.001 });
  let soc = 1;
  let timeS = 0;
  const log = (currentA: number) => {
    const voltageV = curve.voltageAt(soc) - 0.05 * currentA;
    meter.push({ timeS, voltageV: Number(voltageV.toFixed(3)), currentA, temperatureC: null });
    soc -= (currentA * 5) / 3600 / capacityAh;
    timeS += 5;
  };
  while (timeS < beforeS) log(0);
  while (soc > atSoc) log(1);
  for (const endS = timeS + afterS; timeS < endS;) log(0);
  return meter.finish(0.001);
}
const estimate = (discharge: ReturnType<typeof stopped>, resistanceOhm = 0.05) =>
  estimateEarlyEnd({ discharge, curve, series: 1, voltmeterU: 0.001, resistanceOhm });

test('a discharge that stopped at a third tells the rest by its voltage, more surely with a rest after it', () => {
  const [resting, loaded] = [stopped(0.33, 900), stopped(0.33, 0)].map((one) => estimate(one));
  for (const found of [resting, loaded]) {
    expect(found && Math.abs(found.capacityAh.value - capacityAh) < 2 * found.capacityAh.u).toBe(true);
    expect(found?.startSoc.value).toBeCloseTo(1, 2);
  }
  expect(resting?.capacityAh.value).toBeCloseTo(capacityAh, 1);
});

test('a log that begins under load tells it by the resistance', () => {
  const found = estimate(stopped(0.33, 900, 0));
  expect(found && Math.abs(found.capacityAh.value - capacityAh) < 2 * found.capacityAh.u).toBe(true);
});

test('without a resistance, or after little charge, there is no estimate', () => {
  expect(estimate(stopped(0.85, 900))).toBeNull();
  const noStep = { ...stopped(0.33, 0), edges: [] };
  expect(estimateEarlyEnd({ discharge: noStep, curve, series: 1, voltmeterU: 0.001, resistanceOhm: null })).toBeNull();
});
