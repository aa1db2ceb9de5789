import { Piscina } from 'piscina';
import { join } from 'node:path';
import type { MessagePort } from 'node:worker_threads';
import { type Outcome, revived, threadLimits } from './threads';
import type { Tasks } from './tasks';

/** Too much is asked at once; the caller may come back. */
export class Busy extends Error {
  constructor(readonly againInS: number) {
    super(`The server is busy. Try again in ${againInS} s.`);
  }
}

/** It took longer than it may, and gave nothing that could be answered. */
export class TookTooLong extends Error {
  constructor(limitMs: number) {
    super(`This took longer than the ${Math.round(limitMs / 1000)} s limit. Ask for less at once.`);
  }
}

/**
 * What the workshop needs for its own screens takes no longer, even the largest log on a slow machine. A thread that
 * hangs is ended then; another takes its place.
 */
const longestOwnMs = 10 * 60_000;

/** This many questions of programs wait at most; more are asked to come back. */
const mostWaiting = 8;

/**
 * Two crews of worker threads: `asked` for what programs ask, which may be heavy and may have to wait, and `own` for
 * what the workshop needs for its own screens.
 */
type Crew = 'asked' | 'own';
const held = globalThis as typeof globalThis & {
  crews?: Partial<Record<Crew, Piscina>>;
  loaded?: Partial<Record<Crew, Promise<unknown>>>;
  asked?: number;
};

function crewOf(name: Crew): Piscina {
  const crews = (held.crews ??= {});
  crews[name] ??= new Piscina({
    filename: join(process.cwd(), 'workshop', 'worker.cjs'),
    // Whatever started the server loads its own; the worker does so by itself.
    execArgv: [],
    resourceLimits: threadLimits,
    env: { ...process.env },
    minThreads: 1,
    maxThreads: 1,
    // A thread that slept between two tasks would not hear that the database ended its connection.
    atomics: 'disabled',
    // While one of the workshop's own tasks waits for the database, the other computes.
    concurrentTasksPerWorker: name === 'own' ? 2 : 1,
  });
  return crews[name];
}

/** Loading its code can take a new thread longer than the work, so the time limit of the work starts after it. */
function loaded(name: Crew): Promise<unknown> {
  held.loaded ??= {};
  held.loaded[name] ??= crewOf(name)
    .run(undefined, { name: 'ready' })
    .catch((error) => {
      delete held.loaded?.[name];
      throw error;
    });
  return held.loaded[name];
}

export interface TaskOptions {
  crew?: Crew;
  /** Ends the work when the one who asked has left. */
  signal?: AbortSignal;
  limitMs?: number;
  /** What of the given changes threads, and is not copied. */
  moved?: readonly MessagePort[];
}

/**
 * Does heavy computing beside the server's own thread.
 *
 * @throws Busy when too many wait, TookTooLong when the limit ends it, and what the work itself throws
 */
export async function inBackground<Name extends keyof Tasks>(
  name: Name,
  given: Parameters<Tasks[Name]>[0],
  { crew = 'own', signal, limitMs = crew === 'own' ? longestOwnMs : undefined, moved = [] }: TaskOptions = {},
): Promise<Awaited<ReturnType<Tasks[Name]>>> {
  const pool = crewOf(crew);
  // Counted here: the pool's own limit passes over work that can be ended.
  if (crew === 'asked' && (held.asked ?? 0) > mostWaiting) throw new Busy(5);
  if (crew === 'asked') held.asked = (held.asked ?? 0) + 1;
  let limit: AbortSignal | undefined;
  try {
    await loaded(crew);
    limit = limitMs === undefined ? undefined : AbortSignal.timeout(limitMs);
    const ends = AbortSignal.any([signal, limit].filter((one) => one !== undefined));
    return revived(
      (await pool.run(given, { name, signal: ends, transferList: [...moved] })) as Outcome<
        Awaited<ReturnType<Tasks[Name]>>
      >,
    );
  } catch (error) {
    // The pool ends the thread with the work; the next work waits until a new thread has loaded.
    if (signal?.aborted || limit?.aborted) delete held.loaded?.[crew];
    if (limit?.aborted && limitMs !== undefined) throw new TookTooLong(limitMs);
    throw error;
  } finally {
    if (crew === 'asked') held.asked = (held.asked ?? 1) - 1;
  }
}

/** Loads both crews before the first question comes: that takes longer than most of their work. */
export async function readyCrews(): Promise<void> {
  await Promise.all((['asked', 'own'] as const).map(loaded));
}

/** Threads end with the tests that began them. */
export async function closeCrews(): Promise<void> {
  await Promise.all(Object.values(held.crews ?? {}).map((pool) => pool.destroy()));
  held.crews = {};
  held.loaded = {};
}
