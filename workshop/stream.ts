import 'server-only';
import { database, isDatabaseAway } from '@/records/database';
import { type FiledElsewhere, newestFiled } from '@/records/readings';
import { onChange } from './changes';
import { now } from './clock';
import { type FrameFacts, frameFacts } from './frame';

/** What every open page hears after a change: the frame as it is now, and what was filed. */
export interface Heard {
  /** Null while unknown. */
  frame: FrameFacts | null;
  filed: Omit<FiledElsewhere, 'id'>[];
  /** The workshop's clock when this is sent, ms since 1970. A page that has just opened may get an old frame. */
  nowMs: number;
}

interface Stream {
  followers: Set<(message: string) => void>;
  /** The last frame, for a page that has just opened; undefined before. */
  newest: Heard['frame'] | undefined;
  renew(): void;
  stop(): void;
}

const messageOf = (heard: Omit<Heard, 'nowMs'>): string =>
  JSON.stringify({ ...heard, nowMs: now().getTime() } satisfies Heard);

const held = globalThis as typeof globalThis & { stream?: Stream };
/** Changes that come close together are announced together. */
const togetherMs = 60;
/** While all cells are judged, how far that is. */
const progressMs = 1000;
/**
 * Things become due without a change: this is how often they are looked for, and how long after the last look a new
 * page looks.
 */
const dueMs = 60_000;
const freshMs = 1000;
/** Of a flood the newest are announced. */
const mostAnnounced = 100;

/**
 * Calls `tell` with a message after every change in the workshop, one query for all pages of this process together;
 * returns how to stop.
 */
export function follow(tell: (message: string) => void): () => void {
  const stream = (held.stream ??= begin());
  stream.followers.add(tell);
  const { newest } = stream;
  if (newest && Math.abs(now().getTime() - newest.atMs) > freshMs) stream.renew();
  else if (newest !== undefined) tell(messageOf({ frame: newest, filed: [] }));
  return () => {
    stream.followers.delete(tell);
    if (stream.followers.size > 0) return;
    stream.stop();
    if (held.stream === stream) delete held.stream;
  };
}

function begin(): Stream {
  let timer: NodeJS.Timeout | undefined;
  let isAsking = false;
  let again = false;
  let isOver = false;
  /** The newest entries that were announced; one that was begun before another may be stored after it. */
  let announced: number[] | null = null;

  const say = (heard: Omit<Heard, 'nowMs'>): void => {
    const message = messageOf(heard);
    stream.newest = heard.frame;
    for (const tell of stream.followers) tell(message);
  };
  const ask = async (): Promise<void> => {
    if (isAsking) {
      again = true;
      return;
    }
    isAsking = true;
    try {
      const [frame, fresh] = await Promise.all([frameFacts(), newestFiled(database(), mostAnnounced, announced ?? [])]);
      const filed = announced === null ? [] : fresh.map(({ id: _, ...one }) => one);
      announced = [...(announced ?? []), ...fresh.map(({ id }) => id)].sort((a, b) => b - a).slice(0, mostAnnounced);
      say({ frame, filed });
      if (frame.judging) later(progressMs);
    } catch (error) {
      if (!isDatabaseAway(error)) console.error(error);
      say({ frame: null, filed: [] });
    } finally {
      isAsking = false;
      if (again) later(togetherMs);
      again = false;
    }
  };
  const later = (ms: number): void => {
    clearTimeout(timer);
    if (!isOver) timer = setTimeout(() => void ask(), ms);
  };
  const ticking = setInterval(() => later(togetherMs), dueMs);
  const stop = onChange(
    () => later(togetherMs),
    () => say({ frame: null, filed: [] }),
  );
  const stream: Stream = {
    followers: new Set(),
    newest: undefined,
    renew: () => later(0),
    stop: () => {
      isOver = true;
      clearTimeout(timer);
      clearInterval(ticking);
      stop();
    },
  };
  return stream;
}
