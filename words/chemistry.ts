import { type Chemistry, chemistries } from '@/core/chemistry/chemistries';
import { leftByVoltage } from '@/core/chemistry/ruleOut';
import { volts } from './figures';

const namesOf = (keys: readonly Chemistry[]): string => keys.map((key) => chemistries[key].name).join('; or ');

/** What a voltage leaves of the chemistries, where nobody knows it; null where none was measured. */
export function unknownChemistryText(perGroupV: number | null): string {
  if (perGroupV === null)
    return 'Its chemistry is known before anything is charged. Measure its terminals at rest: that rules some out.';
  const { possible, runDown } = leftByVoltage(perGroupV);
  if (possible.length + runDown.length === 0)
    return `At ${volts(perGroupV)} a group it is none of the chemistries here: is the count right?`;
  return (
    `At ${volts(perGroupV)} a group:` +
    (possible.length > 0 ? ` It can be ${namesOf(possible)}.` : '') +
    (runDown.length > 0 ? ` If run down below its floor, ${namesOf(runDown)}.` : '') +
    ' Look at its cells for a print, and at what charger it came with; in doubt, do not charge it.'
  );
}
