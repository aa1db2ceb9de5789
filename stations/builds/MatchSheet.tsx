'use client';

import type { BuiltOtherwise } from '@/core/matching/compare';
import type { Match, MatchCell, MatchLimits, MatchRequest } from '@/core/matching/match';
import type { KnownCell } from '@/core/simulation/predictRun';
import type { NotYet, PackNeed } from '@/core/judging/candidates';
import { Progress } from '@/ui/Progress';
import { counted } from '@/words/counted';
import type { Matched, Matcher } from '@/workers/match.worker';
import { proxy, wrap } from 'comlink';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import Button from 'react-bootstrap/Button';
import { notYetText } from './buildWords';
import { PackBoard, type Usual } from './PackBoard';

interface MatchSheetProps {
  need: PackNeed;
  cells: MatchCell[];
  /** What is known of each, by code, with its uncertainty. */
  measured: Record<string, KnownCell>;
  limits: MatchLimits;
  missing: NotYet;
  usual: Usual | null;
  /** What is shown beside its answer. */
  children: ReactNode;
}

type Shown =
  | { state: 'searching'; share: number; best: Match | null }
  | { state: 'found' | 'stopped'; match: Match; otherwise: BuiltOtherwise | null }
  | { state: 'refused'; said: string };

/** The match, computed in a worker: how far it is, the best so far, and what else would have come of these cells. */
export function MatchSheet({ need, cells, measured, limits, missing, usual, children }: MatchSheetProps) {
  const [shown, setShown] = useState<Shown>({ state: 'searching', share: 0, best: null });
  const worker = useRef<Worker | null>(null);

  useEffect(() => {
    const running = new Worker(new URL('../../workers/match.worker.ts', import.meta.url), { type: 'module' });
    worker.current = running;
    const { series, parallel, enoughAh, pins } = need;
    const request: MatchRequest = {
      series,
      parallel,
      cells,
      limits,
      pins: pins.map((cell) => ({ cell })),
      enoughAh: enoughAh ?? undefined,
    };
    const matcher = wrap<Matcher>(running);
    // It comes by another way than the answer, and may come after it.
    const onProgress = proxy((fraction: number, best: Match) =>
      setShown((now) => (now.state === 'searching' ? { ...now, share: fraction, best } : now)),
    );
    const search = async (): Promise<void> => {
      const found: Matched = await matcher.match(request, onProgress);
      if (!found.ok) {
        setShown({ state: 'refused', said: found.said });
        return;
      }
      setShown({ state: 'found', match: found.match, otherwise: null });
      const otherwise = await matcher.otherwise(request, found.match);
      setShown((now) => ('match' in now ? { ...now, otherwise } : now));
      running.terminate();
    };
    void search();
    return () => running.terminate();
    // The sheet is made again for another need; the cells given with it do not change under it.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);

  const stop = (best: Match): void => {
    worker.current?.terminate();
    setShown({ state: 'stopped', match: best, otherwise: null });
  };

  if ('match' in shown)
    return (
      <PackBoard
        key={shown.match.groups.map((group) => group.cells.map(({ id }) => id)).join()}
        match={shown.match}
        isStopped={shown.state === 'stopped'}
        otherwise={shown.otherwise}
        need={need}
        measured={measured}
        limits={limits}
        usual={usual}
      >
        {children}
      </PackBoard>
    );
  const { best } = 'best' in shown ? shown : { best: null };
  return (
    <div className="cols">
      {shown.state === 'searching' ? (
        <section className="sheet lead-ember" role="status">
          <p className="mb-2">Matching {counted(cells.length, 'cell')} …</p>
          <Progress share={shown.share} label="Searched so far" />
          {best && (
            <p className="mt-2 mb-0">
              So far {best.packCapacityAh.toFixed(3)} Ah, within {(100 * best.gap).toFixed(2)} % of any.{' '}
              <Button variant="quiet" onClick={() => stop(best)}>
                Stop, and keep that
              </Button>
            </p>
          )}
        </section>
      ) : (
        <section className="sheet lead-ember" role="alert">
          <p style={{ fontSize: '1.3rem', fontWeight: 700 }}>No match</p>
          <p>{shown.said} Grade more cells, allow a lower duty, or ask for a smaller pack.</p>
          <p className="mb-0">{notYetText(missing)}</p>
        </section>
      )}
      <div className="stack">{children}</div>
    </div>
  );
}
