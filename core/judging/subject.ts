import type { JudgedCell } from './judgeCell';
import type { JudgedPack } from './judgePack';

/** Whatever lies on the bench: a cell, or a pack of several groups. */
export type JudgedSubject = JudgedCell | JudgedPack;

export const isPack = (subject: JudgedSubject): subject is JudgedPack => 'series' in subject;
