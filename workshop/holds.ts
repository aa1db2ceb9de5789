import 'server-only';
import { judgeHold, type JudgedHold } from '@/core/judging/judgeHold';
import { database } from '@/records/database';
import { holdFacts, type WhichHolds } from '@/records/holds';
import { oncePer, type Workshop } from './judged';

const judged = async (workshop: Workshop, which: WhichHolds): Promise<JudgedHold[]> =>
  (await holdFacts(database(), which)).map((hold) => judgeHold(hold, workshop.rules.limits, workshop));

/** Self-discharge tests that are not ended, the newest first. */
export const openHolds = oncePer('openHolds', (workshop) => judged(workshop, { isOpen: true }));

/** Every self-discharge test there was, the newest first. */
export const allHolds = oncePer('allHolds', (workshop) => judged(workshop, 'all'));

/** The self-discharge test of that number; null where there is none. */
export const holdById = async (workshop: Workshop, id: number): Promise<JudgedHold | null> =>
  (await judged(workshop, { id }))[0] ?? null;
