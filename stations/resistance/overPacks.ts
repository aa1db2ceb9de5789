/** The choice "packs" where a batch is chosen for a round; no code of a batch. */
export const overPacks = '(packs)';
