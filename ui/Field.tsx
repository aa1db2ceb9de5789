import type { ReactNode } from 'react';
import { useId } from 'react';
import Form from 'react-bootstrap/Form';

interface FieldProps {
  name: string;
  label: string;
  hint?: string;
  error?: string | undefined;
  defaultValue?: string | number;
  /** Choices turn the field into a list. */
  choices?: readonly (readonly [value: string, text: string])[];
  /** A day or a time, as the browser asks for one. */
  type?: 'date' | 'time' | 'datetime-local';
  figures?: boolean;
  wide?: boolean;
  suggestions?: readonly string[];
  onChange?(value: string): void;
  children?: ReactNode;
}

/** A labelled field of a form with its hint and, after a refusal, what was expected. */
export function Field({
  name,
  label,
  hint,
  error,
  defaultValue,
  choices,
  type,
  figures,
  wide,
  suggestions,
  onChange,
}: FieldProps) {
  const id = useId();
  const hinted = hint ? 'hint' : null;
  const describedBy = error ? 'error' : hinted;
  const common = {
    id,
    name,
    defaultValue,
    isInvalid: error !== undefined,
    ...(describedBy && { 'aria-describedby': `${id}-${describedBy}` }),
  };
  return (
    <div style={wide ? { gridColumn: '1 / -1' } : undefined}>
      <Form.Label htmlFor={id}>{label}</Form.Label>
      {choices ? (
        <Form.Select {...common} onChange={(event) => onChange?.(event.target.value)}>
          {choices.map(([value, text]) => (
            <option key={value} value={value}>
              {text}
            </option>
          ))}
        </Form.Select>
      ) : (
        <Form.Control
          {...common}
          type={type}
          className={figures || type ? 'num' : ''}
          inputMode={figures ? 'decimal' : undefined}
          autoComplete="off"
          list={suggestions && `${id}-list`}
          onChange={(event) => onChange?.(event.target.value)}
        />
      )}
      {suggestions && (
        <datalist id={`${id}-list`}>
          {suggestions.map((suggestion) => (
            <option key={suggestion} value={suggestion} />
          ))}
        </datalist>
      )}
      {error ? (
        <Form.Control.Feedback type="invalid" id={`${id}-error`}>
          {error}
        </Form.Control.Feedback>
      ) : (
        hint && <Form.Text id={`${id}-hint`}>{hint}</Form.Text>
      )}
    </div>
  );
}
