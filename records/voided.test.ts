import type { Body, BodyKind } from '@/core/judging/bodies';
import { randomUUID } from 'node:crypto';
import { addBatch } from './batches';
import { lastJobsDone, plannedJobs } from './benchPlans';
import { mendPack, NotMended } from './builds';
import { cellFacts } from './cells';
import { crossCheckReadings, openCrossCheck } from './crossChecks';
import type { Queryable } from './database';
import { selfDischargeFacts } from './selfDischarges';
import { addInstrument } from './instruments';
import { bodyKinds, type Entry, fileEntry, voidEntry } from './ledger';
import { packFacts } from './packs';
import { beginPeriod, endPeriod, isUnderWay, newestRemedy, validRests } from './periods';
import { postponements } from './postponements';
import { rescueFacts } from './rescues';
import { retiringOf } from './retiring';
import { roundById } from './rounds';
import { addRunOf } from './runs';
import { type Scratch, scratchModel, scratchPack, scratchPackRound, scratchWorkshop } from './scratchDatabase';

let scratch: Scratch;
let ids: { pack: number; twin: number; cell: number; partner: number };
let places: { round: number; occasion: number; check: number; checkOccasion: number; meter: number; run: number };
let job: string;
const at = new Date('2026-03-01T10:00:00Z');
const later = new Date('2026-03-02T10:00:00Z');

beforeAll(async () => {
  scratch = await scratchWorkshop();
  const { pool } = scratch;
  const model = await scratchModel(pool);
  await addBatch(pool, { code: 'V1', origin: 'voided', notes: '', count: 2, modelId: model.id });
  const { rows } = await pool.query<{ id: number }>("select id from subject where code like 'V1-%' order by code");
  ids = {
    pack: await scratchPack(pool, 'PV1'),
    twin: await scratchPack(pool, 'PV2'),
    cell: rows[0]?.id as number,
    partner: rows[1]?.id as number,
  };
  const round = await scratchPackRound(pool, 'ac-meter');
  const check = await openCrossCheck(pool, 'all meters', ['A']);
  const meter = await addInstrument(pool, {
    code: 'DV1',
    name: 'meter',
    kind: 'meter',
    channels: 1,
    wires: null,
    leads: null,
    certified: false,
    ranges: { voltage: { resolution: 0.001, accuracyShare: null, accuracyCounts: null } },
  });
  const client = await pool.connect();
  const samples = [0, 60].map((timeS) => ({ timeS, voltageV: 4, currentA: 1, temperatureC: null }));
  const run = { subjectIds: [ids.partner], fileName: 'a.csv', contentSha256: Buffer.alloc(32, 1), endedAt: at };
  const { id } = await addRunOf(client, run, { load: { kind: 'current', currentA: 1 } }, samples).finally(() =>
    client.release(),
  );
  places = {
    round: round.id,
    occasion: round.occasionId,
    check: check.id,
    checkOccasion: check.occasionId,
    meter,
    run: id,
  };
  job = randomUUID();
  await file({ entry: job, bodies: [{ kind: 'job', job: 'charge', after: null, dueAt: null }] });
});
afterAll(() => scratch.drop());

async function file(entry: Partial<Entry>): Promise<string> {
  const filed = { entry: randomUUID(), subjectIds: [ids.pack], takenAt: at, bodies: [], ...entry };
  await fileEntry(scratch.pool, filed);
  return filed.entry;
}

async function period(kind: 'rescue' | 'charge' | 'work', bodies: readonly Body[], ended?: Date): Promise<string> {
  const entry = randomUUID();
  await beginPeriod(scratch.pool, { entry, kind, subjectIds: [ids.pack], beganAt: at, plannedS: 3600, bodies });
  if (ended) await endPeriod(scratch.pool, entry, ended);
  return entry;
}

