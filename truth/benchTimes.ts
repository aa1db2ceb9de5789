import { lowestVoltageV, presetRules } from '@/core/chemistry/houseRules';
import { benchMeterU } from '@/core/instruments/instrument';
import { curveOfMake, openCircuitOf } from '@/core/chemistry/openCircuit';
import { type JobKind, planJobs } from '@/core/planning/benchPlan';
import { lampFor } from '@/core/planning/runDown';
import { bareFacts } from '@/core/state/facts';
import { known } from '@/core/state/known';
import { stateOf } from '@/core/state/subjectState';
import { alarmOf, serviceTime } from '@/core/planning/serviceTime';
import type { Chance } from '@/core/statistics/random';
import { interval, type Population, type TrueCase } from './coverage';
import { answerOhm, between, drawCell, drawTool, moveOn, rested, shown, type TrueCell, voltageOf } from './trueCell';

const rules = presetRules('workshop');
const at = new Date(0);
const charger = { maxA: 10, maxW: 200, dischargeMaxW: 200, stepA: 0.1, bleedA: 0 };
const cylindrical = curveOfMake('mixed-oxide');
/** Makes differ from a table by this much at half charge, V. Common practice. */
const makeV = 0.03;
/** It is looked at, measured and connected first, min. */
const handsMin = 5;
const [stepS, endFraction, fullV] = [2, 0.05, 4.2];

/** A cell of some make, three branches, its curve off the table at half charge. */
export function drawMake(chance: Chance, table = cylindrical, runsOffV = 20): TrueCell {
  const [broad, narrow] = [between(chance, -makeV, makeV), between(chance, -makeV / 2, makeV / 2)];
  return {
    ...drawCell(chance),
    curve: (soc) =>
      table.voltageAt(Math.min(1, Math.max(0, soc))) +
      broad * Math.sin(Math.PI * soc) +
      narrow * Math.sin(2 * Math.PI * soc) +
      // Beyond its ends it runs off.
      0.9 * Math.max(0, soc - 1) +
      runsOffV * Math.min(0, soc),
  };
}

/** Minutes until a charger has it full: at one current, then at one voltage until the current has fallen. */
function chargeMin(cell: TrueCell, from: number, currentA: number, endA: number): number {
  const state = rested(cell, from);
  let seconds = 0;
  for (let nowA = currentA; nowA > endA && seconds < 1e6; seconds += stepS) {
    moveOn(cell, state, -nowA, stepS);
    const openV = voltageOf(cell, state, 0);
    const ohm = openV - voltageOf(cell, state, 1);
    nowA = Math.min(currentA, Math.max(0, (fullV - openV) / ohm));
  }
  return seconds / 60;
}

export function dischargeMin(cell: TrueCell, from: number, currentA: number, endV: number): number {
  const state = rested(cell, from);
  let seconds = 0;
  while (voltageOf(cell, state, currentA) > endV && seconds < 1e6) {
    moveOn(cell, state, currentA, stepS);
    seconds += stepS;
  }
  return seconds / 60;
}

function timeCase(chance: Chance, kind: JobKind, from: number, capacityU: number): TrueCase[] {
  const cell = drawMake(chance);
  const meter = drawTool(chance, { share: 0.0005, fixed: 0.004 }, 0.001, 0.001);
  const capacityAh = cell.capacityAh * (1 + chance.normal(0, capacityU));
  const subject = {
    code: 'A1',
    state: stateOf(
      {
        ...bareFacts({ code: 'A1', chemistry: 'li-ion', series: 1, ratedCapacityAh: capacityAh }),
        curve: cylindrical.plain,
        capacities: [known({ value: capacityAh, u: capacityU * capacityAh }, 'measured')],
        rounds: [
          {
            state: 'rest',
            at,
            groupsV: [{ value: shown(cell.curve(from), meter, chance), u: benchMeterU }],
            terminalV: null,
          },
        ],
      },
      rules,
      at,
    ),
    lastDone: null,
  };
  const { placed } = planJobs({
    subjects: [subject],
    jobs: [{ id: 'it', of: 'A1', kind, after: null, dueMin: null }],
    bench: { chargers: [{ id: 'C', limits: charger }], loads: [] },
    attended: [{ from: 0, to: 6000 }],
    running: [],
    rules,
  });
  const [plan] = placed;
  const rate = kind === 'charge' ? rules.chargeCylindricalC : rules.testDischargeC;
  const currentA = Math.round((rate * capacityAh) / charger.stepA) * charger.stepA;
  const truth =
    kind === 'charge'
      ? chargeMin(cell, from, currentA, endFraction * capacityAh)
      : dischargeMin(cell, from, currentA, lowestVoltageV('li-ion', rules));
  return [{ told: plan ? { value: plan.expectedMin - handsMin, u: plan.doubtMin } : null, truth }];
}

