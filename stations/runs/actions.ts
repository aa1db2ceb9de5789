'use server';

import { database } from '@/records/database';
import { voidRun } from '@/records/runs';
import { revalidatePath } from 'next/cache';
import { z } from 'zod';

/** Voids a run with a reason; its cell is judged without it. */
export async function voidRunAction(id: number, reason: string): Promise<void> {
  await voidRun(database(), z.int().parse(id), z.string().trim().min(1).max(200).parse(reason));
  revalidatePath('/', 'layout');
}
