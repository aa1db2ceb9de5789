import { seededChance } from '../statistics/random';

/** When somebody is there, minutes from the start of the plan. */
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
  minutes: number;
  /** It lies whole within the time that somebody is there. */
  attended: boolean;
  /** These are done before. */
  after: readonly string[];
  /** So long after they ended. */
  restMin: number;
  /** Wanted by then, minutes from the start of the plan; null where it is not pressing. */
  dueMin: number | null;
}

export interface Asked {
  /** In the order of time, apart from each other. */
  attended: readonly Span[];
  stations: readonly BenchStation[];
  jobs: readonly Job[];
}

/** Why a job is in no plan. */
export type Unplaced =
  | { code: 'no-station'; kind: string }
  | { code: 'in-a-circle' }
  | { code: 'longer-than-any-span'; longestMin: number }
  | { code: 'no-attended-time-left' }
  | { code: 'after-unplaced'; id: string }
  | { code: 'after-unknown'; id: string };

export interface Placed extends Span {
  id: string;
  station: string;
}

export interface Plan {
  placed: Placed[];
  /** When the last job ends, minutes; nought where none is placed. */
  endsAt: number;
  /** No plan ends before this. */
  bound: number;
  /** It ends at the bound: none is shorter. */
  isProven: boolean;
  unplaced: { id: string; why: Unplaced }[];
}

/** A plan by how much it is worth: all placed first, then nothing late, then the soonest end. */
interface Tried {
  placed: Placed[];
  unplaced: { id: string; why: Unplaced }[];
  lateMin: number;
  endsAt: number;
}

/** So much work goes into a search: trials times jobs squared. */
const effort = 5_000_000;
const [leastTrials, mostTrials] = [40, 6000];

/**
 * Which job is done where and when: jobs in the order of their urgency, each as early as a station that can do it is
 * free, somebody is there where it takes that, and what comes before is done and rested; then the order is changed
 * step by step where that ends sooner. Source: serial schedule generation with longest tails first (R. L. Graham 1969
 * for its bound on alike stations), improved by exchanges.
 */
