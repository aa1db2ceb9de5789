'use client';

import { useId } from 'react';
import Form from 'react-bootstrap/Form';

interface MeterChoiceProps {
  label: string;
  meters: readonly { code: string; name: string }[];
  value: string;
  choose(code: string): void;
}

/** What the lines typed now are read with. */
export function MeterChoice({ label, meters, value, choose }: MeterChoiceProps) {
  const id = useId();
  return (
    <>
      <Form.Label htmlFor={id} className="mb-0">
        {label}
      </Form.Label>
      <Form.Select
        id={id}
        value={value}
        onChange={(event) => choose(event.target.value)}
        style={{ width: 'auto', maxWidth: '100%' }}
      >
        <option value="">meter not noted</option>
        {meters.map(({ code, name }) => (
          <option key={code} value={code}>
            {code}: {name}
          </option>
        ))}
      </Form.Select>
    </>
  );
}
