'use client';

import type { FrameFacts } from '@/workshop/frame';
import { useRouter } from 'next/navigation';
import { startTransition, useEffect } from 'react';
import { isAsLate, isShown } from './later';
import { isHeldStill, useFollowing } from './stream';

/** The answer to what this page did itself draws it anew; only what comes after that is another's work. */
const pauseMs = 500;

/** Without a connection a page that is drawn anew is lost: so long later it is tried again. */
const awayMs = 2000;
const isThere = (): Promise<boolean> =>
  fetch('/api/v1/health').then(
    ({ status }) => status < 500,
    () => false,
  );

/** Draws a page anew after others' work, unless it holds still. */
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
    const look = async () => {
      const isConnected = await isThere();
      if (isOver) return;
      if (!isConnected) timer = setTimeout(look, awayMs);
      else if (!isHeldStill()) startTransition(() => router.refresh());
    };
    let timer = setTimeout(look, pauseMs);
    return () => {
      isOver = true;
      clearTimeout(timer);
    };
  }, [isBehind, frame, router]);
  return null;
}
