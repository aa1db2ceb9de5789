import { createDischargeMeter, dischargeArithmetic, type DischargeLoad } from '@/core/capacity/discharge';
import type { LogColumn, LogField } from '@/core/capacity/logColumns';
import type { Sample } from '@/core/capacity/logReader';
import { chemistries } from '@/core/chemistry/chemistries';
import { lowestVoltageV, presetRules } from '@/core/chemistry/houseRules';
import { openCircuitOf, type Rechargeable } from '@/core/chemistry/openCircuit';
import { matchCells } from '@/core/matching/match';
import { type Chance, seededChance } from '@/core/statistics/random';
import { courses } from '@/core/planning/benchPlan';
import { addBatch, modelNamed } from '@/records/batches';
import { addAttended } from '@/records/benchPlans';
import { addBuild } from '@/records/builds';
import { cellFacts } from '@/records/cells';
import { database, inTransaction } from '@/records/database';
import { migrate } from '@/records/migrate';
import { beginSelfDischarge } from '@/records/selfDischarges';
import { addPack, packRoundEntry } from '@/records/packs';
import { crossCheckEntry, openCrossCheck } from '@/records/crossChecks';
import { addInstrument } from '@/records/instruments';
import { listProtocols } from '@/records/protocols';
import type { Body } from '@/core/judging/bodies';
import { type Act, type Entry, fileEntry } from '@/records/ledger';
import { beginRest } from '@/records/periods';
import { openRound } from '@/records/rounds';
import { addRunOf, keepResult } from '@/records/runs';
import { createHash, randomUUID } from 'node:crypto';
import type { PoolClient } from 'pg';
import { crossCheck, instrumentOf, instruments, shownVolts } from './instruments';
import {
  batches,
  chargeDays,
  type DemoBatch,
  type DemoSelfDischarge,
  type DemoPack,
  type DemoPackDischarge,
  evenings,
  selfDischarges,
  packs,
  partial,
  twins,
  wantedNext,
} from './scenario';
import {
  acReading,
  asPair,
  type DemoCell,
  dischargeLog,
  groupReadings,
  recoveryS,
  loadStepReading,
  packLog,
  slowLog,
  packStepReading,
  pulseLog,
  restReading,
  readOhms,
  trueCellsOf,
  withDirtyPole,
} from './simulate';

const seed = 20_261_101;
const rules = presetRules('workshop');
const dayMs = 86_400_000;
const minuteMs = 60_000;
const now = Date.now();
const ago = (days: number, minutes = 0): Date => new Date(now - days * dayMs + minutes * minuteMs);

/** What was noted of a pack when it was taken in. */
async function fillPast(connection: PoolClient, packId: number, pack: DemoPack): Promise<void> {
  const file = (bodies: Entry['bodies'], takenAt: Date) =>
    fileEntry(connection, { entry: randomUUID(), subjectIds: [packId], takenAt, bodies });
  const takenIn = ago(14);
  await file([{ kind: 'inspection', findings: pack.findings }], takenIn);
  await file([{ kind: 'cycles', count: pack.cycles }], takenIn);
  for (const { daysAgo, minutes } of pack.served ?? [])
    await file([{ kind: 'run-time', durationS: 60 * minutes }], ago(daysAgo));
  if (!pack.asNew) return;
  const { daysAgo, ...asNew } = pack.asNew;
  await file([{ kind: 'as-new', ...asNew }], ago(daysAgo));
}

/** Volts of a group at the end of a charge. */
const chargeEndV = (pack: DemoPack, chance: Chance): number =>
  Number((chemistries[pack.chemistry].fullV - 0.008 + chance.normal(0, 0.003)).toFixed(3));