/** Everything that is computed from what is on file. */
async function everything(db: Queryable) {
  const subjects = Object.values(ids);
  return JSON.parse(
    JSON.stringify({
      cells: await cellFacts(db, { 'li-ion': 2.8 }, 1),
      packs: await packFacts(db, { lipo: 3 }, 1),
      rescues: await rescueFacts(db, { isOpen: true }),
      ofPack: await rescueFacts(db, { subjectId: ids.pack }),
      rests: await validRests(db, new Date(0)),
      remedy: await newestRemedy(db, ids.pack),
      jobs: await plannedJobs(db),
      done: [...(await lastJobsDone(db))],
      retiring: await Promise.all(subjects.map((id) => retiringOf(db, id))),
      holds: await selfDischargeFacts(db, 'all'),
      putOffs: await postponements(db),
      underWay: await isUnderWay(db, 'discharge', subjects),
      checks: await crossCheckReadings(db),
      round: await roundById(db, places.round),
    }),
  ) as unknown;
}

const bodies: Record<BodyKind, () => Promise<string>> = {
  voltage: () => file({ state: 'rest', bodies: [{ kind: 'voltage', position: 1, voltageV: 3.9, step: 0.001 }] }),
  mass: () => file({ subjectIds: [ids.cell], bodies: [{ kind: 'mass', massKg: 0.045, step: 0.0001 }] }),
  inspection: () => file({ bodies: [{ kind: 'inspection', findings: ['swollen'] }] }),
  'skin-temperature': () => file({ bodies: [{ kind: 'skin-temperature', skinC: 31, step: 0.1 }] }),
  'load-step': () => reading({ kind: 'load-step', openV: 4, loadedV: 3.9, afterV: null, currentA: 1, ...steps }),
  'two-current': () =>
    reading({ kind: 'two-current', atLowV: 4, lowCurrentA: 0.4, atHighV: 3.9, highCurrentA: 2, ...steps }),
  resistance: () => reading({ kind: 'resistance', resistanceOhm: 0.03, step: 0.001, openV: null }),
  pulse: () => reading({ kind: 'pulse', runId: places.run, atS: 30 }),
  'cross-check': () =>
    file({
      subjectIds: [],
      occasionId: places.checkOccasion,
      takenWith: { instrumentId: places.meter, channel: 1 },
      bodies: [{ kind: 'cross-check', crossCheckId: places.check, position: 1, channel: 1, voltageV: 4, step: 0.001 }],
    }),
  weld: () => file({ subjectIds: [ids.cell, ids.partner], bodies: [{ kind: 'weld' }] }),
  'as-new': () => file({ bodies: [{ kind: 'as-new', capacityAh: 2, price: 20, resistancesOhm: null }] }),
  label: () => file({ bodies: [{ kind: 'label', chargeA: 2, dischargeA: null, balanceConnector: true }] }),
  cycles: () => file({ bodies: [{ kind: 'cycles', count: 12 }] }),
  'partial-charge': () =>
    file({
      bodies: [
        {
          kind: 'partial-charge',
          startVoltagesV: [3.7, 3.7, 3.7],
          step: 0.001,
          chargeAh: 1.5,
          chargeLimit: null,
          endVoltageV: null,
        },
      ],
    }),
  'capacity-noted': () => file({ bodies: [{ kind: 'capacity-noted', capacityAh: 1.9, step: 0.01 }] }),
  'run-time': () => file({ bodies: [{ kind: 'run-time', durationS: 600 }] }),
  twins: () => file({ subjectIds: [ids.pack, ids.twin], bodies: [{ kind: 'twins' }] }),
  complaint: () => file({ bodies: [{ kind: 'complaint', said: 'full-stops-early', answer: 'one-lower-at-rest' }] }),
  remedy: () =>
    period('charge', [
      {
        kind: 'remedy',
        way: 'bleed',
        hours: 2,
        spreadV: 0.01,
        chargeA: 1,
        bleedA: 0.1,
        timerS: null,
        topUpA: 0.5,
        drainA: 0.1,
      },
    ]),
  rescue: () =>
    period('rescue', [
      {
        kind: 'rescue',
        currentA: 0.2,
        belowSince: null,
        ownLimits: { rescueReadMin: 10 },
        ownReason: 'a logger watches every group',
      },
    ]),
  'rescue-reading': () =>
    file({ bodies: [{ kind: 'rescue-reading', voltagesV: [2.6, 2.7, 2.6], step: 0.01, skinC: null, isWarm: false }] }),
  'rescue-act': () => file({ takenAt: later, bodies: [{ kind: 'rescue-act', act: 'end', why: 'reached' }] }),
  'put-off': () =>
    file({
      bodies: [{ kind: 'put-off', act: 'look', untilAt: new Date('2027-01-01').toISOString(), reason: 'away' }],
    }),
  job: () => file({ bodies: [{ kind: 'job', job: 'storage', after: null, dueAt: null }] }),
  'job-begun': () => period('charge', [{ kind: 'job-begun', of: job, station: 'CH1' }]),
  'taken-out': () => file({ bodies: [{ kind: 'taken-out', forWhat: 'a walk', currentA: 2, timerS: 600 }] }),
  'brought-back': () => file({ bodies: [{ kind: 'brought-back', usedAh: 1, lowestV: 3.6, lowestPosition: 1 }] }),
  mended: () => file({ bodies: [{ kind: 'mended', position: 1, takenOut: [], putIn: ['V1-001'] }] }),
  retiring: () => file({ bodies: [{ kind: 'retiring', act: 'taped', voltageV: null, toWhom: null }] }),
  note: () => file({ bodies: [{ kind: 'note', text: 'it hums' }] }),
};
const steps = { step: 0.001, currentStep: 0.01 };
const reading = (body: Body): Promise<string> => file({ occasionId: places.occasion, bodies: [body] });

