'use client';

import { Field } from '@/ui/Field';
import { cellCodeOf, packCodeOf } from '@/ui/tokens';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import Button from 'react-bootstrap/Button';

/** The way to the sheet of a cell or pack, by its code. */
export function ChooseSubject() {
  const router = useRouter();
  const [error, setError] = useState<string | undefined>();
  return (
    <form
      noValidate
      aria-label="Whose sheet"
      onSubmit={(event) => {
        event.preventDefault();
        const typed = String(new FormData(event.currentTarget).get('code') ?? '').trim();
        const code = packCodeOf(typed) ?? cellCodeOf(typed);
        if (code) router.push(`/upkeep/${code}`);
        else setError('A code, such as PF1 or S1-014.');
      }}
    >
      <Field name="code" label="Code" error={error} />
      <Button type="submit" variant="plain" className="mt-2">
        Its sheet
      </Button>
    </form>
  );
}
