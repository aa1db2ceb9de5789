import { bench } from './bench';
import { capacity, selfDischarge } from './capacity';
import type { HandbookEntry } from './entry';
import { grading } from './grading';
import { intake } from './intake';
import { packs } from './packs';
import { readings } from './readings';
import { resistance } from './resistance';

/** Every page of the handbook that is written by hand. House rules and chemistries have pages of their own. */
export const handbookEntries: readonly HandbookEntry[] = [
  ...readings,
  ...intake,
  ...resistance,
  ...capacity,
  ...selfDischarge,
  ...grading,
  ...packs,
  ...bench,
];
