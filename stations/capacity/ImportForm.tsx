'use client';

import { columnName, warningText } from '@/words/warnings';
import { Grounds } from '@/stations/Grounds';
import { largestLogBytes, tooLargeText } from '@/core/capacity/logSize';
import type { DischargeLoad } from '@/core/capacity/discharge';
import type { LogMapping } from '@/core/capacity/logMapping';
import type { NamedMapping } from '@/records/logMappings';
import { Field } from '@/ui/Field';
import type { LogPreview } from '@/workers/preview.worker';
import type { LogColumn } from '@/core/capacity/logColumns';
import { counted } from '@/words/counted';
import { Progress } from '@/ui/Progress';
import { useKeptForm } from '@/ui/useFormAnswer';
import { cellCodeOf, weldCodesOf } from '@/ui/tokens';
import { When } from '@/ui/When';
import { type FormEvent, useId, useRef, useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { forgetMappingAction } from './actions';
import { LoadFields, loadTyped } from './LoadFields';
import { lookAtLog } from '../lookAtFile';
import { MappingTable } from './MappingTable';
import { type Sending, sendLog } from './sendLog';

interface ImportFormProps {
  /** The code of whose discharge it is, where that is known. */
  subject: string;
  /** Codes of cells and packs that wait for a discharge. */
  waiting: string[];
  packs: { code: string; series: number }[];
  loggers: { code: string; name: string }[];
  /** How files of known shapes are read. */
  mappings: NamedMapping[];
}

/** What a file says when read by its own headings, or as a person described it. */
interface Looked {
  seen: LogPreview;
  told: LogMapping | null;
}

/** The code of a cell or pack, as it is typed; of welded cells that of the first. */
const subjectOf = (typed: string): string => weldCodesOf(typed)?.[0] ?? cellCodeOf(typed) ?? typed.toUpperCase();

/** A log to keep with a cell or pack: the file is looked at here, then sent, read and stored while it arrives. */
export function ImportForm({ subject: known, waiting, packs, loggers, mappings }: ImportFormProps) {
  const fileId = useId();
  const { kept, sent } = useKeptForm(`import ${known}`);
  const [load, setLoad] = useState<DischargeLoad['kind']>('current');
  const [looked, setLooked] = useState<File | null>(null);
  const [preview, setPreview] = useState<LogPreview | null>(null);
  /** As a person entered it, here or when it was kept; null: the file says it. */
  const [mapping, setMapping] = useState<LogMapping | null>(null);
  const [keptAs, setKeptAs] = useState<string | null>(null);
  /** The last look at the file: an import before it ends waits for it. */
  const looking = useRef<Promise<Looked> | null>(null);
  /** What a person entered of the load is kept, however late a look at the file ends. */
  const isLoadGiven = useRef(false);
  const [sending, setSending] = useState<Sending | null>(null);
  const [fraction, setFraction] = useState(0);
  const [refused, setRefused] = useState<string | null>(null);

  const seriesOf = (typed: string): number => packs.find(({ code }) => code === subjectOf(typed.trim()))?.series ?? 1;
  const [series, setSeries] = useState(() => seriesOf(known));

  const show = (seen: LogPreview): void => {
    setPreview(seen);
    const hasCurrent = 'columns' in seen.understood && seen.understood.columns.some(({ field }) => field === 'current');
    if (hasCurrent && !isLoadGiven.current) setLoad('column');
  };
  const read = async (file: File, groups: number, given: LogMapping | null): Promise<Looked> => {
    setMapping(given);
    const seen = await lookAtLog(file, { series: groups, mapping: given ?? undefined });
    show(seen);
    return { seen, told: given };
  };
  /** A file that comes: read as files of its shape are, where that is known. */
  const look = async (file: File, groups: number): Promise<Looked> => {
    const first = await read(file, groups, null);
    const known = mappings.find((one) => one.shape === first.seen.shape);
    if (!known) return first;
    setKeptAs(known.name);
    return read(file, groups, known.mapping);
  };
  const choose = (file: File | undefined, groups: number): void => {
    setLooked(file ?? null);
    setPreview(null);
    setMapping(null);
    setKeptAs(null);
    setRefused(file && file.size > largestLogBytes ? tooLargeText(file.size) : null);
    looking.current = file && file.size <= largestLogBytes ? look(file, groups) : null;
  };
  const lookAtSheet = async (file: File, sheet: string): Promise<Looked> => {
    const seen = await lookAtLog(file, { series }, sheet);
    setMapping(seen.mapping);
    show(seen);
    return { seen, told: seen.mapping };
  };
  const change = (file: File, given: LogMapping | null): void => {
    if (given === null) setKeptAs(null);
    looking.current = read(file, series, given);
  };

  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const file = form.get('file');
    const text = (name: string) => String(form.get(name) ?? '').trim();
    const subject = subjectOf(text('subject'));
    if (!(file instanceof File) || file.name === '') return setRefused('Choose the file of the log.');
    if (file.size > largestLogBytes) return setRefused(tooLargeText(file.size));
    if (subject === '') return setRefused('Say which cell or pack was discharged.');
    const drawn = loadTyped(form);
    if ('refused' in drawn) return setRefused(drawn.refused);
    const found = await looking.current;
    if (!found) return;
    const { seen, told: mapping } = found;
    if ('said' in seen.understood) return setRefused(seen.understood.said);
    const endedAt = seen.understood.endedAt ?? new Date(text('ended'));
    if (endedAt !== 'told' && Number.isNaN(endedAt.getTime()))
      return setRefused('This log has no dates. Enter when it ended.');
    setRefused(null);
    setFraction(0);
    const given = {
      ...(drawn.loadTolerance !== null && { loadTolerance: String(drawn.loadTolerance) }),
      ...(text('logger') !== '' && { logger: text('logger') }),
      ...(text('groups') !== '' && { groups: text('groups') }),
      ...(mapping && { mapping: JSON.stringify(mapping) }),
      ...(mapping && text('keepAs') !== '' && { keepMappingAs: text('keepAs') }),
    };
    const run = sendLog(
      file,
      {
        subject,
        load: drawn.load,
        ...given,
        fileName: file.name,
        ...(endedAt !== 'told' && { endedAt: endedAt.toISOString() }),
      },
      setFraction,
    );
    setSending(run);
    const answer = await run.answer;
    setSending(null);
    if (!answer.ok) return setRefused(answer.said);
    sent();
    // A full page load: the bench line counts again, and the answer leads straight to the run.
    // eslint-disable-next-line @next/next/no-location-assign-relative-destination -- see above
    window.location.assign(`/capacity/${answer.id}`);
  };

  const understood = preview && !('said' in preview.understood) ? preview.understood : null;
  return (
    <form {...kept} onSubmit={(event) => void submit(event)} noValidate>
      <div className="fields">
        <Field
          name="subject"
          label="Cell or pack"
          hint="Its code, such as S1-014 or PF1; of welded ones either"
          defaultValue={known}
          suggestions={waiting}
          onChange={(typed) => {
            const now = seriesOf(typed);
            if (now === series) return;
            setSeries(now);
            if (looked) choose(looked, now);
          }}
          figures={false}
          wide
        />
        <div style={{ gridColumn: '1 / -1' }}>
          <Form.Label htmlFor={fileId}>Log: CSV, XLSX or JSON lines</Form.Label>
          <Form.Control
            id={fileId}
            type="file"
            name="file"
            accept=".csv,.txt,.tsv,.log,.xlsx,.json,.jsonl,.ndjson,.gz,text/csv,text/plain,application/gzip"
            onChange={(event) => choose((event.target as HTMLInputElement).files?.[0], series)}
          />
        </div>
        <LoadFields
          kind={load}
          onKind={(kind) => {
            isLoadGiven.current = true;
            setLoad(kind);
          }}
        />
        <Field
          name="logger"
          label="Logged by"
          hint="Its accuracy enters the ±"
          choices={[['', 'not known'], ...loggers.map(({ code, name }) => [code, `${code} · ${name}`] as const)]}
          wide
        />
        {mapping === null && understood?.columns.some(({ field }) => field === 'group') && (
          <Field
            name="groups"
            label="Group 1 of the log lies"
            hint="Needed where the last reading of the pack is in reverse order"
            choices={[
              ['', 'where its columns say'],
              ['from-black', 'at the negative terminal'],
              ['from-red', 'at the positive terminal'],
            ]}
            wide
          />
        )}
        {understood && understood.endedAt === null && <Ended file={looked} />}
      </div>
      {preview && <Understood preview={preview} />}
      {preview && looked && (
        <details className="mt-2" open={understood === null || mapping !== null}>
          <summary>{mapping === null ? 'Read it otherwise' : 'Read with these settings'}</summary>
          {keptAs !== null && (
            <p className="mb-2">
              Files of this layout use the stored columns of <b>{keptAs}</b>.{' '}
              <Button
                variant="quiet"
                onClick={() => {
                  void forgetMappingAction(keptAs);
                  change(looked, null);
                }}
              >
                Forget that
              </Button>
            </p>
          )}
          <MappingTable
            head={preview.head}
            sheets={preview.sheets}
            mapping={mapping ?? preview.mapping}
            series={series}
            onChange={(given) => change(looked, given)}
            onSheet={(sheet) => {
              looking.current = lookAtSheet(looked, sheet);
            }}
          />
          {mapping && (
            <div className="d-flex gap-3 align-items-end flex-wrap">
              <Field
                key={keptAs ?? ''}
                name="keepAs"
                label="Keep it for files of this shape, under the name"
                defaultValue={keptAs ?? ''}
              />
              <Button variant="quiet" onClick={() => change(looked, null)}>
                As the file says
              </Button>
            </div>
          )}
        </details>
      )}
      {sending && (
        <div className="mt-3" role="status">
          <Progress share={fraction} label="Sent so far" />
          <div className="d-flex justify-content-between align-items-center">
            <span className="soft">
              {fraction < 1 ? `Sending, ${Math.round(fraction * 100)} %` : 'Reading and storing …'}
            </span>
            <Button variant="quiet" onClick={sending.cancel}>
              Stop
            </Button>
          </div>
        </div>
      )}
      {refused && (
        <p className="hot mt-2 mb-0" role="alert">
          ◆ {refused}
        </p>
      )}
      <Button type="submit" variant="ember" className="mt-3" disabled={sending !== null}>
        Import
      </Button>
    </form>
  );
}

