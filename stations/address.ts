/** The serial number of an address; 0, which nothing has, for anything else. */
export const numberOf = (text: string): number => (/^[1-9]\d{0,8}$/.test(text) ? Number(text) : 0);

/** The page of a list, from 1; the first for anything that is none. */
export const pageOf = (text: string | undefined): number => numberOf(text ?? '') || 1;
