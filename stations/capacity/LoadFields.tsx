import type { DischargeLoad } from '@/core/capacity/discharge';
import { Field } from '@/ui/Field';
import { useId } from 'react';
import Form from 'react-bootstrap/Form';

/** What drew the current, as it is asked for. */
export interface ChosenLoad {
  load: string;
  loadTolerance: number | null;
}

interface LoadFieldsProps {
  kind: DischargeLoad['kind'];
  onKind(kind: DischargeLoad['kind']): void;
  /** What is known already. */
  figure?: number | undefined;
  tolerance?: number | null;
}

/** What drew the current of a log, and how well that is known. */
export function LoadFields({ kind, onKind, figure, tolerance }: LoadFieldsProps) {
  const id = useId();
  return (
    <>
      <div style={{ gridColumn: '1 / -1' }}>
        <Form.Label htmlFor={id}>What drew the current</Form.Label>
        <Form.Select
          id={id}
          name="load"
          value={kind}
          onChange={(event) => onKind(event.target.value as DischargeLoad['kind'])}
        >
          <option value="current">A constant current</option>
          <option value="resistor">A known resistor</option>
          <option value="column">As the log&rsquo;s own column says</option>
        </Form.Select>
      </div>
      {kind !== 'column' && (
        <>
          <Field
            key={kind}
            name="figure"
            label={kind === 'resistor' ? 'Resistor, Ω' : 'Current, A'}
            {...(figure === undefined ? {} : { defaultValue: figure })}
            figures
          />
          <Field
            key={`${kind}-tolerance`}
            name="tolerance"
            label={kind === 'resistor' ? 'Its tolerance, ± %' : 'Good to, ± %'}
            hint="1 is assumed where nothing is known"
            {...(tolerance == null ? {} : { defaultValue: Number((tolerance * 100).toPrecision(6)) })}
            figures
          />
        </>
      )}
    </>
  );
}

/** What was typed into those fields, or what is wrong with it. */
export function loadTyped(form: FormData): ChosenLoad | { refused: string } {
  const typed = (name: string): string => String(form.get(name) ?? '').trim();
  const numberOf = (name: string): number => Number(typed(name).replace(',', '.'));
  const kind = typed('load');
  if (kind === 'column') return { load: kind, loadTolerance: null };
  const figure = numberOf('figure');
  if (!(figure > 0))
    return { refused: kind === 'resistor' ? 'The resistor in Ω is missing.' : 'The current in A is missing.' };
  const tolerance = typed('tolerance') === '' ? null : numberOf('tolerance') / 100;
  if (tolerance !== null && !(tolerance >= 0 && tolerance < 1))
    return { refused: `"${typed('tolerance')}" is no tolerance: give it in per cent, such as 1.` };
  return { load: `${kind}:${figure}`, loadTolerance: tolerance };
}