/** Three winters of charges: what the charger reported of every group at its minute one, and the volts at its end. */
async function fillCharges(connection: PoolClient, packIds: Map<string, number>, chance: Chance): Promise<void> {
  const { occasionId } = await openRound(connection, {
    batchId: null,
    protocolId: await protocolNamed(connection, 'Minute one of a brisk charge'),
    method: 'told',
    instrumentId: null,
    ammeterId: null,
    loadResistanceOhm: null,
    loadTolerance: null,
    loadRatingW: null,
    temperatureC: 22.2,
  });
  for (const [i, daysAgo] of chargeDays.entries())
    for (const [j, pack] of packs.entries()) {
      const packId = packIds.get(pack.code);
      if (!pack.ageing || packId === undefined) continue;
      const ohms = readOhms(pack.ageing, daysAgo, chance);
      await fileEntry(connection, {
        entry: randomUUID(),
        subjectIds: [packId],
        occasionId,
        takenAt: ago(daysAgo, 4 * j),
        // One evening the hall was cold.
        temperatureC: i === 8 ? 18.5 : null,
        bodies: (pack.ageing.whole ? [ohms.reduce((a, b) => a + b, 0)] : ohms).map((ohm, k) => ({
          kind: 'resistance',
          position: pack.ageing?.whole ? 0 : k + 1,
          resistanceOhm: Number(ohm.toFixed(4)),
          step: 0.0001,
          openV: null,
        })),
      });
      const round = packRoundEntry({
        entry: randomUUID(),
        packId,
        series: pack.series,
        state: 'charge-end',
        groupVoltagesV: ohms.map(() => chargeEndV(pack, chance)),
        groupStepsV: ohms.map(() => 0.001),
        terminalV: null,
        terminalStepV: null,
        instrumentId: null,
        terminalInstrumentId: null,
        confirmed: false,
        takenAt: ago(daysAgo, 70 + 4 * j),
      });
      await fileEntry(connection, round);
    }
}

async function fill(connection: PoolClient): Promise<void> {
  const chance = seededChance(seed);
  const bench = await fillInstruments(connection, chance);
  const cellsOf = new Map<string, BenchCell[]>();
  for (const batch of batches) cellsOf.set(batch.code, await fillBatch(connection, batch, bench, chance));
  const pulsed = batches[0];
  const slow = batches.find(({ code }) => code === 'H1');
  if (slow) await fillSlow(connection, slow, cellsOf.get(slow.code) ?? [], bench, chance);
  if (pulsed) await fillPulses(connection, pulsed, cellsOf.get(pulsed.code) ?? [], chance);
  const packIds = new Map<string, number>();
  for (const pack of packs) {
    const packId = await addPack(connection, { ...pack, ratedCapacityAh: pack.ratedAh });
    packIds.set(pack.code, packId);
    await fillPast(connection, packId, pack);
    for (const { daysAgo, soc, channelOffsetsV, terminals, instrument } of pack.rounds) {
      const socs = Array.isArray(soc) ? soc : Array.from({ length: pack.series }, () => soc);
      const { groups, terminalV } = groupReadings(openCircuitOf(pack.chemistry), socs, channelOffsetsV, chance);
      const round = packRoundEntry({
        entry: randomUUID(),
        packId,
        series: pack.series,
        state: 'rest',
        groupVoltagesV: groups,
        groupStepsV: groups.map(() => 0.001),
        terminalV: terminals ? terminalV : null,
        terminalStepV: terminals ? 0.001 : null,
        instrumentId: bench.get(instrument) ?? null,
        terminalInstrumentId: terminals ? (bench.get('DM1') ?? null) : null,
        confirmed: false,
        takenAt: ago(daysAgo),
      });
      await fileEntry(connection, round);
    }
  }
  await fillCharges(connection, packIds, chance);
  await fillPackRuns(connection, packIds, bench, chance);
  await fillPartial(connection, packIds, chance);
  for (const selfDischarge of selfDischarges) await fillSelfDischarge(connection, selfDischarge, chance);
  for (const codes of twins)
    await fileEntry(connection, {
      entry: randomUUID(),
      subjectIds: codes.flatMap((code) => packIds.get(code) ?? []),
      bodies: [{ kind: 'twins' }],
    });
  await saveLantern(connection);
  await fillWanted(connection);
}

