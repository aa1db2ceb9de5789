'use server';

import {
  addBuild,
  buildById,
  holdUnwelded,
  mendPack,
  NotMended,
  placeBuildCell,
  swapBuildCell,
  voidBuild,
  Welded,
} from '@/records/builds';
import { fileEntry } from '@/records/ledger';
import { addPack } from '@/records/packs';
import { database, inTransaction } from '@/records/database';
import {
  acting,
  type Answer,
  answering,
  done,
  fieldsOf,
  reasonText,
  refuse,
  serial,
  typedText,
} from '@/stations/answer';
import { modelName } from '@/core/judging/models';
import { addressOf, cellCodeOf, weldText } from '@/ui/tokens';
import { sheetRefusalText } from '@/words/chargerSheets';
import { judgedWorkshop, subjectNamed, type Workshop } from '@/workshop/judged';
import { notToJoin } from '@/workshop/states';
import { cellOfCode } from '@/core/judging/shelf';
import { revalidatePath } from 'next/cache';
import { redirect } from 'next/navigation';
import { packBoard, packCode } from '../packFields';
import { z } from 'zod';
import { countText } from '@/workshop/strictFields';
import { free, ratedTogetherAh } from '@/core/judging/candidates';
import { isPack } from '@/core/judging/subject';
import { filing } from '@/stations/filing';
import type { EntryLine, Filed } from '@/ui/entryLine';
import { fetchCell } from '../intake/lineCell';
import { readingsOf } from '../intake/readingsOf';
import { now } from '@/workshop/clock';
import { cellsByGroup } from './groupsOfBuild';
import { randomUUID } from 'node:crypto';

const newBuild = z.object({
  name: typedText('Name', 80, 'Give the pack a name.'),
  series: countText(z.number().min(1).max(100)),
  parallel: countText(z.number().min(1).max(100)),
  groups: z.string().transform((text, context) => {
    try {
      return z.array(z.array(z.string())).parse(JSON.parse(text));
    } catch {
      context.addIssue('The groups cannot be read; match again.');
      return z.NEVER;
    }
  }),
});

/** Saves a match and sets its cells aside. */
export async function saveBuildAction(_: Answer | null, form: FormData): Promise<Answer> {
  const taken = 'Another build took one of these cells in the meantime; match again.';
  const answer = await answering(
    async () => {
      const build = newBuild.parse(fieldsOf(form));
      const workshop = await judgedWorkshop();
      const ids = new Map(free(workshop.cells).map((cell) => [cell.code, cell.id]));
      const groups = build.groups.map((group) => group.map((code) => ids.get(code)));
      if (groups.length !== build.series || groups.some((group) => group.length !== build.parallel))
        return refuse('The groups do not fit the pack; match again.');
      if (groups.flat().some((id) => id === undefined)) return refuse(taken);
      const refused = joinRefusal(workshop, build.groups.flat());
      if (refused !== null) return refuse(refused);
      return done(await inTransaction((db) => addBuild(db, { ...build, groups: groups as number[][] })));
    },
    { build_cell_once: taken },
  );
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  redirect(`/builds/${answer.value}`);
}

/** Why one of these cells is not joined with others; null where each may be. */
function joinRefusal(workshop: Workshop, codes: readonly string[]): string | null {
  const cells = workshop.cells.filter(({ code }) => codes.includes(code));
  const [first] = notToJoin(cells, workshop);
  return first ? `Do not join ${first.code}. ${sheetRefusalText(first.barrier)}` : null;
}

/** Refuses where the build was welded meanwhile. */
async function unlessWelded<T>(work: () => Promise<Answer<T>>): Promise<Answer<T>> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof Welded) return refuse(error.message);
    throw error;
  }
}

const swap = z.object({
  build: countText(serial),
  out: z.string().max(20),
  in: typedText('Put in', 20, 'Which cell comes in?').transform((text) => cellCodeOf(text) ?? text),
});

/** Puts another free cell in the place of one of a saved build. */
export async function swapCellAction(_: Answer<string> | null, form: FormData): Promise<Answer<string>> {
  const taken = 'Another build took that cell in the meantime.';
  const answer = await answering(
    async () => {
      const { build, out, in: code } = swap.parse(fieldsOf(form));
      const workshop = await judgedWorkshop();
      const [leaving, arriving] = [cellOfCode(workshop, out), free(workshop.cells).find((cell) => cell.code === code)];
      if (!leaving) return refuse(`There is no cell ${out}.`);
      if (!arriving)
        return refuse(`${code} is not free: only graded cells that no build holds can come in.`, {
          in: `${code} is not free.`,
        });
      const welded = [leaving, arriving].find((cell) => cell.weldedTo.length > 0);
      if (welded)
        return refuse(
          `${weldText([welded.code, ...welded.weldedTo])} are welded together and stay so: match again without them.`,
        );
      if (modelName(arriving) !== modelName(leaving))
        return refuse(
          `${code} is ${modelName(arriving)}, ${out} is ${modelName(leaving)}: cells of one group are of one model.`,
          { in: 'Another model.' },
        );
      const refused = joinRefusal(workshop, [code]);
      if (refused !== null) return refuse(refused, { in: refused });
      return unlessWelded(async () =>
        (await inTransaction((db) => swapBuildCell(db, build, leaving.id, arriving.id)))
          ? done(`${code} is in the place of ${out}.`)
          : refuse(`${out} is not in this build any more.`),
      );
    },
    { build_cell_once: taken },
  );
  revalidatePath('/', 'layout');
  return answer;
}

