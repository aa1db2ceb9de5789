'use client';

import { useRouter } from 'next/navigation';
import { useId } from 'react';
import Form from 'react-bootstrap/Form';

/** Which two protocols are compared with each other, on cells of which model. */
export function CompareForm({
  protocols,
  first,
  second,
  models,
  model,
}: {
  protocols: [string, string][];
  first: string;
  second: string;
  models: [string, string][];
  model: string;
}) {
  const router = useRouter();
  const id = useId();
  const choose = (a: string, b: string, of = model) =>
    router.push(`/resistance/compare?${new URLSearchParams({ first: a, second: b, model: of })}`);
  const select = (name: string, choices: [string, string][], value: string, change: (value: string) => void) => (
    <div>
      <Form.Label htmlFor={id + name}>{name}</Form.Label>
      <Form.Select id={id + name} value={value} onChange={(event) => change(event.target.value)}>
        {choices.map(([key, text]) => (
          <option key={key} value={key}>
            {text}
          </option>
        ))}
      </Form.Select>
    </div>
  );
  return (
    <div className="fields mb-2">
      {select('First', protocols, first, (value) => choose(value, second))}
      {select('Second', protocols, second, (value) => choose(first, value))}
      {models.length > 0 && select('Of', models, model, (value) => choose(first, second, value))}
    </div>
  );
}
