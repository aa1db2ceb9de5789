/** So many wrong tries are anybody's slips. */
const freeTries = 3;
const longestWaitMs = 300_000;
/** So long after the last wrong try they are forgotten. */
const forgottenMs = 3_600_000;
const mostRemembered = 1000;

/** Slows down tries at the passphrase: after a few wrong ones each wait is twice the one before. */
export function createTries(now: () => number = Date.now) {
  const wrong = new Map<string, { count: number; lastAt: number }>();
  return {
    /** How long a caller still has to wait, ms; 0 for one who may try. */
    waitMs(caller: string): number {
      const before = wrong.get(caller);
      if (!before || now() - before.lastAt > forgottenMs || before.count < freeTries) return 0;
      return Math.max(0, before.lastAt + Math.min(longestWaitMs, 1000 * 2 ** (before.count - freeTries)) - now());
    },
    failed(caller: string): void {
      const before = wrong.get(caller);
      wrong.delete(caller);
      wrong.set(caller, {
        count: (before && now() - before.lastAt <= forgottenMs ? before.count : 0) + 1,
        lastAt: now(),
      });
      for (const oldest of [...wrong.keys()].slice(0, Math.max(0, wrong.size - mostRemembered))) wrong.delete(oldest);
    },
    succeeded(caller: string): void {
      wrong.delete(caller);
    },
  };
}
