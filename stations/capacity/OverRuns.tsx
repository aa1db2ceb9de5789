import { Link } from '@/ui/Link';
import { addressOf } from '@/ui/tokens';
import { When } from '@/ui/When';
import { type FormEvent, type ReactNode, useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { fetchRun, type OtherRun } from './runSamples';

interface OverRunsProps {
  /** The run they are laid over, and how many it has in series. */
  id: number;
  series: number;
  offered: readonly { id: number; label: ReactNode }[];
  over: readonly number[];
  onChange(over: number[]): void;
  onAdded(run: OtherRun): void;
}

/** This many stretches of a run that was asked for by its number. */
const stretches = 600;
/** With more runs than these one does not press each. */
const manyRuns = 4;

/** Chooses the runs that are laid over one: those of the same cell or pack, and any other by its number. */
export function OverRuns({ id, series, offered, over, onChange, onAdded }: OverRunsProps) {
  const [added, setAdded] = useState<{ id: number; label: ReactNode }[]>([]);
  const [typed, setTyped] = useState('');
  const [refused, setRefused] = useState<string | null>(null);
  const all = [...offered, ...added];

  const add = async (event: FormEvent): Promise<void> => {
    event.preventDefault();
    const wanted = Number(typed.trim().replace(/^run\s*/i, ''));
    if (!Number.isSafeInteger(wanted) || wanted < 1)
      return setRefused('Enter the number of a capacity test. It is in its title.');
    if (wanted === id) return setRefused('This is the test shown. Enter the number of another one.');
    setTyped('');
    setRefused(null);
    if (all.some((one) => one.id === wanted)) return onChange([...new Set([...over, wanted])]);
    try {
      const run = await fetchRun(wanted, stretches, new AbortController().signal);
      const label = (
        <>
          <Link href={`/capacity/${run.id}`}>Test {run.id}</Link> of{' '}
          <Link href={addressOf(run.subject)}>{run.subject}</Link>, <When at={run.endedAt} as="d MMM yyyy" />
          {run.series !== series && `, its ${run.series} in series drawn as ${series}`}
        </>
      );
      setAdded((known) => [...known, { id: run.id, label }]);
      onAdded(run);
    } catch (error) {
      setRefused(error instanceof Error ? error.message : String(error));
    }
  };

  return (
    <>
      <fieldset className="laid-over">
        <legend className="soft">Laid over it, thinner</legend>
        {all.map((other) => (
          <Form.Check
            key={other.id}
            id={`over-${other.id}`}
            label={other.label}
            checked={over.includes(other.id)}
            onChange={(event) =>
              onChange(event.target.checked ? [...over, other.id] : over.filter((one) => one !== other.id))
            }
          />
        ))}
        {all.length > manyRuns && (
          <Button variant="quiet" onClick={() => onChange(over.length > 0 ? [] : all.map((other) => other.id))}>
            {over.length > 0 ? 'None' : 'All'}
          </Button>
        )}
      </fieldset>
      <Form onSubmit={add} className="d-flex gap-2 align-items-center flex-wrap mt-2">
        <Form.Label htmlFor="over-other" className="soft mb-0">
          Another test, by its number
        </Form.Label>
        <Form.Control
          id="over-other"
          className="num"
          style={{ width: '7rem' }}
          inputMode="numeric"
          value={typed}
          isInvalid={refused !== null}
          aria-describedby="over-refused"
          onChange={(event) => setTyped(event.target.value)}
        />
        <Button type="submit" variant="quiet">
          Lay it over
        </Button>
        <span id="over-refused" role="status" className="hot">
          {refused && `◆ ${refused}`}
        </span>
      </Form>
    </>
  );
}