/** Instruments by code, and one sheet of them against each other; its finding is left to the person who looks. */
async function fillInstruments(connection: PoolClient, chance: Chance): Promise<Map<string, number>> {
  const bench = new Map<string, number>();
  for (const instrument of instruments) bench.set(instrument.code, await addInstrument(connection, instrument));
  const { id: crossCheckId, occasionId } = await openCrossCheck(
    connection,
    crossCheck.name,
    crossCheck.batteries.map(([label]) => label),
  );
  for (const [i, [, trueV]] of crossCheck.batteries.entries()) {
    for (const instrument of instruments.filter((one) => one.ranges.voltage)) {
      const readings = shownVolts(instrument, trueV, chance).map((voltageV, channel) => ({
        channel: channel + 1,
        voltageV,
        step: 0.001,
      }));
      const line = crossCheckEntry({
        occasionId,
        entry: randomUUID(),
        crossCheckId,
        position: i + 1,
        instrumentId: bench.get(instrument.code) as number,
        confirmed: false,
        readings,
      });
      await fileEntry(connection, line);
    }
  }
  return bench;
}

/** New cells of these makes have about two thirds of what the society's worn ones have. */
const asNewFraction = 0.68;

async function fillBatch(
  connection: PoolClient,
  batch: DemoBatch,
  bench: Map<string, number>,
  chance: Chance,
): Promise<BenchCell[]> {
  const model = await modelNamed(connection, {
    maker: batch.maker,
    name: batch.model,
    chemistry: batch.chemistry,
    ratedCapacityAh: batch.ratedAh,
    massKg: batch.massG / 1000,
    board: false,
    asNewOhm: Number((asNewFraction * batch.resistanceOhm).toPrecision(2)),
  });
  const bondedPlaces = Array.from({ length: batch.bondedPairs }, (_, i) => [2 * i + 1, 2 * i + 2]);
  const batchId = await addBatch(connection, {
    code: batch.code,
    origin: batch.origin,
    modelId: model.id,
    count: batch.count,
    bondedPlaces,
    receivedAt: ago(batch.daysAgo),
  });
  const { rows } = await connection.query<{ id: number }>('select id from subject where batch_id = $1 order by place', [
    batchId,
  ]);
  const isUsable = ({ quirk }: DemoCell) =>
    quirk.restV === undefined &&
    quirk.massG === undefined &&
    !quirk.findings?.some((finding) => finding === 'dented' || finding === 'leaking');
  const cells = trueCellsOf(batch).flatMap((cell, i, all): BenchCell[] => {
    const [id, other] = [rows[i]?.id as number, all[i + 1]];
    if (i >= 2 * batch.bondedPairs || !other)
      return [{ ...cell, id, withCellIds: [], place: i + 1, usable: isUsable(cell) }];
    // Of a welded pair the first is listed for both.
    return i % 2 === 1
      ? []
      : [
          {
            ...asPair(cell, other),
            id,
            withCellIds: [rows[i + 1]?.id as number],
            place: i + 1,
            usable: isUsable(cell) && isUsable(other),
          },
        ];
  });
  const upTo = (place: number) => cells.filter((cell) => cell.place <= place);

  for (const [i, cell] of upTo(batch.read).entries()) {
    await file(connection, cell, ago(batch.daysAgo, 60 + i), [
      { kind: 'voltage', voltageV: restReading(cell, chance), step: 0.001 },
      { kind: 'mass', massKg: Math.round(cell.massG * 10) / 1e4, step: 0.0001 },
      { kind: 'inspection', findings: cell.quirk.findings ?? [] },
    ]);
  }
  if (batch.measured > 0) await fillRound(connection, batch, batchId, upTo(batch.measured), bench, chance);
  if (batch.code === 'H1') await fillAcRound(connection, batch, batchId, upTo(batch.measured), bench, chance);
  await fillRuns(connection, batch, cells, chance);
  if (batch.code === 'N1')
    await beginRest(connection, batchId, 'charge', rules.restAfterChargeH * 3600, new Date(now - 13 * minuteMs));
  return cells;
}

type BenchCell = DemoCell & { id: number; withCellIds: number[]; place: number; usable: boolean };

