import { aboveFullV, type Chemistry, chemistries, chemistryKeys } from './chemistries';

/** What a rested voltage leaves of the chemistries. */
export interface LeftByVoltage {
  /** Within their limits. */
  possible: Chemistry[];
  /** Only if run down below their floor. */
  runDown: Chemistry[];
}

/**
 * Which chemistries a group may be of that rests at this voltage; those whose limit it exceeds are ruled out. Source:
 * their limits.
 */
export const leftByVoltage = (perGroupV: number): LeftByVoltage => {
  const notAbove = chemistryKeys.filter((key) => perGroupV <= chemistries[key].fullV + aboveFullV);
  const isWithin = (key: Chemistry): boolean => perGroupV >= chemistries[key].lowestV;
  return { possible: notAbove.filter(isWithin), runDown: notAbove.filter((key) => !isWithin(key)) };
};
