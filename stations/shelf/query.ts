import { type Chemistry, chemistryKeys } from '@/core/chemistry/chemistries';
import { dutyNow } from '@/core/grading/duty';
import { type Status, statuses } from '@/core/grading/status';
import { parseQuantity } from '@/core/quantity/parse';
import { wordsOf } from '@/ui/tokens';

/** Which cells and packs of the shelf to show. */
export interface ShelfQuery {
  kind?: 'cell' | 'pack';
  series?: number;
  parallel?: number;
  chemistry?: Chemistry;
  standing?: Status;
  batch?: string;
  leastHealth?: number;
  mostHealth?: number;
  leastAh?: number;
  mostAh?: number;
  leastOhm?: number;
  mostOhm?: number;
  /** Words of a note. */
  note?: string;
}

export type ReadQuery = { ok: true; query: ShelfQuery } | { ok: false; said: string };

const kinds: Record<string, ShelfQuery['kind']> = { cell: 'cell', cells: 'cell', pack: 'pack', packs: 'pack' };

/**
 * Reads a filter such as `packs > 80 % 4s` or `light > 2 Ah < 60 mΩ S1 "blue pack"`: cells or packs, a build, a
 * chemistry, what they count as, a batch, limits of health, capacity and resistance, words of a note in quotes, in any
 * order. A bare figure behind < or > is Ah below 20, else mΩ.
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
    '%',
  ]);
  for (let i = 0; i < words.length; i++) {
    const word = words[i] as string;
    const lower = word.toLowerCase();
    const standing = statuses.find((name) => name === dutyNow(lower));
    const chemistry = chemistryKeys.find((key) => key === lower);
    const kind = kinds[lower];
    const build = /^(?:(\d{1,3})s)?(?:(\d{1,3})p)?$/.exec(lower);
    if (standing) {
      query.standing = standing;
    } else if (kind) {
      query.kind = kind;
    } else if (chemistry) {
      query.chemistry = chemistry;
    } else if (build) {
      if (build[1]) query.series = Number(build[1]);
      if (build[2]) query.parallel = Number(build[2]);
    } else if (word === '<' || word === '>') {
      const figure = words[++i] ?? '';
      const fraction = /^(\d+(?:[.,]\d+)?)%$/.exec(figure)?.[1];
      if (fraction) {
        query[word === '<' ? 'mostHealth' : 'leastHealth'] = Number(fraction.replace(',', '.')) / 100;
        continue;
      }
      const limit = parseQuantity(
        figure,
        Number.parseFloat(figure) < 20 ? { dimension: 'charge', factor: 1 } : { dimension: 'resistance', factor: 1e-3 },
      );
      if (limit?.dimension === 'charge') query[word === '<' ? 'mostAh' : 'leastAh'] = limit.value;
      else if (limit?.dimension === 'resistance') query[word === '<' ? 'mostOhm' : 'leastOhm'] = limit.value;
      else
        return {
          ok: false,
          said:
            `After ${word} a capacity, a resistance or a health is expected, ` +
            `such as ${word} 2 Ah, ${word} 60 mΩ or ${word} 80 %.`,
        };
    } else if (/^[a-z][a-z0-9]{0,5}$/i.test(word)) {
      query.batch = word.toUpperCase();
    } else {
      return {
        ok: false,
        said: `"${word}" was not understood. Try: packs > 80 % 4s, light > 2 Ah, S1 < 60 mΩ, "words of a note".`,
      };
    }
  }
  return { ok: true, query };
}

interface Filterable {
  id: number;
  chemistry: Chemistry;
  /** Of a cell alone. */
  batchCode?: string;
  /** Of a pack alone. */
  series?: number;
  parallel?: number;
  capacity: { value: number } | null;
  resistance: { value: number } | null;
  duty: { health: { value: number } | null };
  standing: Status;
}

/** @param noted the ids of those with such a note, where one is asked for */
export function matches(one: Filterable, query: ShelfQuery, noted: ReadonlySet<number> = new Set()): boolean {
  const within = (value: number | undefined, least: number | undefined, most: number | undefined) =>
    (least === undefined && most === undefined) ||
    (value !== undefined && value >= (least ?? -Infinity) && value <= (most ?? Infinity));
  return (
    (query.kind === undefined || query.kind === (one.batchCode === undefined ? 'pack' : 'cell')) &&
    (query.series === undefined || one.series === query.series) &&
    (query.parallel === undefined || one.parallel === query.parallel) &&
    (query.chemistry === undefined || one.chemistry === query.chemistry) &&
    (query.standing === undefined || one.standing === query.standing) &&
    (query.batch === undefined || one.batchCode === query.batch) &&
    (query.note === undefined || noted.has(one.id)) &&
    within(one.duty.health?.value, query.leastHealth, query.mostHealth) &&
    within(one.capacity?.value, query.leastAh, query.mostAh) &&
    within(one.resistance?.value, query.leastOhm, query.mostOhm)
  );
}