const protocolNamed = async (connection: PoolClient, name: string): Promise<number> =>
  (await listProtocols(connection)).find((one) => one.name === name)?.id as number;

async function fillRound(
  connection: PoolClient,
  batch: DemoBatch,
  batchId: number,
  cells: BenchCell[],
  bench: Map<string, number>,
  chance: Chance,
): Promise<void> {
  const { load } = batch;
  const byResistor = load.method === 'resistor';
  const { occasionId } = await openRound(connection, {
    batchId,
    protocolId: await protocolNamed(connection, byResistor ? 'Resistor at hand' : 'At storage charge'),
    method: load.method,
    instrumentId: bench.get('DM1') ?? null,
    ammeterId: byResistor ? null : (bench.get('DM1') ?? null),
    loadResistanceOhm: byResistor ? load.ohm : null,
    loadTolerance: byResistor ? 0.01 : null,
    loadRatingW: byResistor ? load.ratingW : null,
    afterS: byResistor ? null : recoveryS,
    temperatureC: 21.5,
  });
  for (const [i, cell] of cells.entries()) {
    if (!cell.usable) continue;
    // A dirty pole is pressed once more, and then shows another figure.
    const presses = cell.quirk.contactOhm === undefined ? [cell] : [withDirtyPole(cell), cell];
    for (const pressed of presses) {
      const reading: Body = {
        kind: 'load-step',
        ...loadStepReading(pressed, load, chance),
        step: 0.001,
        currentStep: byResistor ? null : 0.01,
      };
      const takenWith = { instrumentId: bench.get('DM1') as number, channel: 1 };
      await file(connection, cell, ago(batch.daysAgo - 1, i), [reading], { takenWith, occasionId });
    }
  }
}

/** The same cells once more at 1 kHz, so that the two methods can be compared with each other. */
async function fillAcRound(
  connection: PoolClient,
  batch: DemoBatch,
  batchId: number,
  cells: BenchCell[],
  bench: Map<string, number>,
  chance: Chance,
): Promise<void> {
  const meter = instrumentOf('RM1');
  const { occasionId } = await openRound(connection, {
    batchId,
    protocolId: await protocolNamed(connection, 'Full and rested'),
    method: 'ac-meter',
    instrumentId: bench.get('RM1') ?? null,
    ammeterId: null,
    loadResistanceOhm: null,
    loadTolerance: null,
    loadRatingW: null,
    zeroTaken: true,
    temperatureC: 21,
  });
  const [truth] = meter.truth;
  for (const [i, cell] of cells.entries()) {
    if (!cell.usable || !truth) continue;
    await file(
      connection,
      cell,
      ago(batch.daysAgo - 1, 300 + i),
      [
        {
          kind: 'resistance',
          resistanceOhm: acReading(cell, { ...truth, step: 0.0001 }, chance),
          step: 0.0001,
          openV: null,
        },
      ],
      { takenWith: { instrumentId: bench.get('RM1') as number, channel: 1 }, occasionId },
    );
  }
}

/** What a logger wrote, with what came of it. */
interface DemoLog {
  of: string;
  fileName: string;
  subjectIds: number[];
  loggerId?: number | null;
  series?: number;
  load: DischargeLoad;
  /** Of a cell or group, V. */
  cutoffV: number;
  samples: Sample[];
  endedAt: Date;
}

const columnOf = (field: LogField, index: number, position?: number): LogColumn => ({
  field,
  index,
  heading: position === undefined ? field : `cell ${position}`,
  written: 'number',
  unit: { time: 's', voltage: 'v', group: 'v', current: 'a', temperature: 'c', cycle: '', step: '' }[field],
  factor: 1,
  assumed: false,
  ...(position === undefined ? {} : { position }),
});