export function planBench(asked: Asked, seed = 20_261_127): Plan {
  const { possible, unplaced } = sortOut(asked);
  const bound = boundOf(asked, possible);
  const chance = seededChance(seed);
  let order = firstOrder(possible);
  let best = tryOrder(order, asked);
  const trials = Math.min(mostTrials, Math.max(leastTrials, Math.round(effort / (possible.length ** 2 + 1))));
  for (let k = 0; k < trials && possible.length > 1; k += 1) {
    if (best.unplaced.length === 0 && best.lateMin === 0 && best.endsAt <= bound) break;
    const changed = exchanged(order, chance);
    const tried = tryOrder(changed, asked);
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
function exchanged(order: readonly Job[], chance: { uniform(): number }): Job[] {
  const from = Math.floor(order.length * chance.uniform());
  const to = Math.floor(order.length * chance.uniform());
  const changed = [...order];
  const [moved] = changed.splice(from, 1);
  if (moved) changed.splice(to, 0, moved);
  return changed;
}

/** What can be placed at all, and why the rest cannot. */
function sortOut({ attended, stations, jobs }: Asked): { possible: Job[]; unplaced: Plan['unplaced'] } {
  const longestMin = Math.max(0, ...attended.map(({ from, to }) => to - from));
  const why = new Map<string, Unplaced>();
  const known = new Set(jobs.map(({ id }) => id));
  for (const job of jobs) {
    const unknown = job.after.find((id) => !known.has(id));
    if (unknown !== undefined) why.set(job.id, { code: 'after-unknown', id: unknown });
    else if (!stations.some(({ kinds }) => kinds.includes(job.kind)))
      why.set(job.id, { code: 'no-station', kind: job.kind });
    else if (job.attended && job.minutes > longestMin) why.set(job.id, { code: 'longer-than-any-span', longestMin });
  }
  const ordered = inOrder(jobs);
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
function inOrder(jobs: readonly Job[]): Map<string, Job> {
  const done = new Map<string, Job>();
  let left = jobs.filter((job) => job.after.every((id) => jobs.some((one) => one.id === id)));
  for (;;) {
    const ready = left.filter(({ after }) => after.every((id) => done.has(id)));
    if (ready.length === 0) return done;
    for (const job of ready) done.set(job.id, job);
    left = left.filter(({ id }) => !done.has(id));
  }
}

/** How long it takes from the beginning of a job until all that follows it is done, minutes. */
function tails(jobs: readonly Job[]): Map<string, number> {
  const tail = new Map<string, number>();
  for (const job of jobs.toReversed()) {
    const following = jobs.filter(({ after }) => after.includes(job.id));
    const longest = Math.max(0, ...following.map(({ id, restMin }) => restMin + (tail.get(id) ?? 0)));
    tail.set(job.id, job.minutes + longest);
  }
  return tail;
}

/** What is due first, then what the longest work hangs on. */
function firstOrder(possible: readonly Job[]): Job[] {
  const tail = tails(possible);
  return possible.toSorted(
    (a, b) => (a.dueMin ?? Infinity) - (b.dueMin ?? Infinity) || (tail.get(b.id) ?? 0) - (tail.get(a.id) ?? 0),
  );
}

/** Places jobs one after the other; one whose turn comes before those it follows waits for them. */
function tryOrder(order: readonly Job[], { attended, stations }: Asked): Tried {
  const taken = new Map<string, Span[]>(stations.map(({ id }) => [id, []]));
  const ends = new Map<string, number>();
  const placed: Placed[] = [];
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
    const at = soonest(job, ready, stations, taken, attended);
    if (!at) {
      unplaced.push({ id: job.id, why: { code: 'no-attended-time-left' } });
      continue;
    }
    const span: Placed = { id: job.id, station: at.station, from: at.from, to: at.from + job.minutes };
    placed.push(span);
    ends.set(job.id, span.to);
    const own = taken.get(at.station) ?? [];
    own.splice(own.findLastIndex((one) => one.from <= span.from) + 1, 0, span);
    lateMin += Math.max(0, span.to - (job.dueMin ?? Infinity));
  }
  return { placed, unplaced, lateMin, endsAt: Math.max(0, ...ends.values()) };
}

/** Where and when a job can begin first; null where no time is left for it. */
function soonest(
  job: Job,
  ready: number,
  stations: readonly BenchStation[],
  taken: ReadonlyMap<string, readonly Span[]>,
  attended: readonly Span[],
): { station: string; from: number } | null {
  let best: { station: string; from: number } | null = null;
  for (const { id, kinds } of stations) {
    if (!kinds.includes(job.kind)) continue;
    const from = freeFrom(job, ready, taken.get(id) ?? [], attended);
    if (from !== null && (best === null || from < best.from)) best = { station: id, from };
  }
  return best;
}

function freeFrom(job: Job, ready: number, taken: readonly Span[], attended: readonly Span[]): number | null {
  let from: number | null = withinAttended(job, ready, attended);
  for (const span of taken) {
    if (from === null) return null;
    if (from + job.minutes <= span.from) return from;
    if (span.to > from) from = withinAttended(job, span.to, attended);
  }
  return from;
}

/** The first moment from which somebody is there for as long as it takes. */
function withinAttended({ attended: must, minutes }: Job, ready: number, attended: readonly Span[]): number | null {
  if (!must) return ready;
  for (const { from, to } of attended) {
    const begins = Math.max(from, ready);
    if (begins + minutes <= to) return begins;
  }
  return null;
}

/**
 * No plan ends before this: each job with all that it follows, as if nothing else were there; and the work of each set
 * of stations, shared out evenly over the time that counts for it.
 */
function boundOf({ attended, stations }: Asked, possible: readonly Job[]): number {
  const ends = new Map<string, number>();
  for (const job of possible) {
    const ready = Math.max(0, ...job.after.map((id) => (ends.get(id) ?? 0) + job.restMin));
    ends.set(job.id, (withinAttended(job, ready, attended) ?? ready) + job.minutes);
  }
  const able = (kind: string): string =>
    stations
      .filter(({ kinds }) => kinds.includes(kind))
      .map(({ id }) => id)
      .sort()
      .join('\n');
  const sets = new Set(possible.map(({ kind }) => able(kind)));
  const byWork = [...sets].flatMap((set) => {
    const ids = new Set(set.split('\n'));
    const own = possible.filter(({ kind }) =>
      able(kind)
        .split('\n')
        .every((id) => ids.has(id)),
    );
    const work = (some: readonly Job[]): number => some.reduce((sum, { minutes }) => sum + minutes, 0);
    const attendedWork = work(own.filter((job) => job.attended)) / ids.size;
    return [longestOfSome(own, ids.size), work(own) / ids.size, whenAttended(attendedWork, attended)];
  });
  return Math.max(0, ...ends.values(), ...byWork);
}

/** Of m + 1 jobs on m stations two share one: the two shortest of the longest. */
function longestOfSome(jobs: readonly Job[], stations: number): number {
  const minutes = jobs.map((job) => job.minutes).sort((a, b) => b - a);
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

/** When so many attended minutes are over at the soonest. */
function whenAttended(minutes: number, attended: readonly Span[]): number {
  let left = minutes;
  for (const { from, to } of attended) {
    if (left <= 0) break;
    if (left <= to - from) return from + left;
    left -= to - from;
  }
  return 0;
}
