import { seededChance } from '../statistics/random';

/** Attended hours, minutes from the start of the plan. */
export interface Span {
  from: number;
  to: number;
}

/** A charger, a load, a meter, a shelf to rest on: it does one job at a time. */
export interface BenchStation {
  id: string;
  /** What it can do. */
  kinds: readonly string[];
}

export interface Job {
  id: string;
  kind: string;
  /** Wherever it is done; or by station, where they differ: those that are not named cannot do it. */
  minutes: number | Readonly<Record<string, number>>;
  /** The whole job is within attended hours. */
  attended: boolean;
  /** These are done before. */
  after: readonly string[];
  /** How long after those ended. */
  restMin: number;
  /** Wanted by then, minutes from the start of the plan; null where it is not pressing. */
  dueMin: number | null;
}

export interface BenchRequest {
  /** In the order of time, apart from each other. */
  attended: readonly Span[];
  stations: readonly BenchStation[];
  jobs: readonly Job[];
  /** What runs already stays where it is until it ends. */
  running?: readonly ScheduledJob[];
}

/** A job with the stations that can do it. */
interface Possible extends Job {
  /** Minutes by station. */
  on: ReadonlyMap<string, number>;
  /** Where it goes quickest. */
  leastMin: number;
}

/** Why a job is in no plan. */
export type WhyUnscheduled =
  | { code: 'no-station'; kind: string }
  | { code: 'in-a-circle' }
  | { code: 'longer-than-any-span'; longestMin: number }
  | { code: 'no-attended-time-left' }
  | { code: 'after-unplaced'; id: string }
  | { code: 'after-unknown'; id: string };

export interface ScheduledJob extends Span {
  id: string;
  station: string;
}

export interface Plan {
  placed: ScheduledJob[];
  /** When the last job that is placed ends, minutes; 0 where none is. */
  endsAt: number;
  /** No plan ends before this. */
  bound: number;
  /** It ends at the bound: none is shorter. */
  isProven: boolean;
  unplaced: { id: string; why: WhyUnscheduled }[];
}

/** A plan by how much it is worth: all placed first, then nothing late, then the soonest end. */
interface Tried {
  placed: ScheduledJob[];
  unplaced: { id: string; why: WhyUnscheduled }[];
  lateMin: number;
  endsAt: number;
}

/** This much work goes into a search: trials times jobs squared. */
const effort = 5_000_000;
const [leastTrials, mostTrials] = [40, 6000];

/**
 * Which job is done where and when: jobs in the order of their urgency, each as soon as a suitable station is free,
 * the hours are attended where the job needs that, and the jobs before it are done and rested. Then the order is
 * changed step by step where that ends sooner. Source: serial schedule generation with longest tails first (R. L.
 * Graham 1969 for its bound on alike stations), improved by exchanges.
 */
export function planBench(request: BenchRequest, seed = 20_261_127): Plan {
  const { possible, unplaced } = sortOut(request);
  const bound = boundOf(request, possible);
  const chance = seededChance(seed);
  let order = firstOrder(possible);
  let best = tryOrder(order, request);
  const trials = Math.min(mostTrials, Math.max(leastTrials, Math.round(effort / (possible.length ** 2 + 1))));
  for (let k = 0; k < trials && possible.length > 1; k += 1) {
    if (best.unplaced.length === 0 && best.lateMin === 0 && best.endsAt <= bound) break;
    const changed = exchanged(order, chance);
    const tried = tryOrder(changed, request);
    if (isWorse(tried, best)) continue;
    best = tried;
    order = changed;
  }
  return {
    placed: best.placed.toSorted((a, b) => a.from - b.from || a.id.localeCompare(b.id)),
    endsAt: best.endsAt,
    bound: Math.min(bound, best.endsAt),
    isProven: best.endsAt <= bound && best.unplaced.length === 0,
    unplaced: [...unplaced, ...best.unplaced],
  };
}

function isWorse(one: Tried, other: Tried): boolean {
  const [left, right] = [one, other].map(({ unplaced, lateMin, endsAt }) => [unplaced.length, lateMin, endsAt]);
  for (let i = 0; i < 3; i += 1) {
    const difference = (left?.[i] ?? 0) - (right?.[i] ?? 0);
    if (difference !== 0) return difference > 0;
  }
  return false;
}

/** A job moved elsewhere in the order. */
function exchanged(order: readonly Possible[], chance: { uniform(): number }): Possible[] {
  const from = Math.floor(order.length * chance.uniform());
  const to = Math.floor(order.length * chance.uniform());
  const changed = [...order];
  const [moved] = changed.splice(from, 1);
  if (moved) changed.splice(to, 0, moved);
  return changed;
}

