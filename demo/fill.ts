import { createDischargeMeter, dischargeArithmetic } from '@/core/capacity/discharge';
import { lowestVoltageV, presetRules } from '@/core/chemistry/houseRules';
import { openCircuitOf } from '@/core/chemistry/openCircuit';
import { matchCells } from '@/core/matching/match';
import { type Chance, seededChance } from '@/core/statistics/random';
import { addBatch, modelNamed } from '@/records/batches';
import { addBuild } from '@/records/builds';
import { cellFacts } from '@/records/cells';
import { database, inTransaction } from '@/records/database';
import { migrate } from '@/records/migrate';
import { addPack, filePackRound } from '@/records/packs';
import { fileEntry, type NewReading } from '@/records/readings';
import { beginRest } from '@/records/rests';
import { openRound } from '@/records/rounds';
import { addRun, copySamples, keepResult, reserveRunId, sampleLine } from '@/records/runs';
import { createHash, randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import type { PoolClient } from 'pg';
import { batches, type DemoBatch, packs } from './scenario';
import { cellsOf, type DemoCell, dischargeLog, groupReadings, loadStepReading, restReading } from './simulate';

const seed = 20_261_101;
const rules = presetRules('workshop');
const dayMs = 86_400_000;
const minuteMs = 60_000;
const now = Date.now();
const ago = (days: number, minutes = 0): Date => new Date(now - days * dayMs + minutes * minuteMs);

async function fill(connection: PoolClient): Promise<void> {
  const chance = seededChance(seed);
  for (const batch of batches) await fillBatch(connection, batch, chance);
  for (const pack of packs) {
    const packId = await addPack(connection, { ...pack, ratedCapacityAh: pack.ratedAh });
    for (const { daysAgo, soc, channelOffsetsV, terminals, instrument } of pack.rounds) {
      const socs = Array.isArray(soc) ? soc : Array.from({ length: pack.series }, () => soc);
      const { groups, terminalV } = groupReadings(openCircuitOf(pack.chemistry), socs, channelOffsetsV, chance);
      await filePackRound(connection, { entry: randomUUID(), packId, series: pack.series, state: 'rest', groupVoltagesV: groups, terminalV: terminals ? terminalV : null, stepV: 0.001, instrument, confirmed: false, takenAt: ago(daysAgo) });
    }
  }
  await saveLantern(connection);
}

async function fillBatch(connection: PoolClient, batch: DemoBatch, chance: Chance): Promise<void> {
  const model = await modelNamed(connection, { maker: batch.maker, name: batch.model, chemistry: batch.chemistry, ratedCapacityAh: batch.ratedAh, massKg: batch.massG / 1000 });
  const bondedPlaces = Array.from({ length: batch.bondedPairs }, (_, i) => [2 * i + 1, 2 * i + 2]);
  const batchId = await addBatch(connection, { code: batch.code, origin: batch.origin, modelId: model.id, count: batch.count, bondedPlaces, receivedAt: ago(batch.daysAgo) });
  const { rows } = await connection.query<{ id: number }>('select id from cell where batch_id = $1 order by place', [batchId]);
  const cells = cellsOf(batch, chance).map((cell, i) => ({ ...cell, id: rows[i]?.id as number, usable: cell.quirk.restV === undefined && cell.quirk.massG === undefined && !cell.quirk.findings?.some((finding) => finding === 'dented' || finding === 'leaking') }));

  for (const [i, cell] of cells.slice(0, batch.read).entries()) {
    await file(connection, cell.id, ago(batch.daysAgo, 60 + i), [
      { kind: 'voltage', voltageV: restReading(cell, chance), step: 0.001 },
      { kind: 'mass', massKg: Math.round(cell.massG * 10) / 1e4, step: 0.0001 },
      { kind: 'inspection', findings: cell.quirk.findings ?? [] },
    ]);
  }
  if (batch.measured > 0) await fillRound(connection, batch, batchId, cells, chance);
  await fillRuns(connection, batch, cells, chance);
  if (batch.code === 'N1') await beginRest(connection, batchId, 'charge', rules.restAfterChargeH * 3600, new Date(now - 13 * minuteMs));
}

async function fillRound(connection: PoolClient, batch: DemoBatch, batchId: number, cells: (DemoCell & { id: number; usable: boolean })[], chance: Chance): Promise<void> {
  const { load } = batch;
  const roundId = await openRound(connection, {
    batchId,
    method: load.method,
    loadResistanceOhm: load.method === 'resistor' ? load.ohm : null,
    loadTolerance: load.method === 'resistor' ? 0.01 : null,
    loadRatingW: load.method === 'resistor' ? load.ratingW : null,
    holdS: 10,
    chargeState: 'storage',
    temperatureC: 21.5,
  });
  for (const [i, cell] of cells.slice(0, batch.measured).entries()) {
    if (!cell.usable) continue;
    const reading: NewReading = { kind: 'load-step', roundId, ...loadStepReading(cell, load, chance), step: 0.001, currentStep: load.method === 'ammeter' ? 0.01 : null };
    await file(connection, cell.id, ago(batch.daysAgo - 1, i), [reading]);
  }
}

async function fillRuns(connection: PoolClient, batch: DemoBatch, cells: (DemoCell & { id: number; usable: boolean })[], chance: Chance): Promise<void> {
  const discharged = cells.filter((cell) => cell.usable).slice(0, batch.discharged);
  const load = { kind: 'current', currentA: batch.rate * batch.ratedAh } as const;
  const cutoffV = lowestVoltageV(batch.chemistry, rules);
  for (const [i, cell] of discharged.entries()) {
    const samples = dischargeLog(cell, batch, chance);
    const meter = createDischargeMeter({ load, cutoffV });
    samples.forEach((sample) => meter.push(sample));
    const id = await reserveRunId(connection);
    const last = batch.code === 'S1' && i === discharged.length - 1;
    await addRun(connection, id, {
      cellId: cell.id,
      fileName: `${cell.code.toLowerCase()}-discharge.csv`,
      contentSha256: createHash('sha256').update(`${seed} ${cell.code}`).digest(),
      load,
      voltageStepV: 0.001,
      samples: samples.length,
      columns: (['time', 'voltage', 'temperature'] as const).map((field, index) => ({ field, index, heading: field, written: 'number', unit: { time: 's', voltage: 'v', temperature: 'c' }[field], factor: 1, assumed: false })),
      notices: [],
      endedAt: last ? new Date(now - 9 * minuteMs) : ago(Math.max(1, batch.daysAgo - 3), -i * 97),
    });
    await copySamples(connection, Readable.from([samples.map((sample, seq) => sampleLine(id, seq, sample)).join('')]));
    await keepResult(connection, id, cutoffV, dischargeArithmetic, meter.finish(0.001));
  }
}

/** One lantern is matched and saved already. */
async function saveLantern(connection: PoolClient): Promise<void> {
  const facts = (await cellFacts(connection, { 'li-ion': rules.lowestCylindricalV }, dischargeArithmetic, { batchCode: 'H1' })).filter((cell) => cell.run?.reachedCutoff && cell.step);
  const cells = facts.slice(0, 14).map((cell) => ({ id: String(cell.id), capacityAh: cell.run?.capacityAh ?? 0, resistanceOhm: 0.05, ...(cell.bond === null ? {} : { bond: cell.bond }) }));
  const match = matchCells({ series: 2, parallel: 2, cells });
  await addBuild(connection, { name: 'Path lantern, chapel bend', series: 2, parallel: 2, groups: match.groups.map((group) => group.cells.map((cell) => Number(cell.id))) });
}

const file = (connection: PoolClient, cellId: number, takenAt: Date, readings: NewReading[]) => fileEntry(connection, { entry: randomUUID(), cellId, confirmed: false, readings, takenAt });

async function main(): Promise<void> {
  await migrate();
  await inTransaction(async (connection) => {
    // Two demos started at once on one database must not both find it empty.
    await connection.query('lock table batch in exclusive mode');
    const { rows } = await connection.query<{ empty: boolean }>('select not exists (select from batch) and not exists (select from pack) as empty');
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
