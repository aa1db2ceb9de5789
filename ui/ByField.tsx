'use client';

import { useSyncExternalStore } from 'react';
import { Field } from './Field';
import { store, stored } from './stored';

const key = 'bold-ember-by';
const noChanges = () => () => undefined;

/** Who changes something that is kept with their name; remembered in this browser. */
export function ByField({ error }: { error?: string | undefined }) {
  // Not followed while it is typed: the field holds it then.
  const kept = useSyncExternalStore(
    noChanges,
    () => stored(key) ?? '',
    () => '',
  );
  return (
    <Field
      key={kept}
      name="by"
      label="Changed by"
      hint="Your name, kept with the change"
      error={error}
      defaultValue={kept}
      onChange={(name) => store(key, name.trim() === '' ? null : name)}
    />
  );
}
