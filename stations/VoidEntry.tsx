'use client';

import { VoidForm } from '@/ui/VoidForm';
import { voidPackRoundAction, voidReadingAction } from './voidActions';

const acts = { reading: voidReadingAction, 'pack round': voidPackRoundAction };

/** Voids an entry where it stands in a list; `name` tells which one it is. */
export const VoidEntry = ({ of, entry, name }: { of: keyof typeof acts; entry: string; name: string }) => (
  <VoidForm what={name} brief note="It stays stored and is shown struck out; verdicts no longer stand on it." action={(reason) => acts[of](entry, reason)} />
);
