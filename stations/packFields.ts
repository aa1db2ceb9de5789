import { z } from 'zod';

/** The code of a pack as it is given at a form. */
export const packCode = z
  .string()
  .trim()
  .toUpperCase()
  .regex(/^P[A-Z0-9]{1,7}$/, 'Code: P and up to seven letters or digits, such as PF2.');

/** What its board does for it. */
export const packBoard = z.enum(['full', 'protects', 'none']);
