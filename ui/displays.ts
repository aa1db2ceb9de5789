import type { Display } from '@/core/quantity/format';

/** Resistance made comparable across sizes, from Ω·Ah. */
export const acrossSizes: Display = { unit: 'mΩ·Ah', factor: 1000, decimals: 1 };
