const held = globalThis as typeof globalThis & { clockAheadMs?: number };

/** What time it is: everything in the workshop that asks, asks here. */
export const now = (): Date => new Date(Date.now() + (held.clockAheadMs ?? 0));

/** Tests move the clock, ahead or back; 0 is the time of the machine. */
export function setClockAhead(ms: number): void {
  held.clockAheadMs = ms;
}
