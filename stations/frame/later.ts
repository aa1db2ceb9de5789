import type { FrameFacts } from '@/workshop/frame';

type Drawn = Pick<FrameFacts, 'state' | 'atMs'>;

/** The parts of a state: of which database, and a snapshot as PostgreSQL writes it, xmin:xmax:running. */
function partsOf(state: string) {
  const [database, visible = ''] = state.split(' ');
  const [from = '', to = '', running = ''] = visible.split(':');
  return { database, order: [Number(to), Number(from), -running.split(',').filter(Boolean).length] };
}

/**
 * Whether a frame that was heard tells of the workshop as a page was drawn, or of later. By what was visible then: a
 * machine's clock may be set back. Of two databases only the clock knows which is the later one.
 */
export function isAsLate(heard: Drawn, drawn: Drawn): boolean {
  const [one, other] = [partsOf(heard.state), partsOf(drawn.state)];
  if (one.database !== other.database) return heard.atMs >= drawn.atMs;
  const at = one.order.findIndex((part, i) => part !== other.order[i]);
  return at < 0 || (one.order[at] ?? 0) > (other.order[at] ?? 0);
}
