'use client';

import { columnName, warningText } from '@/words/warnings';
import { largestLogBytes, tooLargeText } from '@/core/capacity/logSize';
import { Field } from '@/ui/Field';
import type { LogPreview, Previewer } from '@/workers/preview.worker';
import type { LogColumn, Logged } from '@/core/capacity/logColumns';
import { counted } from '@/words/counted';
import { useKeptForm } from '@/ui/useFormAnswer';
import { cellCodeOf, weldCodesOf } from '@/ui/tokens';
import { When } from '@/ui/When';
import { wrap } from 'comlink';
import { type FormEvent, useId, useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import ProgressBar from 'react-bootstrap/ProgressBar';
import { type Sending, sendLog } from './sendLog';

interface ImportFormProps {
  /** The code of whose discharge it is, where that is known. */
  subject: string;
  /** Codes of cells and packs that wait for a discharge. */
  waiting: string[];
  packs: { code: string; series: number }[];
  loggers: { code: string; name: string }[];
}

/** The code of a cell or pack, as it is typed; of welded cells that of the first. */
const subjectOf = (typed: string): string => weldCodesOf(typed)?.[0] ?? cellCodeOf(typed) ?? typed.toUpperCase();

/** A log to keep with a cell or pack: the file is looked at here, then sent, read and stored while it arrives. */
export function ImportForm({ subject: known, waiting, packs, loggers }: ImportFormProps) {
  const fileId = useId();
  const { kept, sent } = useKeptForm(`import ${known}`);
  const [load, setLoad] = useState('current');
  const [looked, setLooked] = useState<File | null>(null);
  const [preview, setPreview] = useState<LogPreview | null>(null);
  const [sending, setSending] = useState<Sending | null>(null);
  const [share, setShare] = useState(0);
  const [refused, setRefused] = useState<string | null>(null);

  const seriesOf = (typed: string): number => packs.find(({ code }) => code === subjectOf(typed.trim()))?.series ?? 1;
  const [series, setSeries] = useState(() => seriesOf(known));

  const look = async (file: File | undefined, logged: Logged) => {
    setLooked(file ?? null);
    setPreview(null);
    setRefused(null);
    if (!file) return;
    if (file.size > largestLogBytes) {
      setRefused(tooLargeText(file.size));
      return;
    }
    const worker = new Worker(new URL('../../workers/preview.worker.ts', import.meta.url), { type: 'module' });
    const seen = await wrap<Previewer>(worker).preview(file, logged);
    worker.terminate();
    setPreview(seen);
    if (seen.ok && seen.columns.some((column) => column.field === 'current')) setLoad('column');
  };

  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const file = form.get('file');
    const text = (name: string) => String(form.get(name) ?? '').trim();
    const subject = subjectOf(text('subject'));
    const figure = Number(text('figure').replace(',', '.'));
    if (!(file instanceof File) || file.name === '') return setRefused('Choose the file of the log.');
    if (file.size > largestLogBytes) return setRefused(tooLargeText(file.size));
    if (subject === '') return setRefused('Say which cell or pack was discharged.');
    const tolerance = text('tolerance') === '' ? null : Number(text('tolerance').replace(',', '.')) / 100;
    if (load !== 'column' && !(figure > 0))
      return setRefused(load === 'resistor' ? 'The resistor in Ω is missing.' : 'The current in A is missing.');
    if (tolerance !== null && !(tolerance >= 0 && tolerance < 1))
      return setRefused(`"${text('tolerance')}" is no tolerance: give it in per cent, such as 1.`);
    if (!preview) return setRefused('The file is still being looked at; press once more.');
    if (!preview.ok) return setRefused(preview.said);
    const endedAt = preview.endedAt ?? new Date(text('ended'));
    if (endedAt !== 'told' && Number.isNaN(endedAt.getTime()))
      return setRefused('This log tells no dates: say when it ended.');
    setRefused(null);
    setShare(0);
    const told = {
      ...(tolerance !== null && { loadTolerance: String(tolerance) }),
      ...(text('logger') !== '' && { logger: text('logger') }),
      ...(text('groups') !== '' && { groups: text('groups') }),
    };
    const run = sendLog(
      file,
      {
        subject,
        load: load === 'column' ? load : `${load}:${figure}`,
        ...told,
        fileName: file.name,
        ...(endedAt !== 'told' && { endedAt: endedAt.toISOString() }),
      },
      setShare,
    );
    setSending(run);
    const answer = await run.answer;
    setSending(null);
    if (!answer.ok) return setRefused(answer.said);
    sent();
    // A whole load: the bench line counts anew, and nothing stands between the answer and the run.
    // eslint-disable-next-line @next/next/no-location-assign-relative-destination -- see above
    window.location.assign(`/runs/${answer.id}`);
  };

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
            if (looked) void look(looked, { series: now });
          }}
          figures={false}
          wide
        />
        <div style={{ gridColumn: '1 / -1' }}>
          <Form.Label htmlFor={fileId}>Log: CSV or JSON lines, gzipped or not</Form.Label>
          <Form.Control
            id={fileId}
            type="file"
            name="file"
            accept=".csv,.txt,.tsv,.log,.json,.jsonl,.ndjson,.gz,text/csv,text/plain,application/gzip"
            onChange={(event) => void look((event.target as HTMLInputElement).files?.[0], { series })}
          />
        </div>
        <div style={{ gridColumn: '1 / -1' }}>
          <Form.Label htmlFor={`${fileId}-load`}>What drew the current</Form.Label>
          <Form.Select id={`${fileId}-load`} name="load" value={load} onChange={(event) => setLoad(event.target.value)}>
            <option value="current">A constant current</option>
            <option value="resistor">A known resistor</option>
            <option value="column">As the log&rsquo;s own column says</option>
          </Form.Select>
        </div>
        {load !== 'column' && (
          <Field key={load} name="figure" label={load === 'resistor' ? 'Resistor, Ω' : 'Current, A'} figures />
        )}
        {load !== 'column' && (
          <Field
            key={`${load}-tolerance`}
            name="tolerance"
            label={load === 'resistor' ? 'Its tolerance, ± %' : 'Good to, ± %'}
            hint="1 is assumed where nothing is known"
            figures
          />
        )}
        <Field
          name="logger"
          label="Logged by"
          hint="Its accuracy enters the ±"
          choices={[['', 'not known'], ...loggers.map(({ code, name }) => [code, `${code} · ${name}`] as const)]}
          wide
        />
        {preview?.ok && preview.columns.some(({ field }) => field === 'group') && (
          <Field
            name="groups"
            label="Group 1 of the log lies"
            hint="Asked about where the pack's last reading stands the other way round"
            choices={[
              ['', 'where its columns say'],
              ['from-black', 'at the black lead'],
              ['from-red', 'at the red lead'],
            ]}
            wide
          />
        )}
        {preview?.ok && preview.endedAt === null && <Ended file={looked} />}
      </div>
      {preview && <Preview preview={preview} />}
      {sending && (
        <div className="mt-3" role="status">
          <ProgressBar now={share * 100} aria-label="Sent so far" />
          <div className="d-flex justify-content-between align-items-center">
            <span className="soft">
              {share < 1 ? `Sending, ${Math.round(share * 100)} %` : 'Reading and storing …'}
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

/** When a log without dates ended: nobody but the one who took it knows; the date of its file is a hint, no more. */
function Ended({ file }: { file: File | null }) {
  const id = useId();
  return (
    <div style={{ gridColumn: '1 / -1' }}>
      <Form.Label htmlFor={id}>When it ended</Form.Label>
      <Form.Control id={id} type="datetime-local" name="ended" aria-describedby={`${id}-hint`} />
      <Form.Text id={`${id}-hint`}>
        The log tells no dates; its rest is counted from here.
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

function Preview({ preview }: { preview: LogPreview }) {
  if (!preview.ok) return <p className="ask mt-3">{preview.said}</p>;
  return (
    <div className="mt-3 soft">
      Understood:{' '}
      {preview.columns
        .map((column) => `${columnName(column)} ${writtenText(column)} (column ${column.index + 1})`)
        .join(', ')}
      ; {preview.whole ? '' : 'more than '}
      {counted(preview.samples, 'sample')}.
      {preview.endedAt instanceof Date && (
        <>
          {' '}
          By its dates it ended on <When at={preview.endedAt} as="d MMM yyyy HH:mm" />.
        </>
      )}
      {preview.warnings.map((warning) => (
        <div key={warning.code}>◆ {warningText(warning)}</div>
      ))}
    </div>
  );
}
