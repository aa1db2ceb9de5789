'use client';

import { Field } from '@/ui/Field';
import { useRouter } from 'next/navigation';
import Button from 'react-bootstrap/Button';

/** Asks for the code of a cell or pack to plan a resistor for. */
export function CodeForm() {
  const router = useRouter();
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        const code = new FormData(event.currentTarget).get('code');
        if (typeof code === 'string' && code.trim() !== '')
          router.push(`/capacity/resistor?${new URLSearchParams({ subject: code.trim() })}`);
      }}
    >
      <Field name="code" label="Cell or pack" hint="Such as S1-014 or PF1" figures />
      <Button type="submit" variant="ember" className="mt-3">
        Plan it
      </Button>
    </form>
  );
}
