import 'server-only';
import type { Body } from '@/core/judging/bodies';
import { isPack } from '@/core/judging/subject';
import { addBatch, type BatchAccount, batchByCode, modelNamed } from '@/records/batches';
import { inTransaction, type Queryable } from '@/records/database';
import { fileEntry } from '@/records/ledger';
import { addNotebook, addNotebookEntries } from '@/records/notebooks';
import { openRound } from '@/records/rounds';
import { type Answer, done, refuse } from '@/stations/answer';
import { cellCodeOf, packCodeOf } from '@/ui/tokens';
import { counted } from '@/words/counted';
import { now } from '@/workshop/clock';
import { judgedWorkshop, subjectNamed, type Workshop } from '@/workshop/judged';
import { randomUUID } from 'node:crypto';
import { mostNote, type NotebookColumn, type NotebookRow, readNotebook, understandNotebook } from './notebookTable';

/** A table to be brought in, as a person settled it. */
export interface Notebook {
  uid: string;
  name: string;
  pasted: string;
  columns: readonly NotebookColumn[];
  /** The batch that its cells become; null where they are here already. */
  batch: ({ code: string } & BatchAccount) | null;
  /** Under which its resistances were read; null where it holds none. */
  protocolId: number | null;
}

/** A row with the cell or pack it is of. */
interface SubjectRow {
  row: NotebookRow;
  subjectId: number;
  /** Cells of one batch share a round; packs, with null, another. */
  batchCode: string | null;
  /** What the notebook called a new cell, where that is another code than its own. */
  was?: string | null;
}

/** The same table came again: nothing of it is stored twice. */
class BroughtBefore extends Error {}

/** This many faults are said at once. */
const shownFaults = 5;

/** Why it cannot be brought in as it is; null where it can. */
function whyNot({ columns, protocolId, batch }: Notebook, rows: readonly NotebookRow[]): string | null {
  if (rows.length === 0) return 'There is no row in it.';
  if (!columns.some(({ field }) => field === 'code') && !batch)
    return 'Choose the column with the codes. Without codes its rows belong to no cell.';
  if (!columns.some(({ field }) => field !== 'code' && field !== 'none' && field !== 'date'))
    return 'No column is taken for anything that could be filed.';
  if (columns.some(({ field }) => field === 'resistance') && protocolId === null)
    return 'Choose the protocol of its resistances. They are compared under that protocol only.';
  return null;
}

/** Makes subjects and readings of a table, all or nothing; answers with where they are to be seen. */
export async function bringNotebook(notebook: Notebook): Promise<Answer<{ href: string; said: string }>> {
  const table = readNotebook(notebook.pasted);
  if (table.tooLarge !== null) return refuse(table.tooLarge, { pasted: table.tooLarge });
  const { rows, faults } = understandNotebook(table, notebook.columns, now());
  const why = whyNot(notebook, rows);
  if (why) return refuse(why);
  if (faults.length > 0) {
    const shown = faults.slice(0, shownFaults).map(({ row, column, said }) => `row ${row}, column ${column}: ${said}`);
    return refuse(`Mend it, or leave that column out: ${shown.join(' ')}`, { pasted: shown.join(' ') });
  }
  const workshop = await judgedWorkshop();
  const here = notebook.batch ? null : await subjectsHere(rows, workshop);
  if (here && 'said' in here) return refuse(here.said, { pasted: here.said });
  const taken = notebook.batch && (await takenCodes(rows, workshop));
  if (taken && taken.length > 0)
    return refuse(`${taken.slice(0, shownFaults).join(', ')}: here already. Choose “cells and packs that are here”.`);
  const { protocolId } = notebook;
  const asked = protocolId === null ? null : workshop.protocols.get(protocolId)?.method;
  const method = asked === 'ac-meter' || asked === 'told' ? asked : null;
  if (protocolId !== null && method === null)
    return refuse('That protocol is of readings with more than one figure: choose another.');

  const brought = await inTransaction(async (db) => {
    const made = notebook.batch && (await newBatch(db, notebook.batch, rows));
    const id = await addNotebook(db, { ...notebook, batchId: made?.batchId ?? null });
    if (id === null) throw new BroughtBefore();
    const placed = made ? made.placed : (here?.placed ?? []);
    const rounds = await roundsFor(db, placed, protocolId, method);
    const entries: string[] = [];
    for (const one of placed) entries.push(...(await fileRow(db, one, rounds)));
    await addNotebookEntries(db, id, entries);
    return entries.length;
  }).catch((error: unknown) => {
    if (error instanceof BroughtBefore) return null;
    throw error;
  });
  if (brought === null) return refuse('This table was brought in already.');
  const href = notebook.batch ? `/intake/${notebook.batch.code}` : '/intake/notebook';
  return done({ href, said: `${counted(brought, 'reading')} filed.` });
}

