import { impossibleText } from '@/words/impossible';
import { ImpossibleInput } from '@/core/impossibleInput';
import { type BuiltOtherwise, builtOtherwise } from '@/core/matching/compare';
import { type Match, matchCells, type MatchRequest } from '@/core/matching/match';
import { expose } from 'comlink';

export type Matched = { ok: true; match: Match } | { ok: false; said: string };

/** Interval of progress reports, ms. */
const everyMs = 120;

const matcher = {
  /** @param onProgress called now and then with the fraction done and the best so far */
  match(request: MatchRequest, onProgress: (fraction: number, best: Match) => void): Matched {
    let postedMs = performance.now();
    try {
      const match = matchCells({
        ...request,
        onProgress: (fraction, best) => {
          const nowMs = performance.now();
          if (nowMs - postedMs < everyMs) return;
          postedMs = nowMs;
          onProgress(fraction, best());
        },
      });
      return { ok: true, match };
    } catch (error) {
      if (error instanceof ImpossibleInput) return { ok: false, said: impossibleText(error) };
      throw error;
    }
  },

  otherwise(request: MatchRequest, match: Match): BuiltOtherwise {
    return builtOtherwise(request, match);
  },
};

export type Matcher = typeof matcher;
expose(matcher);
