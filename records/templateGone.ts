import type { Scratch } from './scratchDatabase';

const held = globalThis as typeof globalThis & { workshopTemplate?: Scratch };

/** Jest calls it after them. */
export default async function templateGone(): Promise<void> {
  await held.workshopTemplate?.drop();
}
