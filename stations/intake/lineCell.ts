import { display, formatRead } from '@/core/quantity/format';
import type { JudgedCell } from '@/core/judging/judgeCell';
import { findingsText } from '@/words/bodies';
import type { LineCell } from './intakeLine';

/** What a cell was read to be at the intake, in words and with the digits typed, as far as it was. */
export function readAs({
  voltage,
  massKg,
  massStepKg,
  findings,
}: Pick<JudgedCell, 'voltage' | 'massKg' | 'massStepKg' | 'findings'>): LineCell['has'] {
  return {
    ...(voltage && { voltage: formatRead(voltage.valueV, voltage.step, display.voltage) }),
    ...(massKg !== null && massStepKg !== null && { weight: formatRead(massKg, massStepKg, display.mass) }),
    ...(findings && { inspection: findingsText(findings) }),
  };
}

/** What the reading bar of the intake needs to know of a cell. */
export const lineCellOf = (cell: JudgedCell): LineCell => ({
  code: cell.code,
  chemistry: cell.chemistry,
  modelMassKg: cell.modelMassKg,
  missing: cell.intake.missing,
  has: readAs(cell),
  weldedTo: cell.weldedTo,
});

/** The same of one that is measured again, whatever it was before. */
export const fetchCell = (cell: JudgedCell): LineCell => ({ ...lineCellOf(cell), has: {} });
