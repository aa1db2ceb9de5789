import type { JudgedCell } from '@/workshop/judgeCell';
import type { EntryCell } from './entry';

/** What the reading bar of the intake needs to know of a cell. */
export const entryCellOf = (cell: JudgedCell): EntryCell => ({ code: cell.code, chemistry: cell.chemistry, modelMassKg: cell.modelMassKg, missing: cell.intake.missing });
