import type { LogField } from './logColumns';

/** What one column of a log is, as somebody says; of a group its place from the black lead. */
export interface MappedColumn {
  index: number;
  field: LogField;
  position?: number;
  unit: string;
}

/** How somebody says that a log is to be read. */
export interface LogMapping {
  separator?: string;
  /** Rows before the first sample. */
  headingRows: number;
  columns: MappedColumn[];
  /** From sample to sample, where no column tells the time, s. */
  intervalS?: number;
}
