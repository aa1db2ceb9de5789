import 'server-only';
import { judgeSelfDischarge, type JudgedSelfDischarge } from '@/core/judging/judgeSelfDischarge';
import { database } from '@/records/database';
import { selfDischargeFacts, type WhichSelfDischarges } from '@/records/selfDischarges';
import { oncePer, type Workshop } from './judged';

const judged = async (workshop: Workshop, which: WhichSelfDischarges): Promise<JudgedSelfDischarge[]> =>
  (await selfDischargeFacts(database(), which)).map((selfDischarge) =>
    judgeSelfDischarge(selfDischarge, workshop.rules.limits, workshop),
  );

/** Self-discharge tests that are not ended, the newest first. */
export const openSelfDischarges = oncePer('openHolds', (workshop) => judged(workshop, { isOpen: true }));

/** Every self-discharge test there was, the newest first. */
export const allSelfDischarges = oncePer('allHolds', (workshop) => judged(workshop, 'all'));

/** The self-discharge test of that number; null where there is none. */
export const selfDischargeById = async (workshop: Workshop, id: number): Promise<JudgedSelfDischarge | null> =>
  (await judged(workshop, { id }))[0] ?? null;