/** Which stations can do it. */
function possibleOf(job: Job, stations: readonly BenchStation[]): Possible {
  const { minutes, kind } = job;
  const able = stations.flatMap(({ id, kinds }): [string, number][] => {
    const takes = typeof minutes === 'number' ? minutes : minutes[id];
    return takes !== undefined && kinds.includes(kind) ? [[id, takes]] : [];
  });
  return { ...job, on: new Map(able), leastMin: Math.min(...able.map(([, takes]) => takes)) };
}

/** What can be placed at all, and why the rest cannot. */
function sortOut({ attended, stations, jobs, running = [] }: BenchRequest): {
  possible: Possible[];
  unplaced: Plan['unplaced'];
} {
  const longestMin = Math.max(0, ...attended.map(({ from, to }) => to - from));
  const why = new Map<string, WhyUnscheduled>();
  const before = new Set(running.map(({ id }) => id));
  const known = new Set([...before, ...jobs.map(({ id }) => id)]);
  const wanted = jobs.map((job) => possibleOf(job, stations));
  for (const job of wanted) {
    const unknown = job.after.find((id) => !known.has(id));
    if (unknown !== undefined) why.set(job.id, { code: 'after-unknown', id: unknown });
    else if (job.on.size === 0) why.set(job.id, { code: 'no-station', kind: job.kind });
    else if (job.attended && job.leastMin > longestMin) why.set(job.id, { code: 'longer-than-any-span', longestMin });
  }
  const ordered = inOrder(wanted, before);
  for (const { id } of jobs) if (!ordered.has(id) && !why.has(id)) why.set(id, { code: 'in-a-circle' });
  for (const job of ordered.values()) {
    const before = job.after.find((id) => why.has(id));
    if (before !== undefined && !why.has(job.id)) why.set(job.id, { code: 'after-unplaced', id: before });
  }
  return {
    possible: [...ordered.values()].filter(({ id }) => !why.has(id)),
    unplaced: jobs.flatMap(({ id }) => {
      const reason = why.get(id);
      return reason ? [{ id, why: reason }] : [];
    }),
  };
}

/** Jobs behind those that come before them; those in a circle are left out. */
function inOrder(jobs: readonly Possible[], running: ReadonlySet<string>): Map<string, Possible> {
  const done = new Map<string, Possible>();
  const known = new Set([...running, ...jobs.map(({ id }) => id)]);
  let left = jobs.filter((job) => job.after.every((id) => known.has(id)));
  for (;;) {
    const ready = left.filter(({ after }) => after.every((id) => done.has(id) || running.has(id)));
    if (ready.length === 0) return done;
    for (const job of ready) done.set(job.id, job);
    left = left.filter(({ id }) => !done.has(id));
  }
}

/** How long it takes from the beginning of a job until all that follows it is done, minutes. */
function tails(jobs: readonly Possible[]): Map<string, number> {
  const tail = new Map<string, number>();
  for (const job of jobs.toReversed()) {
    const following = jobs.filter(({ after }) => after.includes(job.id));
    const longest = Math.max(0, ...following.map(({ id, restMin }) => restMin + (tail.get(id) ?? 0)));
    tail.set(job.id, job.leastMin + longest);
  }
  return tail;
}

/** What is due first, then what the longest work hangs on. */
function firstOrder(possible: readonly Possible[]): Possible[] {
  const tail = tails(possible);
  return possible.toSorted(
    (a, b) => (a.dueMin ?? Infinity) - (b.dueMin ?? Infinity) || (tail.get(b.id) ?? 0) - (tail.get(a.id) ?? 0),
  );
}

/** Places jobs one after the other; one whose turn comes before those it follows waits for them. */
function tryOrder(order: readonly Possible[], { attended, stations, running = [] }: BenchRequest): Tried {
  const taken = new Map<string, Span[]>(
    stations.map(({ id }) => [id, running.filter(({ station }) => station === id).toSorted((a, b) => a.from - b.from)]),
  );
  const ends = endsOf(running);
  const placed: ScheduledJob[] = [];
  const unplaced: Plan['unplaced'] = [];
  let lateMin = 0;
  let left = [...order];
  while (left.length > 0) {
    const job = left.find(({ after }) => after.every((id) => ends.has(id)));
    if (!job) {
      // What they wait for found no time.
      for (const { id, after } of left)
        unplaced.push({ id, why: { code: 'after-unplaced', id: after.find((one) => !ends.has(one)) ?? id } });
      break;
    }
    left = left.filter((one) => one !== job);
    const ready = Math.max(0, ...job.after.map((id) => (ends.get(id) ?? 0) + job.restMin));
    const at = soonest(job, ready, taken, attended);
    if (!at) {
      unplaced.push({ id: job.id, why: { code: 'no-attended-time-left' } });
      continue;
    }
    const span: ScheduledJob = { id: job.id, ...at };
    placed.push(span);
    ends.set(job.id, span.to);
    const own = taken.get(at.station) ?? [];
    own.splice(own.findLastIndex((one) => one.from <= span.from) + 1, 0, span);
    lateMin += Math.max(0, span.to - (job.dueMin ?? Infinity));
  }
  return { placed, unplaced, lateMin, endsAt: Math.max(0, ...placed.map(({ to }) => to)) };
}