test.each(bodyKinds)('voiding %s undoes all that it changed', async (kind) => {
  // A rescue is under way, so that what belongs to one has something to change.
  const rescue = kind.startsWith('rescue-')
    ? await period('rescue', [{ kind: 'rescue', currentA: 0.2, belowSince: null }])
    : null;
  const before = await everything(scratch.pool);
  const entry = await bodies[kind]();
  const changed = await everything(scratch.pool);
  // What is not part of any state here is only listed.
  if (!['skin-temperature', 'complaint', 'note'].includes(kind)) expect(changed).not.toEqual(before);
  await voidEntry(scratch.pool, entry, 'a slip');
  expect(await everything(scratch.pool)).toEqual(before);
  if (rescue) await voidEntry(scratch.pool, rescue, 'a slip');
});

test('voiding a mend puts each cell back; a later mend of the group is voided first', async () => {
  const { pool } = scratch;
  const cells = { 'V1-001': ids.cell, 'V1-002': ids.partner };
  const mend = async (takenOut: (keyof typeof cells)[], putIn: keyof typeof cells) => {
    await mendPack(pool, ids.twin, 1, { outIds: takenOut.map((code) => cells[code]), inIds: [cells[putIn]] });
    return await file({
      subjectIds: [ids.twin, cells[putIn]],
      bodies: [{ kind: 'mended', position: 1, takenOut, putIn: [putIn] }],
    });
  };
  const [first, unmended] = [await everything(pool), await inPlaces()];
  const one = await mend([], 'V1-001');
  const [second, mended] = [await everything(pool), await inPlaces()];
  expect(mended).toEqual([{ cellId: ids.cell, position: 1 }]);
  const two = await mend(['V1-001'], 'V1-002');
  expect(await inPlaces()).toEqual([{ cellId: ids.partner, position: 1 }]);
  const voiding = async (entry: string) => {
    const db = await pool.connect();
    try {
      await db.query('begin');
      await voidEntry(db, entry, 'a slip');
      await db.query('commit');
    } catch (error) {
      await db.query('rollback');
      throw error;
    } finally {
      db.release();
    }
  };
  await expect(voiding(one)).rejects.toThrow(NotMended);
  await voiding(two);
  expect([await everything(pool), await inPlaces()]).toEqual([second, mended]);
  await voiding(one);
  expect([await everything(pool), await inPlaces()]).toEqual([first, unmended]);
});

const inPlaces = async () =>
  (
    await scratch.pool.query<{ cellId: number; position: number }>(
      `select cell_id as "cellId", position from build_cell where not released order by 1`,
    )
  ).rows;

test('a job that was done and is voided was not done', async () => {
  const before = await everything(scratch.pool);
  const entry = await period('charge', [{ kind: 'job-begun', of: job, station: 'CH1' }], later);
  expect(await everything(scratch.pool)).not.toEqual(before);
  await voidEntry(scratch.pool, entry, 'a slip');
  expect(await everything(scratch.pool)).toEqual(before);
});
