import { ImpossibleInput } from '../impossibleInput';

/** Resistances are measured on a bench as warm as this, °C. Common practice. */
const benchC = 25;
/** The resistance of a cell doubles for every step this much colder, K: about twice at freezing. From memory. */
const doublesK = 25;
/** Colder or warmer than this nothing is discharged, °C. From memory of data sheets. */
const [coldestC, warmestC] = [-20, 60];

/**
 * How many times its resistance on the bench a cell has at that temperature; warmer than there no less is taken.
 * Source: from memory, within a third from make to make.
 *
 * @throws ImpossibleInput where nothing may be discharged so cold or so warm
 */
export function coldTimes(temperatureC: number): number {
  if (!(temperatureC >= coldestC && temperatureC <= warmestC))
    throw new ImpossibleInput('temperatureC', { code: 'beyond-use', temperatureC, coldestC, warmestC });
  return 2 ** (Math.max(0, benchC - temperatureC) / doublesK);
}