/** Files what was read of a cell of a build before it is joined. */
export async function fileBuildReading(build: number, typed: EntryLine): Promise<Filed> {
  return filing(typed, async (line) => {
    const [placed, workshop] = await Promise.all([buildById(database(), serial.parse(build)), judgedWorkshop()]);
    const ids = new Set(placed?.cells.map(({ cellId }) => cellId));
    return readingsOf(
      line,
      workshop.cells.filter(({ id }) => ids.has(id)),
      workshop.instruments,
      fetchCell,
    );
  });
}

const codes = z.array(z.string().max(20)).max(100);
const mend = z.object({
  mends: z.string().transform((text, context) => {
    try {
      const each = z.object({ position: z.int().min(1).max(100), takenOut: codes, putIn: codes.min(1) });
      return z.array(each).min(1).max(100).parse(JSON.parse(text));
    } catch {
      context.addIssue('The list of new cells cannot be read. Choose the cells again.');
      return z.NEVER;
    }
  }),
});

/** Groups of a pack were mended: what left lies on the shelf again, what came knows its place. */
export async function mendAction(code: string, _: Answer | null, form: FormData): Promise<Answer> {
  const taken = 'Another build took one of these cells in the meantime; choose others.';
  const answer = await answering(
    async () => {
      const { mends } = mend.parse(fieldsOf(form));
      const { subject: pack, workshop } = await subjectNamed(code);
      if (!pack || !isPack(pack)) return refuse('There is no such pack.');
      if (mends.some(({ position }) => position > pack.series)) return refuse(`${code} has no such group.`);
      const spares = new Map(free(workshop.cells).map((cell) => [cell.code, cell.id]));
      const known = new Map(workshop.cells.map((cell) => [cell.code, cell.id]));
      const each = mends.map(({ position, takenOut, putIn }) => ({
        position,
        outIds: takenOut.flatMap((one) => known.get(one) ?? []),
        inIds: putIn.flatMap((one) => spares.get(one) ?? []),
      }));
      if (each.some(({ inIds }, i) => inIds.length < (mends[i]?.putIn.length ?? 0))) return refuse(taken);
      const refused = joinRefusal(
        workshop,
        mends.flatMap(({ putIn }) => putIn),
      );
      if (refused !== null) return refuse(refused);
      const subjectIds = [pack.id, ...each.flatMap(({ outIds, inIds }) => [...outIds, ...inIds])];
      const bodies = mends.map((one) => ({ kind: 'mended' as const, ...one }));
      try {
        await inTransaction(async (db) => {
          for (const { position, ...cells } of each) await mendPack(db, pack.id, position, cells);
          await fileEntry(db, { entry: randomUUID(), subjectIds, takenAt: now(), bodies });
        });
      } catch (error) {
        if (error instanceof NotMended) return refuse(error.message);
        throw error;
      }
      return done(undefined);
    },
    { build_cell_once: taken },
  );
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  redirect(addressOf(code));
}

/** Ticks a cell off as placed, or takes that back. */
export async function placeCellAction(build: number, cellId: number, isPlaced: boolean): Promise<void> {
  await acting(() =>
    placeBuildCell(database(), serial.parse(build), serial.parse(cellId), z.boolean().parse(isPlaced)),
  );
}

const weld = z.object({
  code: packCode,
  name: typedText('Name', 80, 'What is it for?'),
  board: packBoard,
  balanceConnector: z.enum(['yes', 'no']).transform((has) => has === 'yes'),
});

/** A build was welded: from now on it is a pack, and its cells know which. */
export async function weldBuildAction(id: number, _: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(
    async () => {
      const pack = weld.parse(fieldsOf(form));
      const buildId = serial.parse(id);
      const { cells } = await judgedWorkshop();
      return unlessWelded(() =>
        inTransaction(async (db) => {
          await holdUnwelded(db, buildId);
          const build = await buildById(db, buildId);
          if (!build) return refuse('There is no such build.');
          if (build.voidReason !== null)
            return refuse(`This build is void (${build.voidReason}): its cells are free again. Match them again.`);
          const groups = cellsByGroup(build, build.series, cells);
          const [first] = groups.flat();
          if (!first) return refuse('Its cells are not known any more.');
          await addPack(db, {
            ...pack,
            chemistry: first.chemistry,
            series: build.series,
            parallel: build.parallel,
            ratedCapacityAh: ratedTogetherAh(groups),
            buildId,
          });
          return done(pack.code);
        }),
      );
    },
    {
      subject_code_key: 'There is a pack with this code already; choose another.',
      subject_build_once: 'This build was welded before.',
    },
  );
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  redirect(`/clinic/${answer.value}`);
}

/** Voids a build; its cells are free again. */
export async function voidBuildAction(id: number, reason: string): Promise<void> {
  await acting(() =>
    unlessWelded(async () =>
      done(await inTransaction((db) => voidBuild(db, serial.parse(id), reasonText.parse(reason)))),
    ),
  );
  revalidatePath('/', 'layout');
}
