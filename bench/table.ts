/** One line of the benchmark report. */
export interface BenchRow {
  what: string;
  ours: string;
  reference: string;
  ratio: string;
}

export const markdownTable = (rows: BenchRow[]): string =>
  [
    '| what | ours | reference | ratio |',
    '|---|---|---|---|',
    ...rows.map((row) => `| ${row.what} | ${row.ours} | ${row.reference} | ${row.ratio} |`),
  ].join('\n');

export const seconds = (ms: number): string => (ms < 1000 ? `${ms.toFixed(0)} ms` : `${(ms / 1000).toFixed(2)} s`);

/** Middle of an odd number of timings, so that one hiccup of the machine does not count. */
export const medianOf = (values: readonly number[]): number =>
  [...values].sort((a, b) => a - b)[values.length >> 1] ?? NaN;
