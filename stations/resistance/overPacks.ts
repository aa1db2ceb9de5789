/** What stands for the packs where else a batch is chosen for a round; no code of a batch. */
export const overPacks = '(packs)';
