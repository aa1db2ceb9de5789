'use client';

import { type FormEvent, startTransition, useActionState, useEffect, useRef } from 'react';
import { z } from 'zod';
import { store, stored } from './stored';

type Fields = Record<string, string>;
const keyOf = (name: string): string => `bold-ember-form ${name}`;

function keptFields(name: string): Fields {
  try {
    const read = z.record(z.string(), z.string()).safeParse(JSON.parse(stored(keyOf(name), 'session') ?? 'null'));
    return read.success ? read.data : {};
  } catch {
    return {};
  }
}

const keep = (name: string, fields: Fields | null): void =>
  store(keyOf(name), fields === null ? null : JSON.stringify(fields), 'session');

const fieldsOf = (form: HTMLFormElement): Fields =>
  Object.fromEntries(
    [...new FormData(form)].flatMap(([field, value]) => (typeof value === 'string' ? [[field, value]] : [])),
  );

/** Types a value into a field as a hand would, so that what depends on it follows. */
function fill(form: HTMLFormElement, field: string, value: string): void {
  const input = form.elements.namedItem(field);
  if (
    !(
      input instanceof HTMLInputElement ||
      input instanceof HTMLSelectElement ||
      input instanceof HTMLTextAreaElement
    ) ||
    input.value === value ||
    input.type === 'hidden'
  )
    return;
  // Beside React's own property, which would take the value as known already.
  Object.getOwnPropertyDescriptor(Object.getPrototypeOf(input) as object, 'value')?.set?.call(input, value);
  input.dispatchEvent(new Event(input instanceof HTMLSelectElement ? 'change' : 'input', { bubbles: true }));
}

/**
 * Keeps what is typed into a form in this window, over a reload and a visit elsewhere, until it is sent.
 *
 * @param name distinguishes the form from others
 */
export function useKeptForm(name: string) {
  const ref = useRef<HTMLFormElement>(null);
  useEffect(() => {
    const kept = Object.entries(keptFields(name));
    if (kept.length === 0) return;
    const fillAll = () => {
      for (const [field, value] of kept) if (ref.current) fill(ref.current, field, value);
    };
    fillAll();
    // What was chosen may have brought further fields.
    const timer = setTimeout(fillAll);
    return () => clearTimeout(timer);
  }, [name]);
  return {
    /** For the form itself. */
    kept: { ref, onInput: (event: FormEvent<HTMLFormElement>): void => keep(name, fieldsOf(event.currentTarget)) },
    sent: () => keep(name, null),
    /** A refused one is kept again. */
    refused: () => ref.current && keep(name, fieldsOf(ref.current)),
  };
}

/**
 * A form's server action and its answer. What was typed stays in place after a refusal, and is kept until it is taken.
 *
 * @param name distinguishes the form from others
 */
export function useFormAnswer<A extends { ok: boolean }>(
  name: string,
  action: (previous: A | null, form: FormData) => Promise<A>,
) {
  const [answer, run, pending] = useActionState<A | null, FormData>(
    action as (previous: Awaited<A> | null, form: FormData) => Promise<A>,
    null,
  );
  const { kept, sent, refused } = useKeptForm(name);
  useEffect(() => {
    if (answer?.ok === false) refused();
    // Once for each answer.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [answer]);

  const onSubmit = (event: FormEvent<HTMLFormElement>): void => {
    event.preventDefault();
    const given = new FormData(event.currentTarget);
    sent();
    startTransition(() => run(given));
  };
  return { answer, pending, form: { ...kept, onSubmit } };
}