async function subjectsHere(
  rows: readonly NotebookRow[],
  workshop: Workshop,
): Promise<{ placed: SubjectRow[] } | { said: string }> {
  const placed: SubjectRow[] = [];
  for (const row of rows) {
    const code = cellCodeOf(row.code) ?? packCodeOf(row.code) ?? row.code.toUpperCase();
    const { subject } = await subjectNamed(code, workshop);
    if (!subject) return { said: `Row ${row.row}: there is no cell or pack ${row.code || '(no code)'}.` };
    if (isPack(subject) && subject.series > 1 && row.voltage)
      return { said: `Row ${row.row}: ${code} has ${subject.series} groups. Measure each voltage in the clinic.` };
    placed.push({ row, subjectId: subject.id, batchCode: isPack(subject) ? null : subject.batchCode });
  }
  return { placed };
}

async function takenCodes(rows: readonly NotebookRow[], workshop: Workshop): Promise<string[]> {
  const codes = [...new Set(rows.flatMap(({ code }) => cellCodeOf(code) ?? []))];
  const taken: string[] = [];
  for (const code of codes) if ((await subjectNamed(code, workshop)).subject) taken.push(code);
  return taken;
}

/** A cell for each code, in the order of the table; where a cell has a code of another kind, that stays as a note. */
async function newBatch(
  db: Queryable,
  { code, origin, notes, model }: { code: string } & BatchAccount,
  rows: readonly NotebookRow[],
): Promise<{ batchId: number; placed: SubjectRow[] }> {
  const keys = rows.map((row) => (row.code === '' ? `row ${row.row}` : row.code.toLowerCase()));
  const cells = [...new Set(keys)];
  const modelId = (await modelNamed(db, model)).id;
  const batchId = await addBatch(db, { code, origin, notes, modelId, count: cells.length });
  const { rows: made } = await db.query<{ id: number; code: string }>(
    'select id, code from subject where batch_id = $1 order by place',
    [batchId],
  );
  const placed = rows.flatMap((row, i): SubjectRow[] => {
    const own = made[cells.indexOf(keys[i] ?? '')];
    if (!own) return [];
    const isFirst = keys.indexOf(keys[i] ?? '') === i;
    const was = isFirst && row.code !== '' && cellCodeOf(row.code) !== own.code ? row.code : null;
    return [{ row, subjectId: own.id, batchCode: code, was }];
  });
  return { batchId, placed };
}

/** A round for the resistances of each batch, and one for those of packs. */
async function roundsFor(
  db: Queryable,
  placed: readonly SubjectRow[],
  protocolId: number | null,
  method: 'ac-meter' | 'told' | null,
): Promise<Map<string | null, number>> {
  const rounds = new Map<string | null, number>();
  if (protocolId === null || method === null) return rounds;
  for (const { row, batchCode } of placed) {
    if (!row.resistance || rounds.has(batchCode)) continue;
    const { occasionId } = await openRound(db, {
      batchId: batchCode === null ? null : ((await batchByCode(db, batchCode))?.id ?? null),
      protocolId,
      method,
      instrumentId: null,
      ammeterId: null,
      loadResistanceOhm: null,
      loadTolerance: null,
      loadRatingW: null,
      temperatureC: null,
    });
    rounds.set(batchCode, occasionId);
  }
  return rounds;
}

/** Files the contents of a row: what was read in one entry, a resistance in its round, a note. Returns their ids. */
async function fileRow(
  db: Queryable,
  { row, subjectId, batchCode, was = null }: SubjectRow,
  rounds: ReadonlyMap<string | null, number>,
): Promise<string[]> {
  const { voltage, mass, capacity, resistance, note, day } = row;
  const read: Body[] = [];
  if (voltage) read.push({ kind: 'voltage', voltageV: voltage.value, step: voltage.step });
  if (mass) read.push({ kind: 'mass', massKg: mass.value, step: mass.step });
  if (capacity) read.push({ kind: 'capacity-noted', capacityAh: capacity.value, step: capacity.step });
  const toFile: { bodies: Body[]; occasionId?: number | undefined }[] = [];
  if (read.length > 0) toFile.push({ bodies: read });
  if (resistance) {
    const { value: resistanceOhm, step } = resistance;
    const position = batchCode === null ? 0 : 1;
    toFile.push({
      bodies: [{ kind: 'resistance', position, resistanceOhm, step, openV: null }],
      occasionId: rounds.get(batchCode),
    });
  }
  const notes = [was !== null && `In the notebook: ${was}`, note].filter((one) => typeof one === 'string');
  const together = notes.join('. ');
  // A note of its own for each where one cannot hold both.
  for (const text of together.length <= mostNote ? [together] : notes)
    if (text !== '') toFile.push({ bodies: [{ kind: 'note', text }] });
  const entries: string[] = [];
  for (const { bodies, occasionId = null } of toFile) {
    const entry = randomUUID();
    await fileEntry(db, { entry, subjectIds: [subjectId], bodies, occasionId, takenAt: day ?? now() });
    entries.push(entry);
  }
  return entries;
}