/** A pouch pack that is used at a steady current: until a fifth is left, or its weakest group meets its alarm. */
function serviceCase(chance: Chance, rateC: number): TrueCase[] {
  const pouch = openCircuitOf('lipo');
  const cell = drawMake(chance, pouch);
  const tenSeconds = answerOhm(cell, 0.6, 10);
  const [capacityU, ohmU] = [0.02, 0.03];
  const currentA = rateC * cell.capacityAh;
  const capacityAh = cell.capacityAh * (1 + chance.normal(0, capacityU));
  const ohm = { value: tenSeconds * (1 + chance.normal(0, ohmU)), u: ohmU * tenSeconds };
  const used = stateOf(
    {
      ...bareFacts({ code: 'A1', chemistry: 'lipo', series: 1, ratedCapacityAh: capacityAh }),
      capacities: [known({ value: capacityAh, u: capacityU * cell.capacityAh }, 'measured')],
      resistances: [known(ohm, 'measured')],
      labelDischargeA: 1000,
    },
    rules,
    at,
  );
  const time = serviceTime({ state: used, from: 'full', currentA, rules });
  const alarmV = alarmOf('lipo', rules)?.alarmV ?? NaN;
  const state = rested(cell, 1);
  let seconds = 0;
  while (state.soc > rules.reserveShare && voltageOf(cell, state, currentA) > alarmV) {
    moveOn(cell, state, currentA, stepS);
    seconds += stepS;
  }
  return [{ told: time.code === 'serves' ? time.minutes : null, truth: seconds / 60 }];
}

/** Kelvin of the room and of a filament at its rated voltage. From memory. */
const [roomK, hotK] = [293, 2700];
/** A filament's resistance follows its temperature to this power. From memory. */
const warming = 1.2;

/** The current of a lamp: its filament is as hot as what it takes, radiates and conducts away makes it. */
function lampA(ratedV: number, ratedW: number, conductedFraction: number, v: number): number {
  const ohmAt = (kelvin: number): number => (ratedV ** 2 / ratedW) * (kelvin / hotK) ** warming;
  const lostW = (kelvin: number): number =>
    ratedW *
    ((1 - conductedFraction) * ((kelvin ** 4 - roomK ** 4) / (hotK ** 4 - roomK ** 4)) +
      conductedFraction * ((kelvin - roomK) / (hotK - roomK)));
  let [cold, hot] = [roomK, 2 * hotK];
  for (let i = 0; i < 40; i += 1) {
    const kelvin = (cold + hot) / 2;
    if (v ** 2 / ohmAt(kelvin) > lostW(kelvin)) cold = kelvin;
    else hot = kelvin;
  }
  return v / ohmAt((cold + hot) / 2);
}

/** A pouch pack that a lamp runs flat, estimated from its label and its rested voltage. */
function lampCase(chance: Chance): TrueCase[] {
  const pouch = openCircuitOf('lipo');
  // Three to eight per cent are left below empty. From memory.
  const cell = drawMake(chance, pouch, between(chance, 35, 90));
  const series = 2 + Math.floor(between(chance, 0, 3));
  const from = between(chance, 0.15, 1);
  const meter = drawTool(chance, { share: 0.0005, fixed: 0.004 }, 0.001, 0.001);
  const labelAh = cell.capacityAh * (1 + chance.normal(0, 0.1));
  const lamp = lampFor('lipo', series, labelAh, [shown(cell.curve(from), meter, chance)]);
  const [watts, conducted] = [lamp.ratedW * between(chance, 0.92, 1.08), between(chance, 0.03, 0.12)];
  const state = rested(cell, from);
  let seconds = 0;
  for (let v = cell.curve(from); v > glowsNoMoreV && seconds < 1e6; seconds += 10 * stepS) {
    const currentA = lampA(lamp.ratedV, watts, conducted, series * v);
    moveOn(cell, state, currentA, 10 * stepS);
    v = voltageOf(cell, state, currentA);
  }
  return [{ told: interval(lamp.hours / (lamp.mostHours / lamp.hours), lamp.mostHours), truth: seconds / 3600 }];
}
/** A group below this lights nothing, V. */
const glowsNoMoreV = 0.5;

const service = (made: string, rateC: (chance: Chance) => number): Population => ({
  made,
  figures: ['time of a use'],
  draw: (chance) => serviceCase(chance, rateC(chance)),
});

const population = (made: string, kind: JobKind, from: (chance: Chance) => number, u: number): Population => ({
  made,
  figures: [`time of a ${kind}`],
  draw: (chance) => timeCase(chance, kind, from(chance), u),
});

export const benchTimePopulations: Population[] = [
  { made: 'pouch, two to four in series, by its label', figures: ['time under a lamp'], draw: lampCase },
  service('a full pouch pack at 0.3 to 1C', (chance) => between(chance, 0.3, 1)),
  service('a full pouch pack at 1 to 3C', (chance) => between(chance, 1, 3)),
  population('from 10 to 60 %, capacity known to 2 %', 'charge', (chance) => between(chance, 0.1, 0.6), 0.02),
  population('from 10 to 60 %, capacity by its label (10 %)', 'charge', (chance) => between(chance, 0.1, 0.6), 0.1),
  population('from full, capacity known to 2 %', 'discharge', () => 1, 0.02),
  population('from 60 to 95 %, capacity known to 2 %', 'discharge', (chance) => between(chance, 0.6, 0.95), 0.02),
];
