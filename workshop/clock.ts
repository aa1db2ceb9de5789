const held = globalThis as typeof globalThis & { clockAheadMs?: number };

/** Tests begin a server later or earlier than the machine says it is. */
const begunAheadMs = 1000 * (Number(process.env.BOLD_EMBER_CLOCK_AHEAD_S) || 0);

/** What time it is: everything in the workshop that asks, asks here. */
export const now = (): Date => new Date(Date.now() + (held.clockAheadMs ?? begunAheadMs));

/** Tests move the clock, ahead or back; 0 is the time of the machine. */
export function setClockAhead(ms: number): void {
  held.clockAheadMs = ms;
}
