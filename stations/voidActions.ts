'use server';

import { database } from '@/records/database';
import { voidPackRound } from '@/records/packs';
import { voidNote } from '@/records/notes';
import { voidEntry } from '@/records/readings';
import { voidWeld } from '@/records/welds';
import { acting, reasonText } from '@/stations/answer';
import { entryId } from './filing';
import { revalidatePath } from 'next/cache';
import { z } from 'zod';

const voids = { reading: voidEntry, 'pack round': voidPackRound, weld: voidWeld, note: voidNote };
export type Voidable = keyof typeof voids;

/** Voids an entry of that kind with a reason. */
export async function voidEntryAction(of: Voidable, entry: string, reason: string): Promise<void> {
  await acting(() =>
    voids[z.enum(Object.keys(voids) as Voidable[]).parse(of)](
      database(),
      entryId.parse(entry),
      reasonText.parse(reason),
    ),
  );
  revalidatePath('/', 'layout');
}
