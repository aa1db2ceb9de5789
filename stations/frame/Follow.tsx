'use client';

import type { FrameFacts } from '@/workshop/frame';
import { useRouter } from 'next/navigation';
import { startTransition, useEffect } from 'react';
import { isAsLate } from './later';
import { isHeldStill, useFollowing } from './stream';

/** The answer to what this page did itself draws it anew; only what comes after that is another's work. */
const pauseMs = 500;

/** Draws a page anew after others' work, unless it holds still. */
export function Follow({ drawn }: { drawn: Pick<FrameFacts, 'state' | 'atMs' | 'judging'> }) {
  const router = useRouter();
  const { frame } = useFollowing();
  const isBehind =
    frame !== null &&
    isAsLate(frame, drawn) &&
    (frame.state !== drawn.state || (drawn.judging !== null && frame.judging === null));
  useEffect(() => {
    if (!isBehind) return;
    const timer = setTimeout(() => {
      if (!isHeldStill()) startTransition(() => router.refresh());
    }, pauseMs);
    return () => clearTimeout(timer);
  }, [isBehind, frame, router]);
  return null;
}
