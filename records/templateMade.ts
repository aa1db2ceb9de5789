import { makeWorkshopTemplate, type Scratch } from './scratchDatabase';

const held = globalThis as typeof globalThis & { workshopTemplate?: Scratch };

/** Jest calls it before the tests of the records. */
export default async function templateMade(): Promise<void> {
  held.workshopTemplate = await makeWorkshopTemplate();
}
