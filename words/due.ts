type After = 'charge' | 'discharge';

const whileResting: Record<After, string> = {
  charge: 'Do not measure resistance yet.',
  discharge: 'Then read its voltage, and back to storage.',
};

/** What to do with what rests, or has rested. */
export const restAdvice = (after: After, isDue: boolean): string => (isDue ? 'Ready to measure.' : whileResting[after]);

/** Said aloud as the rest ends. */
export const restedText = (code: string, after: After): string =>
  `${code} has rested after its ${after}. Ready to measure.`;
