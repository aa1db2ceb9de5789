'use client';

import { type FormEvent, startTransition, useActionState } from 'react';

/** A form's server action and its answer. Unlike the form's own action, it leaves what was typed in place after a refusal. */
export function useFormAnswer<A>(action: (previous: A | null, form: FormData) => Promise<A>) {
  const [answer, run, pending] = useActionState<A | null, FormData>(action as (previous: Awaited<A> | null, form: FormData) => Promise<A>, null);
  const submit = (event: FormEvent<HTMLFormElement>): void => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    startTransition(() => run(form));
  };
  return { answer, pending, submit };
}
