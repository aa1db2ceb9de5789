import { impossibleText } from '@/words/impossible';
import { ImpossibleInput } from '@/core/impossibleInput';
import { type Match, matchCells, type MatchRequest } from '@/core/matching/match';
import { expose } from 'comlink';

export type Matched = { ok: true; match: Match } | { ok: false; said: string };

const matcher = {
  match(request: MatchRequest): Matched {
    try {
      return { ok: true, match: matchCells(request) };
    } catch (error) {
      if (error instanceof ImpossibleInput) return { ok: false, said: impossibleText(error) };
      throw error;
    }
  },
};

export type Matcher = typeof matcher;
expose(matcher);
