'use client';

import { VoidForm } from '@/ui/VoidForm';
import { type Voidable, voidEntryAction } from './voidActions';

/** Voids an entry where it stands in a list; `name` tells which one it is. */
export const VoidEntry = ({ of, entry, name }: { of: Voidable; entry: string; name: string }) => (
  <VoidForm
    what={name}
    brief
    note="It stays stored and is shown struck out; verdicts no longer stand on it."
    action={(reason) => voidEntryAction(of, entry, reason)}
  />
);
