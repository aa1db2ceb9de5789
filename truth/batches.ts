import { partialCapacity } from '@/core/capacity/partial';
import { curveOfMake, openCircuitOf } from '@/core/chemistry/openCircuit';
import { agreementOf } from '@/core/resistance/agreement';
import { populationOf, isOutlier } from '@/core/statistics/population';
import type { Chance } from '@/core/statistics/random';
import { predictionOf } from '@/core/judging/predict';
import { interval, type Population, type TrueCase } from './coverage';
import { between } from './trueCell';

/** A batch without an odd cell: any that is called odd is one too many. Held when none is. */
function batchCase(chance: Chance, count: number): TrueCase {
  const values = Array.from({ length: count }, () => chance.normal(0.03, 0.002));
  const population = populationOf(values, 3.5, 0.00003);
  return { told: { value: values.filter((value) => isOutlier(value, population)).length, u: 0.25 }, truth: 0 };
}

/** Two methods on some cells, and one cell more. */
function agreementCase(chance: Chance, count: number, grows: boolean): TrueCase {
  const pair = () => {
    const size = between(chance, 0.01, 0.1);
    return grows
      ? { first: size, second: size * 1.6 * Math.exp(chance.normal(0, 0.06)) }
      : { first: size, second: size + 0.004 + chance.normal(0, 0.002) };
  };
  const found = agreementOf(Array.from({ length: count }, pair));
  const next = pair();
  if (!found) return { told: null, truth: NaN };
  return found.growing
    ? { told: interval(found.ratioLow, found.ratioHigh), truth: next.second / next.first }
    : { told: interval(found.low, found.high), truth: next.first - next.second };
}

/** Cells on a line with scatter, and this many that lie far off it. */
function predictionCase(chance: Chance, count: number, odd = 0): TrueCase {
  const cell = (code: string, ohm: number, off = 0) => ({
    code,
    ohm,
    value: 9 - 30 * ohm + off + chance.normal(0, 0.15),
  });
  const found = predictionOf(
    Array.from({ length: count }, (_, i) => cell(String(i), between(chance, 0.02, 0.08), i < odd ? -4 : 0)),
  );
  const place = found?.band[Math.floor(chance.uniform() * found.band.length)];
  return place
    ? { told: interval(place.low, place.high), truth: cell('next', place.ohm).value }
    : { told: null, truth: NaN };
}

/**
 * A cell whose make rests off the table by up to 30 mV, here more and there less, charged from part of its charge to
 * full.
 */
function partialCase(chance: Chance, chemistry: 'lipo' | 'li-ion', startSoc: [number, number]): TrueCase {
  const table = chemistry === 'li-ion' ? curveOfMake('mixed-oxide') : openCircuitOf(chemistry);
  const off = between(chance, -0.03, 0.03);
  const soc = between(chance, ...startSoc);
  const truth = between(chance, 1, 4);
  const startV = Math.round((table.voltageAt(soc) + off + chance.normal(0, 0.002)) * 1000) / 1000;
  const chargeAh = truth * (1 - soc) * (1 + between(chance, -0.02, 0.02));
  return {
    told: partialCapacity({
      curve: table,
      startVoltagesV: [startV],
      chargeAh,
      chargeAccuracyShare: 0.02,
      voltageUncertaintyV: 0.002,
    }).capacityAh,
    truth,
  };
}

/** A cell that rests higher after a charge than after a discharge, and differs from the table by its make. */
function rememberingCase(chance: Chance, chemistry: 'lfp' | 'nimh'): TrueCase {
  const curve = openCircuitOf(chemistry);
  const [soc, bend] = [between(chance, 0.2, 0.95), between(chance, 1, 3)];
  const limitV = chemistry === 'lfp' ? 0.02 : 0.035;
  const offV = between(chance, -limitV, limitV) * Math.cos(bend * soc);
  const cameV = (chance.uniform() < 0.5 ? 1 : -1) * between(chance, 0.0025, 0.01);
  const volts = curve.voltageAt(soc) + offV + cameV + chance.normal(0, 0.001);
  return { told: curve.socAt({ value: Math.round(volts * 1000) / 1000, u: 0.001 }), truth: soc };
}

/**
 * Four groups of one make in series, of which one was left behind or has faded; charged until the lot is full by a
 * charger that balances, or until the first group is.
 *
 * @param isTold the charger's kind is known
 */
