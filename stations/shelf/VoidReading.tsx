'use client';

import { VoidForm } from '@/ui/VoidForm';
import { voidReadingAction } from './actions';

export const VoidReading = ({ entry }: { entry: string }) => <VoidForm what="this entry" note="It stays stored and is shown struck out; verdicts no longer stand on it." action={(reason) => voidReadingAction(entry, reason)} />;
