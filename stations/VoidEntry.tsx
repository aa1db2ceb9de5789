'use client';

import { VoidForm } from '@/ui/VoidForm';
import { voidEntryAction } from './entryActions';

/** Voids an entry of a list; `name` says which one it is. */
export const VoidEntry = ({ entry, name }: { entry: string; name: string }) => (
  <VoidForm
    what={name}
    brief
    note="It stays stored and is shown struck out. Verdicts no longer use it."
    action={(reason) => voidEntryAction(entry, reason)}
  />
);
