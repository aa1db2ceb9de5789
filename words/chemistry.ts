import { type Chemistry, chemistries } from '@/core/chemistry/chemistries';
import type { Make } from '@/core/chemistry/openCircuit';
import { leftByVoltage } from '@/core/chemistry/ruleOut';
import type { CurveBasis } from '@/core/judging/curveBook';
import { percentText, volts } from './figures';

export const makeNames: Readonly<Record<Make, string>> = {
  'mixed-oxide': 'mixed oxide',
  cobalt: 'cobalt',
  manganese: 'manganese',
};

/** Which open-circuit curve the charge is read by, after "by". */
export function curveBasisText(basis: CurveBasis): string {
  switch (basis.by) {
    case 'learnt':
      return `the curve measured in test ${basis.runId}`;
    case 'table':
      return 'the table of the chemistry';
    case 'discharges':
      return `the curve of ${makeNames[basis.make]} cells (${percentText(basis.probability)} likely by ${
        basis.runIds.length === 1 ? `run ${basis.runIds[0]}` : `${basis.runIds.length} discharges`
      })`;
    case 'designation':
      return `the curve of ${makeNames[basis.make]} cells, as the designation says`;
    case 'unknown':
      return 'the curve of mixed-oxide cells; the make is unknown, and the uncertainty includes other makes';
  }
}

const namesOf = (keys: readonly Chemistry[]): string => keys.map((key) => chemistries[key].name).join('; or ');

/** What a voltage leaves of the chemistries, where not known; null where none was measured. */
export function unknownChemistryText(perGroupV: number | null): string {
  if (perGroupV === null)
    return 'Find out the chemistry before you charge. Measure the terminals at rest: that rules some out.';
  const { possible, runDown } = leftByVoltage(perGroupV);
  if (possible.length + runDown.length === 0)
    return `At ${volts(perGroupV)} a group, no chemistry fits. Is the count right?`;
  return (
    `At ${volts(perGroupV)} a group:` +
    (possible.length > 0 ? ` It can be ${namesOf(possible)}.` : '') +
    (runDown.length > 0 ? ` If run down below its floor, ${namesOf(runDown)}.` : '') +
    ' Look for a print on the cells and at the charger that came with it. If you are not sure, do not charge it.'
  );
}
