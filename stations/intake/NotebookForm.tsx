'use client';

import type { CellModel } from '@/records/batches';
import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { counted } from '@/words/counted';
import { useMemo, useState } from 'react';
import Form from 'react-bootstrap/Form';
import { lookAtTable } from '../lookAtFile';
import { ModelFields } from './ModelFields';
import { bringNotebookAction } from './notebookActions';
import {
  figureFields,
  mostChars,
  type NotebookColumn,
  type NotebookField,
  notebookFields,
  readNotebook,
  understandNotebook,
} from './notebookTable';

interface NotebookFormProps {
  uid: string;
  models: CellModel[];
  /** Of readings with one figure. */
  protocols: [string, string][];
}

const fieldNames: Record<NotebookField, string> = {
  code: 'code',
  voltage: 'voltage at rest',
  mass: 'weight',
  capacity: 'capacity',
  resistance: 'resistance',
  date: 'day',
  note: 'note',
  none: 'left out',
};
const shownRows = 8;

/** A file that was chosen with its sheets, or why it cannot be read. */
type ChosenFile = { file: File; sheets: string[] } | { said: string };

/** A pasted table, what each of its columns is taken for, and where its rows go. */
export function NotebookForm({ uid, models, protocols }: NotebookFormProps) {
  const { answer, pending, form } = useFormAnswer('notebook', bringNotebookAction);
  const errors = answer?.ok === false ? answer.fields : {};
  const [pasted, setPasted] = useState('');
  const [changed, setChanged] = useState<Record<number, NotebookColumn>>({});
  const [file, setFile] = useState<ChosenFile | null>(null);
  const [into, setInto] = useState<'new' | 'here'>('new');
  const table = useMemo(() => (pasted.trim() === '' ? null : readNotebook(pasted)), [pasted]);
  const columns = table?.columns.map((column, i) => changed[i] ?? column) ?? [];
  const understood = table && understandNotebook(table, columns, new Date());
  const faults = new Set(understood?.faults.map(({ row, column }) => `${row} ${column}`));
  const first = table?.heading ? 2 : 1;
  const isFault = (row: number, column: number): boolean => faults.has(`${row + first} ${column + 1}`);
  const take = (text: string) => {
    setPasted(text);
    setChanged({});
  };
  const takeFile = (chosen: File | undefined, sheet?: string) => {
    if (!chosen) return;
    lookAtTable(chosen, mostChars, sheet).then(
      (seen) => {
        setFile('said' in seen ? { said: seen.said } : { file: chosen, sheets: seen.sheets ?? [] });
        take('said' in seen ? '' : seen.text);
      },
      () => setFile({ said: 'This file could not be read.' }),
    );
  };
  return (
    <form {...form} className="stack">
      <input type="hidden" name="uid" value={uid} />
      <input type="hidden" name="columns" value={JSON.stringify(columns)} />
      <section className="sheet lead-ink" aria-label="The table">
        <Form.Label htmlFor="pasted">Paste the table here, or drop its file (CSV, XLSX)</Form.Label>
        <Form.Control
          as="textarea"
          id="pasted"
          name="pasted"
          rows={table ? 3 : 8}
          className="num"
          value={pasted}
          isInvalid={errors.pasted !== undefined}
          onChange={(event) => {
            setFile(null);
            take(event.target.value);
          }}
          onDragOver={(event) => event.preventDefault()}
          onDrop={(event) => {
            event.preventDefault();
            takeFile(event.dataTransfer.files[0]);
          }}
          placeholder={'code\tvolts\tgrams\tmAh\nA1\t3.71\t44.9\t2130'}
        />
        <div className="d-flex gap-3 flex-wrap align-items-center mt-2">
          <Form.Control
            type="file"
            aria-label="Or choose its file"
            accept=".csv,.tsv,.txt,.xlsx"
            style={{ maxWidth: 340 }}
            onChange={(event) => takeFile((event.target as HTMLInputElement).files?.[0])}
          />
          {file && 'file' in file && file.sheets.length > 1 && (
            <Form.Select
              aria-label="Sheet"
              style={{ maxWidth: 220 }}
              onChange={(event) => takeFile(file.file, event.target.value)}
            >
              {file.sheets.map((sheet) => (
                <option key={sheet}>{sheet}</option>
              ))}
            </Form.Select>
          )}
          {file && 'said' in file && (
            <span className="hot" role="alert">
              ◆ {file.said}
            </span>
          )}
        </div>
        <p className="soft mb-0 mt-2">
          Codes, voltages at rest, weights, capacities, resistances, days, remarks; in any order, with or without a
          heading.
        </p>
      </section>
      {table && (
        <section className="sheet" aria-label="What was understood">
          <h2>
            {counted(table.rows.length, 'row')}
            {faults.size > 0 && <span className="hot"> · ◆ {counted(faults.size, 'figure')} not understood</span>}
          </h2>
          {table.tooLarge !== null && (
            <p className="hot" role="alert">
              ◆ {table.tooLarge}
            </p>
          )}
          <div className="table-scroll" tabIndex={0}>
            <table className="table">
              <thead>
                <tr>
                  <th />
                  {columns.map((column, i) => (
                    <th key={i} style={{ minWidth: 130 }}>
                      <ColumnChoice
                        place={i}
                        heading={table.heading?.[i] ?? ''}
                        column={column}
                        choose={(now) => setChanged((before) => ({ ...before, [i]: now }))}
                      />
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {table.rows.slice(0, shownRows).map((cells, row) => (
                  <tr key={row}>
                    <td className="soft num">{row + first}</td>
                    {columns.map(({ field }, i) => (
                      <td key={i} className={classOf(field, isFault(row, i))}>
                        {isFault(row, i) && '◆ '}
                        {cells[i]}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          {table.rows.length > shownRows && <p className="soft mb-1">and {table.rows.length - shownRows} more.</p>}
          {understood?.faults.slice(0, 5).map(({ row, column, said }) => (
            <p key={`${row} ${column}`} className="ask mb-1">
              Row {row}, column {column}: {said}
            </p>
          ))}
        </section>
      )}
      {table && (
        <section className="sheet lead-ember" aria-label="Where it goes">
          <div className="fields">
            <Field name="name" label="Kept under the name" defaultValue="Notebook" error={errors.name} />
            <Field
              name="into"
              label="Its rows are"
              choices={[
                ['new', 'new cells, a batch of their own'],
                ['here', 'cells and packs that are here'],
              ]}
              onChange={(value) => setInto(value === 'here' ? 'here' : 'new')}
            />
            {columns.some(({ field }) => field === 'resistance') && (
              <Field
                name="protocol"
                label="Protocol of its resistances"
                hint="They compare within that protocol alone"
                choices={[['', 'choose one'], ...protocols]}
                error={errors.protocol}
                wide
              />
            )}
            {into === 'new' && (
              <>
                <Field name="code" label="Code of the batch" hint="Cells become B1-001, B1-002 …" error={errors.code} />
                <Field name="origin" label="From where, used how" error={errors.origin} />
                <ModelFields form={form.ref} models={models} errors={errors} />
                <input type="hidden" name="notes" value="" />
              </>
            )}
          </div>
          <FormEnd
            refused={answer?.ok === false ? answer.said : null}
            pending={pending}
            label={`Bring in ${counted(table.rows.length, 'row')}`}
            busy="Bringing in …"
          />
        </section>
      )}
    </form>
  );
}

/** Of a cell of the preview. */
function classOf(field: NotebookField, isFault: boolean): string {
  if (isFault) return 'num hot';
  return field === 'none' ? 'num soft' : 'num';
}

interface ColumnChoiceProps {
  place: number;
  heading: string;
  column: NotebookColumn;
  choose(column: NotebookColumn): void;
}

/** What a column is taken for, to be changed. */
function ColumnChoice({ place, heading, column: { field, unit }, choose }: ColumnChoiceProps) {
  const units = figureFields[field]?.units ?? [];
  return (
    <>
      {heading !== '' && <div className="soft">{heading}</div>}
      <Form.Select
        size="sm"
        aria-label={`Column ${place + 1} is`}
        value={field}
        onChange={(event) => {
          const now = notebookFields.find((one) => one === event.target.value) ?? 'none';
          choose({ field: now, unit: figureFields[now]?.units[0]?.[0] ?? null });
        }}
      >
        {notebookFields.map((one) => (
          <option key={one} value={one}>
            {fieldNames[one]}
          </option>
        ))}
      </Form.Select>
      {units.length > 0 && (
        <Form.Select
          size="sm"
          className="mt-1"
          aria-label={`Unit of column ${place + 1}`}
          value={unit ?? ''}
          onChange={(event) => choose({ field, unit: event.target.value })}
        >
          {units.map(([name]) => (
            <option key={name} value={name}>
              in {name}
            </option>
          ))}
        </Form.Select>
      )}
    </>
  );
}
