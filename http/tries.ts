/** This many wrong tries are anybody's slips. */
const freeTries = 3;
const longestWaitMs = 300_000;
/** This long after the last wrong try they are forgotten. */
const forgottenMs = 3_600_000;
const mostRemembered = 1000;
/** Callers who never came in have this many tries a minute together: guesses from many addresses are no quicker. */
const [strangersMs, strangersTries] = [60_000, 10];

/** The machine that the workshop runs on. */
const ownAddresses = ['127.0.0.1', '::1', '::ffff:127.0.0.1'];

/** Slows down tries at the passphrase: after a few wrong ones each wait is twice the one before. */
export function createTries(now: () => number = Date.now) {
  const wrong = new Map<string, { count: number; lastAt: number }>();
  const known = new Set(ownAddresses);
  let strangers: { caller: string; at: number }[] = [];

  const ownWaitMs = (caller: string): number => {
    const before = wrong.get(caller);
    if (!before || now() - before.lastAt > forgottenMs || before.count < freeTries) return 0;
    return Math.max(0, before.lastAt + Math.min(longestWaitMs, 1000 * 2 ** (before.count - freeTries)) - now());
  };
  const strangersWaitMs = (): number => {
    strangers = strangers.filter(({ at }) => at > now() - strangersMs);
    const [first] = strangers.slice(-strangersTries);
    return strangers.length < strangersTries || !first ? 0 : first.at + strangersMs - now();
  };
  const oldestOf = <T>(all: Iterable<T>, count: number): T[] => [...all].slice(0, Math.max(0, count - mostRemembered));

  return {
    /** How long a caller still has to wait, ms; 0 for one who may try. */
    waitMs: (caller: string): number => Math.max(ownWaitMs(caller), known.has(caller) ? 0 : strangersWaitMs()),
    /** Whether a caller came in before, or is on this machine. */
    isKnown: (caller: string): boolean => known.has(caller),
    failed(caller: string): void {
      const before = wrong.get(caller);
      wrong.delete(caller);
      wrong.set(caller, {
        count: (before && now() - before.lastAt <= forgottenMs ? before.count : 0) + 1,
        lastAt: now(),
      });
      for (const oldest of oldestOf(wrong.keys(), wrong.size)) wrong.delete(oldest);
      if (!known.has(caller)) strangers.push({ caller, at: now() });
    },
    /** It is known that the try was wrong: the wait begins now, however long that took. */
    knownWrong(caller: string): void {
      const before = wrong.get(caller);
      if (before) before.lastAt = now();
    },
    /** The try was no wrong one. */
    succeeded(caller: string): void {
      wrong.delete(caller);
      strangers = strangers.filter((one) => one.caller !== caller);
    },
    /** The caller came in: strangers do not make them wait from now on. */
    know(caller: string): void {
      known.add(caller);
      for (const oldest of oldestOf(known, known.size)) if (!ownAddresses.includes(oldest)) known.delete(oldest);
    },
  };
}
