import { ImpossibleInput } from '../impossibleInput';

/** Where the last cell that holds something ends. */
const filledLength = (row: readonly string[]): number => row.findLastIndex((cell) => cell.trim() !== '') + 1;

/**
 * Refuses a table with commas between its fields whose figures have commas too: read as it is, `0,4,100` would be 4 V.
 * With a heading its rows hold more fields than the heading names. Without one, a column of small whole numbers stands
 * before a column of two or three digits that never changes its length.
 *
 * @param rows the first rows, tokenised at commas
 * @param headingRows how many of them come before the first sample
 * @throws ImpossibleInput with the code `more-fields`
 */
export function refuseDecimalCommas(rows: readonly (readonly string[])[], headingRows: number): void {
  const samples = rows.slice(headingRows).filter((row) => filledLength(row) > 0);
  const headings = Math.max(0, ...rows.slice(0, headingRows).map(filledLength));
  const wider = samples.filter((row) => filledLength(row) > headings);
  if (headingRows > 0 ? wider.length > samples.length / 2 : hasSplitFigures(samples))
    throw new ImpossibleInput('csv', { code: 'more-fields', headings, fields: filledLength(wider[0] ?? []) });
}

function hasSplitFigures(rows: readonly (readonly string[])[]): boolean {
  const width = Math.min(...rows.map(filledLength));
  const column = (i: number): string[] => rows.map((row) => (row[i] ?? '').trim());
  // The first column is the time.
  for (let i = 1; i + 1 < width; i++) {
    const [whole, decimals] = [column(i), column(i + 1)];
    const length = decimals[0]?.length ?? 0;
    const areDecimals =
      length >= 2 && length <= 3 && decimals.every((one) => /^\d+$/.test(one) && one.length === length);
    if (areDecimals && whole.every((one) => /^-?\d{1,2}$/.test(one))) return true;
  }
  return false;
}
