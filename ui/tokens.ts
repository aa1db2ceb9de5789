/**
 * Splits a typed line into words, with units joined to the figure before them: `L2-014 43,5 mΩ` gives two words.
 * Only the given units are joined, so that a letter may mean something else.
 */
export function wordsOf(text: string, units: readonly string[]): string[] {
  const words: string[] = [];
  for (const word of text.trim().split(/\s+/).filter(Boolean)) {
    const before = words[words.length - 1];
    const isUnit = units.some((unit) => unit.toLowerCase() === word.toLowerCase());
    if (isUnit && before !== undefined && /\d$/.test(before)) words[words.length - 1] = before + word;
    else words.push(word);
  }
  return words;
}

/** A cell code such as S1-014, in capitals; null for any other word. */
export const cellCodeOf = (word: string | undefined): string | null =>
  word && /^[a-z][a-z0-9]{0,5}-\d{1,5}$/i.test(word) ? padded(word.toUpperCase()) : null;

/** The codes of cells welded together, typed as S1-004+005 or S1-004+S1-005; null for any other word. */
export function weldCodesOf(word: string | undefined): string[] | null {
  const [first = '', ...more] = (word ?? '').split('+');
  const code = cellCodeOf(first);
  if (code === null || more.length === 0) return null;
  const batch = code.slice(0, code.indexOf('-'));
  const codes = more.map((one) => (/^\d{1,5}$/.test(one) ? cellCodeOf(`${batch}-${one}`) : cellCodeOf(one)));
  return codes.every((one) => one !== null) ? [...new Set([code, ...codes])].sort() : null;
}

/** Cells welded together, as they are typed: S1-004+005. */
export function weldText(codes: readonly string[]): string {
  const [first = '', ...more] = [...codes].sort();
  const batch = first.slice(0, first.indexOf('-') + 1);
  return [first, ...more.map((code) => (code.startsWith(batch) ? code.slice(batch.length) : code))].join('+');
}

/** S1-14 is S1-014. */
const padded = (code: string): string => code.replace(/-(\d+)$/, (_, digits: string) => `-${digits.padStart(3, '0')}`);

/** A pack code such as PF1, in capitals; null for any other word. */
export const packCodeOf = (word: string | undefined): string | null =>
  word && /^p[a-z0-9]{1,7}$/i.test(word) ? word.toUpperCase() : null;

/** `21.5C` is a temperature at the bench: the unit is spelt out, since a bare C is also a rate. */
export const withDegrees = (word: string): string => word.replace(/(\d)°?c$/i, '$1degC');

/** Where a cell or a pack has its page. */
export const addressOf = (code: string): string => (code.includes('-') ? `/cells/${code}` : `/clinic/${code}`);