async function keepLog(connection: PoolClient, log: DemoLog): Promise<void> {
  const { of, cutoffV, samples, series = 1, ...run } = log;
  const groups = samples[0]?.groupsV?.length ?? 0;
  const step = 0.001;
  const meter = createDischargeMeter({
    load: run.load,
    seriesCells: series,
    ...(groups > 0 ? { cutoffPerGroupV: cutoffV, groupDigitV: step } : { cutoffV: cutoffV * series }),
  });
  samples.forEach((sample) => meter.push(sample));
  const fields: LogField[] = ['time', 'voltage'];
  if (samples[0]?.currentA != null) fields.push('current');
  if (samples[0]?.temperatureC != null) fields.push('temperature');
  const contentSha256 = createHash('sha256').update(`${seed} ${of}`).digest();
  const layout = {
    load: run.load,
    voltageStepV: step,
    groupStepV: groups > 0 ? step : null,
    columns: [
      ...fields.map((field, index) => columnOf(field, index)),
      ...Array.from({ length: groups }, (_, i) => columnOf('group', fields.length + i, i + 1)),
    ],
  };
  const { layoutId } = await addRunOf(connection, { ...run, contentSha256 }, layout, samples);
  await keepResult(connection, layoutId, cutoffV, dischargeArithmetic, meter.finish(step));
}

/** Those that were put to rest together, and what they read since. */
async function fillSelfDischarge(
  connection: PoolClient,
  selfDischarge: DemoSelfDischarge,
  chance: Chance,
): Promise<void> {
  const { rows } = await connection.query<{ id: number; code: string; series: number; chemistry: Rechargeable }>(
    `select subject.id, subject.code, series, coalesce(subject.chemistry, cell_model.chemistry) as chemistry
     from subject left join cell_model on cell_model.id = model_id where code = any($1) order by code`,
    [selfDischarge.codes],
  );
  const subjectIds = rows.map(({ id }) => id);
  const beganAt = ago(selfDischarge.daysAgo);
  const begun = await beginSelfDischarge(connection, {
    entry: randomUUID(),
    subjectIds,
    plannedS: (7 * dayMs) / 1000,
    beganAt,
  });
  const began = rows.map(({ series, chemistry }) =>
    Array.from({ length: series }, () => openCircuitOf(chemistry).voltageAt(0.985) + chance.normal(0, 0.004)),
  );
  for (const days of selfDischarge.readAt)
    for (const [i, { id, code, series }] of rows.entries()) {
      const lostV = (position: number): number => {
        const own = selfDischarge.leaky[code];
        return (days / 7) * (own && (own.position ?? 1) === position ? own.perWeekV : selfDischarge.perWeekV);
      };
      await fileEntry(connection, {
        entry: randomUUID(),
        subjectIds: [id],
        occasionId: begun.occasionId,
        takenAt: ago(selfDischarge.daysAgo - days, i + 1),
        state: 'rest',
        bodies: Array.from({ length: series }, (_, k) => ({
          kind: 'voltage',
          position: k + 1,
          voltageV: Number(((began[i]?.[k] ?? NaN) - lostV(k + 1) + chance.normal(0, 0.0003)).toFixed(3)),
          step: 0.001,
        })),
      });
    }
}

/** A load over the terminals of every pack that was discharged, and its discharge. */
async function fillPackRuns(
  connection: PoolClient,
  packIds: Map<string, number>,
  bench: Map<string, number>,
  chance: Chance,
): Promise<void> {
  const tested = packs.filter(({ discharge }) => discharge);
  const { occasionId } = await openRound(connection, {
    batchId: null,
    protocolId: await protocolNamed(connection, 'At storage charge'),
    method: 'ammeter',
    instrumentId: bench.get('DM1') ?? null,
    ammeterId: bench.get('DM1') ?? null,
    loadResistanceOhm: null,
    loadTolerance: null,
    loadRatingW: null,
    afterS: recoveryS,
    temperatureC: 20.5,
  });
  for (const [i, pack] of tested.entries()) {
    const [packId, { discharge }] = [packIds.get(pack.code), pack];
    if (packId === undefined || !discharge) continue;
    const amps = Number((0.8 * pack.ratedAh).toFixed(1));
    await fileEntry(connection, {
      entry: randomUUID(),
      subjectIds: [packId],
      occasionId,
      takenAt: ago(14, 5 * i),
      takenWith: { instrumentId: bench.get('DM1') as number, channel: 1 },
      bodies: [
        {
          kind: 'load-step',
          position: 0,
          ...packStepReading(pack, amps, chance),
          step: 0.001,
          currentStep: 0.01,
        },
      ],
    });
    await keepPackLog(connection, packId, pack, discharge, chance);
    for (const { daysAgo, times } of discharge.earlier ?? [])
      await keepPackLog(
        connection,
        packId,
        pack,
        { ...discharge, daysAgo, health: discharge.health.map((fraction) => fraction * times) },
        chance,
      );
  }
}

