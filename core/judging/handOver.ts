import type { Chemistry } from '../chemistry/chemistries';

/**
 * Where each group is handed over from a rescue to the proper charge, V. Common practice; iron phosphate from memory.
 */
export const handOverV = (chemistry: Chemistry): number => (chemistry === 'lfp' ? 2.8 : 3.0);
