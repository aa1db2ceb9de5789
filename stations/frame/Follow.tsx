'use client';

import type { FrameFacts } from '@/workshop/frame';
import { useRouter } from 'next/navigation';
import { startTransition, useEffect } from 'react';
import { isAsLate, isShown } from './later';
import { isHeldStill, useFollowing } from './stream';
import { untilThere } from './there';

/** The answer to what this page did itself redraws it; only what comes after that is another's work. */
const pauseMs = 500;

/** Redraws a page after others' work, unless it holds still. */
export function Follow({ drawn }: { drawn: Pick<FrameFacts, 'state' | 'newest' | 'atMs' | 'judging'> }) {
  const router = useRouter();
  const { frame } = useFollowing();
  const isBehind =
    frame !== null &&
    isAsLate(frame, drawn) &&
    (!isShown(frame, drawn) || (drawn.judging !== null && frame.judging === null));
  useEffect(() => {
    if (!isBehind) return;
    let isOver = false;
    // Without a connection a page that is redrawn is lost.
    const look = async () => {
      await untilThere(() => isOver);
      if (!isOver && !isHeldStill()) startTransition(() => router.refresh());
    };
    const timer = setTimeout(look, pauseMs);
    return () => {
      isOver = true;
      clearTimeout(timer);
    };
  }, [isBehind, frame, router]);
  return null;
}