const keepPackLog = (
  connection: PoolClient,
  packId: number,
  pack: DemoPack,
  discharge: DemoPackDischarge,
  chance: Chance,
): Promise<void> =>
  keepLog(connection, {
    of: `${pack.code} discharge ${discharge.daysAgo}`,
    fileName: `${pack.code.toLowerCase()}-discharge-${discharge.daysAgo}.csv`,
    subjectIds: [packId],
    series: pack.series,
    load: { kind: 'column' },
    cutoffV: lowestVoltageV(pack.chemistry, rules),
    samples: packLog({ ...pack, discharge }, chance),
    endedAt: ago(discharge.daysAgo, 30 * packs.indexOf(pack)),
  });

async function fillRuns(connection: PoolClient, batch: DemoBatch, cells: BenchCell[], chance: Chance): Promise<void> {
  const discharged = cells.filter((cell) => cell.usable).slice(0, batch.discharged);
  const load = { kind: 'current', currentA: batch.rate * batch.ratedAh } as const;
  const cutoffV = lowestVoltageV(batch.chemistry, rules);
  for (const [i, cell] of discharged.entries()) {
    const last = batch.code === 'S1' && i === discharged.length - 1;
    await keepLog(connection, {
      of: cell.code,
      fileName: `${cell.code.toLowerCase()}-discharge.csv`,
      subjectIds: [cell.id, ...cell.withCellIds],
      load,
      cutoffV,
      samples: dischargeLog(cell, batch, chance),
      endedAt: last ? new Date(now - 9 * minuteMs) : ago(Math.max(1, batch.daysAgo - 3), -i * 97),
    });
  }
}

/** One cell was discharged over twenty hours: it teaches the open-circuit curve of its model. */
async function fillSlow(
  connection: PoolClient,
  batch: DemoBatch,
  cells: BenchCell[],
  bench: Map<string, number>,
  chance: Chance,
): Promise<void> {
  const cell = cells.find((one) => one.usable && one.withCellIds.length === 0);
  if (!cell) return;
  await keepLog(connection, {
    of: `slow ${cell.code}`,
    fileName: `${cell.code.toLowerCase()}-twenty-hours.csv`,
    subjectIds: [cell.id],
    loggerId: bench.get('DM1') ?? null,
    load: { kind: 'column' },
    cutoffV: lowestVoltageV(batch.chemistry, rules),
    samples: slowLog(cell, batch, chance),
    endedAt: ago(batch.daysAgo - 5),
  });
}

/** A pouch pack was charged from a rested fifth up to full. */
async function fillPartial(connection: PoolClient, packIds: Map<string, number>, chance: Chance): Promise<void> {
  const pack = packs.find(({ code }) => code === partial.code);
  const packId = packIds.get(partial.code);
  if (!pack?.discharge || packId === undefined) return;
  const curve = openCircuitOf(pack.chemistry);
  const weakestAh = Math.min(...pack.discharge.health) * pack.ratedAh;
  const startVoltagesV = pack.discharge.health.map(() =>
    Number((curve.voltageAt(partial.startSoc) + chance.normal(0, 0.003)).toFixed(3)),
  );
  await fileEntry(connection, {
    entry: randomUUID(),
    subjectIds: [packId],
    takenAt: ago(partial.daysAgo),
    state: 'rest',
    bodies: [
      {
        kind: 'partial-charge',
        startVoltagesV,
        step: 0.001,
        chargeAh: Number((weakestAh * (1 - partial.startSoc)).toFixed(3)),
        chargeLimit: 0.01,
        endVoltageV: null,
      },
    ],
  });
}