/** When a log without dates ended: only the person who took it knows; the date of its file is a hint, no more. */
function Ended({ file }: { file: File | null }) {
  const id = useId();
  return (
    <div style={{ gridColumn: '1 / -1' }}>
      <Form.Label htmlFor={id}>When it ended</Form.Label>
      <Form.Control id={id} type="datetime-local" name="ended" aria-describedby={`${id}-hint`} />
      <Form.Text id={`${id}-hint`}>
        The log has no dates. The rest is counted from here.
        {file && (
          <>
            {' '}
            Its file was last changed on <When at={file.lastModified} as="d MMM yyyy HH:mm" />.
          </>
        )}
      </Form.Text>
    </div>
  );
}

const units: Record<string, string> = { v: 'V', mv: 'mV', a: 'A', ma: 'mA', c: '°C' };
const forms = { clock: 'as hh:mm:ss', date: 'as a date and a time', day: 'as a day' };
const writtenText = ({ written, unit }: LogColumn): string =>
  written === 'number' ? `in ${units[unit] ?? unit}` : forms[written];

/** What a log is taken for, or why it cannot be read so. */
export function Understood({ preview: { understood } }: { preview: LogPreview }) {
  if ('said' in understood) return <p className="ask mt-3">{understood.said}</p>;
  return (
    <div className="mt-3 soft">
      Understood:{' '}
      {understood.columns
        .map((column) => `${columnName(column)} ${writtenText(column)} (column ${column.index + 1})`)
        .join(', ')}
      ; {understood.whole ? '' : 'more than '}
      {counted(understood.samples, 'sample')}.
      {understood.endedAt instanceof Date && (
        <>
          {' '}
          By its dates it ended on <When at={understood.endedAt} as="d MMM yyyy HH:mm" />.
        </>
      )}
      {understood.warnings.map((warning) => (
        <div key={warning.code}>
          ◆ {warningText(warning)} <Grounds code={warning.code} />
        </div>
      ))}
    </div>
  );
}
