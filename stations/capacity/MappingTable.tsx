'use client';

import type { LogHead, LogMapping, MappedColumn, MappedField } from '@/core/capacity/logMapping';
import { counters } from '@/core/capacity/logColumns';
import { unitsOf } from '@/core/capacity/logUnits';
import { timeFormOf } from '@/core/capacity/timeText';
import { useId } from 'react';
import Form from 'react-bootstrap/Form';

interface MappingTableProps {
  head: LogHead;
  /** The sheets of a workbook; null where it is none. */
  sheets: string[] | null;
  mapping: LogMapping;
  /** Groups of the pack; 1 of a cell. */
  series: number;
  onChange(mapping: LogMapping): void;
  /** Another sheet is looked at, and read by its own headings. */
  onSheet(sheet: string): void;
}

const volts = [
  ['v', 'V'],
  ['mv', 'mV'],
] as const;
/** The units worth offering, and how they are written. */
const offered: Record<MappedField, readonly (readonly [unit: string, written: string])[]> = {
  time: [
    ['s', 's'],
    ['ms', 'ms'],
    ['min', 'min'],
    ['h', 'h'],
    ['d', 'days'],
  ],
  day: [],
  voltage: volts,
  group: volts,
  tap: volts,
  current: [
    ['a', 'A'],
    ['ma', 'mA'],
  ],
  temperature: [['c', '°C']],
  cycle: [],
  step: [],
};
const names: Record<MappedField, string> = {
  time: 'time',
  day: 'date of the time',
  voltage: 'voltage',
  group: 'group',
  tap: 'tap, to black',
  current: 'current',
  temperature: 'temperature',
  cycle: 'cycle number',
  step: 'step number',
};
const separators = [
  [',', 'comma'],
  [';', 'semicolon'],
  ['\t', 'tab'],
  ['|', 'bar'],
] as const;
/** Rows shown below those of the heading. */
const samplesShown = 4;

/** The offered unit that means the same as the one that was read. */
const offeredUnit = ({ field, unit }: MappedColumn): string => {
  const factors = unitsOf(field === 'tap' || field === 'day' ? 'group' : field);
  return offered[field].find(([one]) => factors[one] === factors[unit])?.[0] ?? unit;
};

/** How a file is read, over its first rows: which column is what, in which unit; everything can be changed. */
export function MappingTable({ head, sheets, mapping, series, onChange, onSheet }: MappingTableProps) {
  const id = useId();
  const rows = head.rows.slice(0, mapping.headingRows + samplesShown);
  const width = Math.max(...rows.map((row) => row.length), 0);
  const columnAt = (index: number): MappedColumn | undefined => mapping.columns.find((one) => one.index === index);
  const places = Array.from({ length: width }, (_, index) => index);
  const groups = series > 1 ? Array.from({ length: series }, (_, i) => i + 1) : [];

  const take = (index: number, chosen: string): void => {
    const [field, position] = chosen.split(' ') as [MappedField | '', string | undefined];
    // What is said of this column is taken from the one that held it until now.
    const others = mapping.columns.filter(
      (one) => one.index !== index && !(one.field === field && String(one.position ?? '') === (position ?? '')),
    );
    const column: MappedColumn[] =
      field === ''
        ? []
        : [{ index, field, ...(position && { position: Number(position) }), unit: offered[field][0]?.[0] ?? '' }];
    onChange({ ...mapping, columns: [...others, ...column].sort((a, b) => a.index - b.index) });
  };
  const measure = (index: number, unit: string): void =>
    onChange({ ...mapping, columns: mapping.columns.map((one) => (one.index === index ? { ...one, unit } : one)) });
  /** A clock or a date needs no unit. */
  const isPlain = (index: number): boolean => ['number', null].includes(timeFormOf(rows.at(-1)?.[index]?.trim() ?? ''));

  return (
    <div className="mapping">
      <div className="fields">
        {sheets && sheets.length > 1 && (
          <div>
            <Form.Label htmlFor={`${id}-sheet`}>Sheet</Form.Label>
            <Form.Select
              id={`${id}-sheet`}
              value={mapping.sheet ?? sheets[0]}
              onChange={(event) => onSheet(event.target.value)}
            >
              {sheets.map((name) => (
                <option key={name}>{name}</option>
              ))}
            </Form.Select>
          </div>
        )}
        {sheets === null && head.separator !== null && (
          <div>
            <Form.Label htmlFor={`${id}-separator`}>Between columns</Form.Label>
            <Form.Select
              id={`${id}-separator`}
              value={mapping.separator ?? head.separator}
              onChange={(event) => onChange({ ...mapping, separator: event.target.value })}
            >
              {separators.map(([sign, name]) => (
                <option key={name} value={sign}>
                  {name}
                </option>
              ))}
            </Form.Select>
          </div>
        )}
        <div>
          <Form.Label htmlFor={`${id}-rows`}>Rows above the samples</Form.Label>
          <Form.Control
            id={`${id}-rows`}
            type="number"
            min={0}
            max={20}
            className="num"
            value={mapping.headingRows}
            onChange={(event) => onChange({ ...mapping, headingRows: Number(event.target.value) })}
          />
        </div>
        {!mapping.columns.some(({ field }) => field === 'time') && (
          <div>
            <Form.Label htmlFor={`${id}-interval`}>Seconds from sample to sample</Form.Label>
            <Form.Control
              id={`${id}-interval`}
              type="number"
              min={0}
              step="any"
              className="num"
              value={mapping.intervalS ?? ''}
              onChange={(event) =>
                onChange({
                  ...mapping,
                  intervalS: Number(event.target.value) > 0 ? Number(event.target.value) : undefined,
                })
              }
            />
          </div>
        )}
      </div>
      <div className="table-scroll" tabIndex={0}>
        <table className="table num">
          <thead>
            <tr>
              <th scope="col">
                <span className="visually-hidden">Row</span>
              </th>
              {places.map((index) => {
                const column = columnAt(index);
                return (
                  <th key={index} scope="col">
                    <Form.Select
                      size="sm"
                      aria-label={`Column ${index + 1} is`}
                      value={column ? [column.field, column.position].filter(Boolean).join(' ') : ''}
                      onChange={(event) => take(index, event.target.value)}
                    >
                      <option value="">passed over</option>
                      {(['time', 'day', 'voltage', 'current', 'temperature', ...counters] as const).map((field) => (
                        <option key={field} value={field}>
                          {names[field]}
                        </option>
                      ))}
                      {(['group', 'tap'] as const).flatMap((field) =>
                        groups.map((position) => (
                          <option key={`${field} ${position}`} value={`${field} ${position}`}>
                            {names[field]} {position}
                          </option>
                        )),
                      )}
                    </Form.Select>
                    {column && offered[column.field].length > 0 && (column.field !== 'time' || isPlain(index)) && (
                      <Form.Select
                        size="sm"
                        aria-label={`Unit of column ${index + 1}`}
                        value={offeredUnit(column)}
                        onChange={(event) => measure(index, event.target.value)}
                      >
                        {offered[column.field].map(([unit, written]) => (
                          <option key={unit} value={unit}>
                            in {written}
                          </option>
                        ))}
                      </Form.Select>
                    )}
                  </th>
                );
              })}
            </tr>
          </thead>
          <tbody>
            {rows.map((row, number) => (
              <tr key={number} className={number < mapping.headingRows ? 'soft' : ''}>
                <th scope="row">{number + 1}</th>
                {places.map((index) => (
                  <td key={index}>{row[index]}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}