/** Where and when a job can be done first; null where no time is left for it. */
function soonest(
  job: Possible,
  ready: number,
  taken: ReadonlyMap<string, readonly Span[]>,
  attended: readonly Span[],
): Omit<ScheduledJob, 'id'> | null {
  let best: Omit<ScheduledJob, 'id'> | null = null;
  const hours = job.attended ? attended : null;
  for (const [station, minutes] of job.on) {
    const from = freeFrom(minutes, ready, taken.get(station) ?? [], hours);
    if (from !== null && (best === null || from + minutes < best.to)) best = { station, from, to: from + minutes };
  }
  return best;
}

function freeFrom(
  minutes: number,
  ready: number,
  taken: readonly Span[],
  attended: readonly Span[] | null,
): number | null {
  let from: number | null = withinAttended(minutes, ready, attended);
  for (const span of taken) {
    if (from === null) return null;
    if (from + minutes <= span.from) return from;
    if (span.to > from) from = withinAttended(minutes, span.to, attended);
  }
  return from;
}

/** The first moment from which the hours are attended for the whole job, where the job needs that. */
function withinAttended(minutes: number, ready: number, attended: readonly Span[] | null): number | null {
  if (!attended) return ready;
  for (const { from, to } of attended) {
    const begins = Math.max(from, ready);
    if (begins + minutes <= to) return begins;
  }
  return null;
}

const endsOf = (running: readonly ScheduledJob[]): Map<string, number> =>
  new Map(running.map(({ id, to }) => [id, to]));

/**
 * No plan ends before this: each job with all that it follows, as if nothing else were there; and the work of each set
 * of stations, shared out evenly over the time that counts for it.
 */
function boundOf({ attended, running = [] }: BenchRequest, possible: readonly Possible[]): number {
  const ends = endsOf(running);
  for (const job of possible) {
    const ready = Math.max(0, ...job.after.map((id) => (ends.get(id) ?? 0) + job.restMin));
    ends.set(job.id, (withinAttended(job.leastMin, ready, job.attended ? attended : null) ?? ready) + job.leastMin);
  }
  const sets = new Set(possible.map(({ on }) => [...on.keys()].sort().join('\n')));
  const byWork = [...sets].flatMap((set) => {
    const ids = new Set(set.split('\n'));
    const own = possible.filter(({ on }) => [...on.keys()].every((id) => ids.has(id)));
    const work = (some: readonly Possible[]): number => some.reduce((sum, { leastMin }) => sum + leastMin, 0);
    const there = own.filter((job) => job.attended);
    return [
      longestOfSome(own, ids.size),
      work(own) / ids.size,
      whenAttended(work(there) / ids.size, attended),
      whenCounted(there, ids.size, attended),
    ];
  });
  return Math.max(0, ...possible.map(({ id }) => ends.get(id) ?? 0), ...byWork);
}

/** Of m + 1 jobs on m stations two share one: the two shortest of the longest. */
function longestOfSome(jobs: readonly Possible[], stations: number): number {
  const minutes = jobs.map(({ leastMin }) => leastMin).sort((a, b) => b - a);
  let most = 0;
  // Of k m + 1 jobs some station has k + 1 of them.
  for (let k = 1; k * stations < minutes.length; k += 1) {
    const shortest = minutes.slice(0, k * stations + 1).slice(-(k + 1));
    most = Math.max(
      most,
      shortest.reduce((sum, one) => sum + one, 0),
    );
  }
  return most;
}

/**
 * No job goes on over two spans: of the k longest some station does k/m or more, and this many of the shortest of them
 * fit into each span.
 */
function whenCounted(jobs: readonly Possible[], stations: number, attended: readonly Span[]): number {
  const minutes = jobs.map(({ leastMin }) => leastMin).sort((a, b) => b - a);
  return Math.max(0, ...minutes.map((shortest, i) => whenDone(Math.ceil((i + 1) / stations), shortest, attended)));
}

/** When a station has done this many jobs of that length, one after the other; 0 where it never has. */
function whenDone(count: number, minutes: number, attended: readonly Span[]): number {
  let left = count;
  for (const { from, to } of attended) {
    const fit = Math.floor((to - from) / minutes + 1e-9);
    if (left <= fit) return from + left * minutes;
    left -= fit;
  }
  return 0;
}

/** When this many attended minutes are over at the soonest. */
function whenAttended(minutes: number, attended: readonly Span[]): number {
  let left = minutes;
  for (const { from, to } of attended) {
    if (left <= 0) break;
    if (left <= to - from) return from + left;
    left -= to - from;
  }
  return 0;
}