/** Four cells were also tried with pulses: their logs hold the current, and steps to find. */
async function fillPulses(connection: PoolClient, batch: DemoBatch, cells: BenchCell[], chance: Chance): Promise<void> {
  const cutoffV = lowestVoltageV(batch.chemistry, rules);
  for (const [i, cell] of cells
    .filter((one) => one.withCellIds.length === 0)
    .slice(8, 12)
    .entries()) {
    await keepLog(connection, {
      of: `pulses ${cell.code}`,
      fileName: `${cell.code.toLowerCase()}-pulses.csv`,
      subjectIds: [cell.id],
      load: { kind: 'column' },
      cutoffV,
      samples: pulseLog(cell, batch.ratedAh, chance),
      endedAt: ago(batch.daysAgo - 2, 40 * i),
    });
  }
}

/** What is wanted next, and the attended hours; the plan itself is made when the page is first opened. */
async function fillWanted(connection: PoolClient): Promise<void> {
  const quarterMs = 15 * minuteMs;
  const begins = Math.floor(now / quarterMs) * quarterMs;
  const inHours = (hours: number): Date => new Date(begins + hours * 60 * minuteMs);
  for (const [fromH, toH] of evenings)
    await addAttended(connection, { id: randomUUID(), fromAt: inHours(fromH), toAt: inHours(toH) });
  for (const { codes, course, byH } of wantedNext) {
    const { rows } = await connection.query<{ id: number }>(
      'select id from subject where code = any($1) order by code',
      [codes],
    );
    for (const { id } of rows) {
      let after: string | null = null;
      for (const job of courses[course]) {
        const entry = randomUUID();
        const dueAt = byH === undefined ? null : inHours(byH).toISOString();
        await fileEntry(connection, {
          entry,
          subjectIds: [id],
          takenAt: new Date(now - minuteMs),
          bodies: [{ kind: 'job', job, after, dueAt }],
        });
        after = entry;
      }
    }
  }
}

/** One lantern is matched and saved already. */
async function saveLantern(connection: PoolClient): Promise<void> {
  const facts = (await cellFacts(connection, { 'li-ion': rules.lowestCylindricalV }, dischargeArithmetic)).filter(
    (cell) =>
      cell.batchCode === 'H1' &&
      cell.run?.reachedCutoff &&
      cell.resistances.some(({ facts }) => facts.kind === 'load-step'),
  );
  const cells = facts.slice(0, 14).map((cell) => ({
    id: String(cell.id),
    capacityAh: cell.run?.capacityAh ?? 0,
    resistanceOhm: 0.05,
    ...(cell.bond === null ? {} : { bond: cell.bond }),
  }));
  const match = matchCells({ series: 2, parallel: 2, cells });
  await addBuild(connection, {
    name: 'Path lantern, chapel bend',
    series: 2,
    parallel: 2,
    groups: match.groups.map((group) => group.cells.map((cell) => Number(cell.id))),
  });
}

const file = (
  connection: PoolClient,
  { id, withCellIds }: BenchCell,
  takenAt: Date,
  bodies: Body[],
  act: Pick<Act, 'takenWith' | 'occasionId'> = {},
) => fileEntry(connection, { entry: randomUUID(), subjectIds: [id, ...withCellIds], takenAt, bodies, ...act });

async function main(): Promise<void> {
  await migrate();
  await inTransaction(async (connection) => {
    // Two demos started at once on one database must not both find it empty.
    await connection.query('lock table batch in exclusive mode');
    const { rows } = await connection.query<{ empty: boolean }>(
      'select not exists (select from batch) and not exists (select from subject) as empty',
    );
    if (!rows[0]?.empty) return;
    console.error('Filling the demo workshop …');
    await fill(connection);
  });
  await database().query('analyze');
  await database().end();
}

main().catch((error: unknown) => {
  console.error(error);
  process.exitCode = 1;
});
