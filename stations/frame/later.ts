import type { FrameFacts } from '@/workshop/frame';

type Drawn = Pick<FrameFacts, 'state' | 'atMs'>;
type Facts = Pick<FrameFacts, 'state' | 'newest'>;

/** The parts of a state: of which database, and a snapshot as PostgreSQL writes it, xmin:xmax:running. */
function partsOf(state: string) {
  const [database, visible = ''] = state.split(' ');
  const [from, to, running = ''] = visible.split(':');
  return { database, from: Number(from), to: Number(to), running: running.split(',').filter(Boolean).map(Number) };
}

/**
 * Whether a received frame is as new as the drawn page, or newer. The visible transactions decide, since a machine's
 * clock may be set back. Between two databases only the clock can decide.
 */
export function isAsLate(heard: Drawn, drawn: Drawn): boolean {
  const [one, other] = [partsOf(heard.state), partsOf(drawn.state)];
  if (one.database !== other.database) return heard.atMs >= drawn.atMs;
  if (one.to !== other.to) return one.to > other.to;
  if (one.from !== other.from) return one.from > other.from;
  return one.running.length <= other.running.length;
}

/** Whether a page shows the change that was heard of last, and so all that was heard of. */
export function isShown({ newest, state }: Facts, drawn: Facts): boolean {
  if (newest === drawn.newest || state === drawn.state) return true;
  const [heard, { database, to, running }] = [partsOf(state), partsOf(drawn.state)];
  return heard.database === database && Number(newest) < to && !running.includes(Number(newest));
}
