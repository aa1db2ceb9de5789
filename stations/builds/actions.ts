'use server';

import { addBuild, voidBuild } from '@/records/builds';
import { inTransaction } from '@/records/database';
import { acting, type Answer, answering, done, fieldsOf, reasonText, refuse, serial, typedText } from '@/stations/answer';
import { judgedWorkshop } from '@/workshop/judged';
import { revalidatePath } from 'next/cache';
import { redirect } from 'next/navigation';
import { z } from 'zod';
import { free } from './candidates';

const newBuild = z.object({
  name: typedText('Name', 80, 'Give the pack a name.'),
  series: z.coerce.number().int().min(1).max(100),
  parallel: z.coerce.number().int().min(1).max(100),
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
      const ids = new Map(free((await judgedWorkshop()).cells).map((cell) => [cell.code, cell.id]));
      const groups = build.groups.map((group) => group.map((code) => ids.get(code)));
      if (groups.length !== build.series || groups.some((group) => group.length !== build.parallel)) return refuse('The groups do not fit the pack; match again.');
      if (groups.flat().some((id) => id === undefined)) return refuse(taken);
      return done(await inTransaction((db) => addBuild(db, { ...build, groups: groups as number[][] })));
    },
    { build_cell_once: taken },
  );
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  redirect(`/builds/${answer.value}`);
}

/** Voids a build; its cells are free again. */
export async function voidBuildAction(id: number, reason: string): Promise<void> {
  await acting(() => inTransaction((db) => voidBuild(db, serial.parse(id), reasonText.parse(reason))));
  revalidatePath('/', 'layout');
}
