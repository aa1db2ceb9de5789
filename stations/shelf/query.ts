import { type Standing, standings } from '@/core/grading/standing';
import { parseQuantity } from '@/core/quantity/parse';
import { wordsOf } from '@/ui/tokens';

/** Which cells of the shelf to show. */
export interface ShelfQuery {
  standing?: Standing;
  batch?: string;
  leastAh?: number;
  mostAh?: number;
  leastOhm?: number;
  mostOhm?: number;
  /** Words of a note. */
  note?: string;
}

export type ReadQuery = { ok: true; query: ShelfQuery } | { ok: false; said: string };

/**
 * Reads a filter such as `trickle > 2 Ah < 60 mΩ S1 "blue pack"`: what cells count as, a batch, limits of capacity and
 * resistance, words of a note in quotes, in any order. A bare figure behind < or > is Ah below 20, else mΩ.
 */
export function readQuery(text: string): ReadQuery {
  const query: ShelfQuery = {};
  const note = /["“”]([^"“”]+)["“”]?/.exec(text);
  if (note?.[1]?.trim()) query.note = note[1].trim();
  const words = wordsOf(text.replace(note?.[0] ?? '', ' ').replace(/([<>])/g, ' $1 '), [
    'Ah',
    'mAh',
    'mΩ',
    'mohm',
    'ohm',
    'Ω',
  ]);
  for (let i = 0; i < words.length; i++) {
    const word = words[i] as string;
    const standing = standings.find((name) => name === word.toLowerCase());
    if (standing) {
      query.standing = standing;
    } else if (word === '<' || word === '>') {
      const figure = words[++i] ?? '';
      const limit = parseQuantity(
        figure,
        Number.parseFloat(figure) < 20 ? { dimension: 'charge', factor: 1 } : { dimension: 'resistance', factor: 1e-3 },
      );
      if (limit?.dimension === 'charge') query[word === '<' ? 'mostAh' : 'leastAh'] = limit.value;
      else if (limit?.dimension === 'resistance') query[word === '<' ? 'mostOhm' : 'leastOhm'] = limit.value;
      else
        return {
          ok: false,
          said: `After ${word} a capacity or a resistance is expected, such as ${word} 2 Ah or ${word} 60 mΩ.`,
        };
    } else if (/^[a-z][a-z0-9]{0,5}$/i.test(word)) {
      query.batch = word.toUpperCase();
    } else {
      return {
        ok: false,
        said: `"${word}" was not understood. Try: trickle > 2 Ah, rescue, S1 < 60 mΩ, "words of a note".`,
      };
    }
  }
  return { ok: true, query };
}

interface Filterable {
  id: number;
  batchCode: string;
  capacity: { value: number } | null;
  resistance: { value: number } | null;
  standing: Standing;
}

/** @param noted the ids of cells with such a note, where one is asked for */
export function matches(cell: Filterable, query: ShelfQuery, noted: ReadonlySet<number> = new Set()): boolean {
  const within = (value: number | undefined, least: number | undefined, most: number | undefined) =>
    (least === undefined && most === undefined) ||
    (value !== undefined && value >= (least ?? -Infinity) && value <= (most ?? Infinity));
  return (
    (query.standing === undefined || cell.standing === query.standing) &&
    (query.batch === undefined || cell.batchCode === query.batch) &&
    (query.note === undefined || noted.has(cell.id)) &&
    within(cell.capacity?.value, query.leastAh, query.mostAh) &&
    within(cell.resistance?.value, query.leastOhm, query.mostOhm)
  );
}
