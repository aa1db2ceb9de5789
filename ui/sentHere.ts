/** Entries that this window sent to be filed. */
const sent = new Set<string>();

export const noteSentHere = (entry: string): void => {
  sent.add(entry);
};
export const isSentHere = (entry: string): boolean => sent.has(entry);