function packPartialCase(
  chance: Chance,
  what: 'left-behind' | 'faded',
  balances: boolean,
  isEstimated: boolean,
): TrueCase {
  const table = openCircuitOf('lipo');
  const off = between(chance, -0.03, 0.03);
  const capacityAh = between(chance, 1, 6);
  const used = between(chance, 0.4, 0.75);
  const by = between(chance, 0.05, 0.2);
  const groups = Array.from({ length: 4 }, (_, i) => {
    const ownAh = capacityAh * (1 + chance.normal(0, 0.01)) * (what === 'faded' && i === 0 ? 1 - by : 1);
    const shift = what === 'left-behind' && i === 0 ? by : 0;
    return { ownAh, soc: 1 - (used * capacityAh) / ownAh - shift };
  });
  const missing = groups.map(({ ownAh, soc }) => ownAh * (1 - soc));
  const putAh = (balances ? Math.max(...missing) : Math.min(...missing)) * (1 + between(chance, -0.02, 0.02));
  const { capacityAh: estimates } = partialCapacity({
    curve: table,
    startVoltagesV: groups.map(({ soc }) => table.voltageAt(soc) + off + chance.normal(0, 0.002)),
    chargeAh: putAh,
    chargeAccuracyShare: 0.02,
    voltageUncertaintyV: 0.002,
    ...(isEstimated && { balanced: balances }),
  });
  return { told: estimates, truth: Math.min(...groups.map(({ ownAh }) => ownAh)) };
}

export const batchPopulations: Population[] = [
  ...[5, 8, 12, 20, 40, 120].map((count): Population => ({
    figures: ['no odd one'],
    made: `a batch of ${count} without an odd cell`,
    draw: (chance) => [batchCase(chance, count)],
  })),
  ...[8, 12, 30].map((count): Population => ({
    figures: ['limits of agreement'],
    made: `one cell more than ${count}, differences of one size`,
    draw: (chance) => [agreementCase(chance, count, false)],
  })),
  ...[8, 30].map((count): Population => ({
    figures: ['limits of agreement'],
    made: `one cell more than ${count}, differences that grow`,
    draw: (chance) => [agreementCase(chance, count, true)],
  })),
  ...[6, 12, 40].map((count): Population => ({
    figures: ['predicted energy'],
    made: `one cell more than ${count}`,
    draw: (chance) => [predictionCase(chance, count)],
  })),
  {
    figures: ['predicted energy'],
    made: 'one cell more than 12, of which one lies far off the line',
    draw: (chance) => [predictionCase(chance, 12, 1)],
  },
  ...(['lfp', 'nimh'] as const).map((chemistry): Population => ({
    figures: ['state of charge of a rested cell'],
    made: `${chemistry}, 20 to 95 %, after a charge or a discharge that leaves it 5 to 20 mV apart`,
    draw: (chance) => [rememberingCase(chance, chemistry)],
  })),
  {
    figures: ['partial capacity'],
    made: 'pouch cell from 20 to 35 %, makes ± 30 mV, charge ± 2 %',
    draw: (chance) => [partialCase(chance, 'lipo', [0.2, 0.35])],
  },
  {
    figures: ['partial capacity'],
    made: 'pouch cell from 50 to 75 %, makes ± 30 mV, charge ± 2 %',
    draw: (chance) => [partialCase(chance, 'lipo', [0.5, 0.75])],
  },
  {
    figures: ['partial capacity'],
    made: 'cylindrical cell from 20 to 60 %, makes ± 30 mV, charge ± 2 %',
    draw: (chance) => [partialCase(chance, 'li-ion', [0.2, 0.6])],
  },
  ...(['left-behind', 'faded'] as const).flatMap((what) =>
    [
      { balances: true, isTold: true, charger: 'a charger that balances' },
      { balances: false, isTold: true, charger: 'a charger that does not balance' },
      { balances: false, isTold: false, charger: 'nobody knows that the charger does not balance' },
    ].map(({ balances, isTold: isEstimated, charger }): Population => ({
      figures: ['partial capacity of a pack'],
      made: `four groups of which one is ${what} by 5 to 20 %, ${charger}`,
      draw: (chance) => [packPartialCase(chance, what, balances, isEstimated)],
    })),
  ),
];
