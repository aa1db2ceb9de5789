import { type Duty, duties } from '@/core/grading/duty';
import { parseQuantity } from '@/core/quantity/parse';
import { wordsOf } from '@/ui/tokens';

/** Which cells of the shelf to show. */
export interface ShelfQuery {
  duty?: Duty;
  batch?: string;
  leastAh?: number;
  mostAh?: number;
  leastOhm?: number;
  mostOhm?: number;
}

export type ReadQuery = { ok: true; query: ShelfQuery } | { ok: false; said: string };

/**
 * Reads a filter such as `trickle > 2 Ah < 60 mΩ S1`: a duty, a batch, limits of capacity and resistance, in any order.
 * A bare figure behind < or > is Ah below 20, else mΩ.
 */
export function readQuery(text: string): ReadQuery {
  const query: ShelfQuery = {};
  const words = wordsOf(text.replace(/([<>])/g, ' $1 '), ['Ah', 'mAh', 'mΩ', 'mohm', 'ohm', 'Ω']);
  for (let i = 0; i < words.length; i++) {
    const word = words[i] as string;
    const duty = duties.find((name) => name === word.toLowerCase());
    if (duty) {
      query.duty = duty;
    } else if (word === '<' || word === '>') {
      const figure = words[++i] ?? '';
      const limit = parseQuantity(figure, Number.parseFloat(figure) < 20 ? { dimension: 'charge', factor: 1 } : { dimension: 'resistance', factor: 1e-3 });
      if (limit?.dimension === 'charge') query[word === '<' ? 'mostAh' : 'leastAh'] = limit.value;
      else if (limit?.dimension === 'resistance') query[word === '<' ? 'mostOhm' : 'leastOhm'] = limit.value;
      else return { ok: false, said: `After ${word} a capacity or a resistance is expected, such as ${word} 2 Ah or ${word} 60 mΩ.` };
    } else if (/^[a-z][a-z0-9]{0,5}$/i.test(word)) {
      query.batch = word.toUpperCase();
    } else {
      return { ok: false, said: `"${word}" was not understood. Try: trickle > 2 Ah, surge, S1 < 60 mΩ.` };
    }
  }
  return { ok: true, query };
}

interface Filterable {
  batchCode: string;
  capacity: { value: number } | null;
  resistance: { value: number } | null;
  duty: { duty: Duty | null };
}

export function matches(cell: Filterable, query: ShelfQuery): boolean {
  const within = (value: number | undefined, least: number | undefined, most: number | undefined) =>
    (least === undefined && most === undefined) || (value !== undefined && value >= (least ?? -Infinity) && value <= (most ?? Infinity));
  return (
    (query.duty === undefined || cell.duty.duty === query.duty) &&
    (query.batch === undefined || cell.batchCode === query.batch) &&
    within(cell.capacity?.value, query.leastAh, query.mostAh) &&
    within(cell.resistance?.value, query.leastOhm, query.mostOhm)
  );
}
