/** The chemistries the workshop knows. The last one is never charged. */
export const chemistryKeys = ['li-ion', 'lipo', 'lihv', 'lfp', 'nimh', 'nicd', 'sla', 'alkaline'] as const;
export type Chemistry = (typeof chemistryKeys)[number];

/** Limits of one cell. Defaults of the trade; a cell's own data sheet overrides them. */
export interface ChemistryLimits {
  name: string;
  family: 'lithium' | 'nickel' | 'lead' | 'primary';
  nominalV: number;
  /** Charge end, volts. Nickel ends by charge put in or voltage dip: the highest voltage seen on charge. */
  fullV: number;
  /** Never below this, loaded. */
  lowestV: number;
  rechargeable: boolean;
}

/**
 * The limits of each chemistry, of one cell. Sources: common practice, except fullV of lfp, sla and nickel and lowestV
 * of sla and alkaline, which are from memory.
 */
export const chemistries: Record<Chemistry, ChemistryLimits> = {
  'li-ion': {
    name: 'Lithium-ion, cylindrical',
    family: 'lithium',
    nominalV: 3.6,
    fullV: 4.2,
    lowestV: 2.5,
    rechargeable: true,
  },
  lipo: {
    name: 'Lithium pouch, 4.20 V',
    family: 'lithium',
    nominalV: 3.7,
    fullV: 4.2,
    lowestV: 3.0,
    rechargeable: true,
  },
  lihv: {
    name: 'Lithium pouch, 4.35 V',
    family: 'lithium',
    nominalV: 3.8,
    fullV: 4.35,
    lowestV: 3.0,
    rechargeable: true,
  },
  lfp: {
    name: 'Lithium iron phosphate',
    family: 'lithium',
    nominalV: 3.2,
    fullV: 3.65,
    lowestV: 2.5,
    rechargeable: true,
  },
  nimh: {
    name: 'Nickel metal hydride',
    family: 'nickel',
    nominalV: 1.2,
    fullV: 1.55,
    lowestV: 1.0,
    rechargeable: true,
  },
  nicd: { name: 'Nickel cadmium', family: 'nickel', nominalV: 1.2, fullV: 1.55, lowestV: 1.0, rechargeable: true },
  sla: { name: 'Sealed lead-acid', family: 'lead', nominalV: 2.0, fullV: 2.45, lowestV: 1.75, rechargeable: true },
  alkaline: {
    name: 'Alkaline, primary',
    family: 'primary',
    nominalV: 1.5,
    fullV: 1.65,
    lowestV: 0.8,
    rechargeable: false,
  },
};

/** A rested cell above its charge end by more was overcharged, is of another chemistry, or the meter is wrong, V. */
export const aboveFullV = 0.05;
/** A group of a pack so far above full was overcharged, or is of another chemistry, V. From memory. */
export const groupAboveFullV = 0.03;
/** A cell or group at or below this is dead, V. Common practice. */
export const deadV = 0.5;

/**
 * Voltages at which a charger that goes by them ends, V per cell, of the lithium chemistries among these: each once,
 * the highest first; that of a lithium-ion cell where there is none among them.
 */
export function chargeEndsV(of: Iterable<Chemistry>): number[] {
  const ends = [...of].map((key) => chemistries[key]).filter(({ family }) => family === 'lithium');
  const voltages = (ends.length > 0 ? ends : [chemistries['li-ion']]).map(({ fullV }) => fullV);
  return [...new Set(voltages)].sort((a, b) => b - a);
}

/** Discharge current as a multiple of capacity, 1/h. */
export const cRate = (currentA: number, capacityAh: number): number => currentA / capacityAh;

/** Current of a C-rate rounded to the step a device can set, A. */
export const currentAtRate = (rate: number, capacityAh: number, stepA = 0): number => {
  const current = rate * capacityAh;
  // Half steps go up, as on paper; the tiny addition undoes binary rounding of figures like 5.25.
  return stepA > 0 ? Math.floor(current / stepA + 0.5 + 1e-9) * stepA : current;
};
