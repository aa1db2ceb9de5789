import { createDischargeMeter } from './discharge';

/** A cell that falls evenly from 4.1 V to the cut-off of 3 V, with a pause after every so many seconds. */
function discharged(currentA: number, capacityAh: number, { everyS = Infinity, pauseS = 0, stepS = 30 } = {}) {
  const meter = createDischargeMeter({ load: { kind: 'column' }, cutoffV: 3, voltageDigitV: 0.001 });
  let [timeS, given, loadedS, restS] = [0, 0, 0, 1500];
  while (given < capacityAh + 0.02) {
    const isResting = restS > 0;
    const v = 4.1 - (1.1 * given) / capacityAh - (isResting ? 0 : 0.02);
    meter.push({ timeS, voltageV: v, currentA: isResting ? 0 : currentA, temperatureC: null });
    if (isResting) restS -= stepS;
    else {
      given += (currentA * stepS) / 3600;
      loadedS += stepS;
      if (loadedS % everyS < stepS) restS = pauseS;
    }
    timeS += stepS;
  }
  return meter.finish(0.001);
}

test('a discharge over twenty hours shows its voltage by charge, thinned', () => {
  const { course } = discharged(0.1, 2);
  expect(course).toMatchObject({ by: 'slow', currentA: expect.closeTo(0.1, 3) });
  expect(course?.points.length).toBeLessThanOrEqual(62);
  const [first, last] = [course?.points[0], course?.points.at(-1)];
  expect(first?.[1]).toBeCloseTo(4.08, 2);
  expect(last?.[0]).toBeGreaterThan(1.9);
});

test('one with rests shows where it rested; one that is quick shows nothing', () => {
  const { course } = discharged(1, 2, { everyS: 720, pauseS: 1800 });
  expect(course).toMatchObject({ by: 'rests', currentA: 0 });
  // At rest without the 20 mV of the load.
  for (const [ah, v] of course?.points ?? []) expect(v).toBeCloseTo(4.1 - (1.1 * ah) / 2, 2);
  expect(discharged(1, 2).course).toBeNull();
  expect(discharged(1, 2, { everyS: 720, pauseS: 300 }).course).toBeNull();
});
