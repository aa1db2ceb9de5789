'use client';

import type { FrameFacts } from '@/workshop/frame';
import type { Heard } from '@/workshop/stream';
import { isSentHere } from '@/ui/sentHere';
import { useEffect, useEffectEvent, useSyncExternalStore } from 'react';
import { isAsLate } from './later';

/** What this page heard last, and whether it hears. */
export interface Following {
  frame: FrameFacts | null;
  /** How far the workshop's clock is ahead of this machine's; null while that is not known. */
  aheadMs: number | null;
  isConnected: boolean;
}

type Filed = Heard['filed'][number];

/** As long as a browser waits before it connects again. */
const againMs = 3000;

const silent: Following = { frame: null, aheadMs: null, isConnected: true };
let following = silent;
let source: EventSource | null = null;
const drawers = new Set<() => void>();
const listeners = new Set<(filed: Filed) => void>();

function hear(now: Following): void {
  following = now;
  for (const draw of drawers) draw();
}

/** A hidden page hears nothing: a browser keeps few connections, and has none left for many tabs. */
function follow(): void {
  const wanted = drawers.size > 0 && document.visibilityState === 'visible';
  if (!wanted) {
    source?.close();
    source = null;
    return;
  }
  if (source) return;
  source = new EventSource('/api/v1/events');
  source.onmessage = ({ data }: MessageEvent<string>) => {
    const { frame, filed, nowMs } = JSON.parse(data) as Heard;
    hear({ frame: frame ?? following.frame, aheadMs: nowMs - Date.now(), isConnected: frame !== null });
    for (const one of filed) for (const tell of listeners) tell(one);
  };
  const opened = source;
  source.onerror = () => {
    // A page that never heard the workshop goes by the clock of this machine.
    hear({ ...following, aheadMs: following.aheadMs ?? 0, isConnected: false });
    // After a refusal, such as of a busy server, a browser does not try again by itself.
    if (opened.readyState !== EventSource.CLOSED || source !== opened) return;
    source = null;
    setTimeout(follow, againMs);
  };
}

function subscribe(draw: () => void): () => void {
  drawers.add(draw);
  document.addEventListener('visibilitychange', follow);
  follow();
  return () => {
    drawers.delete(draw);
    if (drawers.size === 0) document.removeEventListener('visibilitychange', follow);
    follow();
  };
}

export const useFollowing = (): Following =>
  useSyncExternalStore(
    subscribe,
    () => following,
    () => silent,
  );

/** The frame as it was drawn with the page, or as it was heard of since. */
export function useFrame(drawn: FrameFacts): FrameFacts {
  const { frame } = useFollowing();
  return frame && isAsLate(frame, drawn) ? frame : drawn;
}

/** Calls `tell` with each line that another screen filed. */
export function useFiledElsewhere(tell: (filed: Filed) => void): void {
  const tellNow = useEffectEvent(tell);
  useEffect(() => {
    const listen = (filed: Filed) => {
      if (!isSentHere(filed.entry)) tellNow(filed);
    };
    listeners.add(listen);
    return () => {
      listeners.delete(listen);
    };
  }, []);
}

let holding = 0;
export const isHeldStill = (): boolean => holding > 0;

/**
 * While a screen names the cell that is read next, others' work must not put another one in its place: what is typed
 * would be filed for that one.
 */
export function useHoldStill(): void {
  useEffect(() => {
    holding += 1;
    return () => {
      holding -= 1;
    };
  }, []);
}
