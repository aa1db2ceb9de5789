'use client';

import { useRouter } from 'next/navigation';
import { useId } from 'react';
import Form from 'react-bootstrap/Form';

/** Which two protocols are held against each other. */
export function CompareForm({ protocols, first, second }: { protocols: [string, string][]; first: string; second: string }) {
  const router = useRouter();
  const id = useId();
  const choose = (a: string, b: string) => router.push(`/resistance/compare?first=${a}&second=${b}`);
  const select = (name: string, value: string, change: (value: string) => void) => (
    <div>
      <Form.Label htmlFor={id + name}>{name}</Form.Label>
      <Form.Select id={id + name} value={value} onChange={(event) => change(event.target.value)}>
        {protocols.map(([key, text]) => (
          <option key={key} value={key}>
            {text}
          </option>
        ))}
      </Form.Select>
    </div>
  );
  return (
    <div className="fields mb-2">
      {select('First', first, (value) => choose(value, second))}
      {select('Second', second, (value) => choose(first, value))}
    </div>
  );
}
