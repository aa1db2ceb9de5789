'use client';

import { warningText } from '@/words/warnings';
import { Grounds } from '@/stations/Grounds';
import type { Match, MatchCell } from '@/core/matching/match';
import { display, formatFigure } from '@/core/quantity/format';
import { groupFigures, type MeasuredCell } from '@/core/matching/groupFigures';
import { counted } from '@/words/counted';
import { PlusMinus } from '@/ui/PlusMinus';
import { FormEnd } from '@/ui/FormEnd';
import { Field } from '@/ui/Field';
import { useFormAnswer } from '@/ui/useFormAnswer';
import type { Matched, Matcher } from '@/workers/match.worker';
import { wrap } from 'comlink';
import { useEffect, useRef, useState } from 'react';
import Button from 'react-bootstrap/Button';
import { saveBuildAction } from './actions';
import { GroupTable } from './GroupTable';
import { PackCapacity } from './PackCapacity';
import type { PackNeed } from '@/core/judging/candidates';
import { needHref } from './need';

interface MatchSheetProps {
  need: PackNeed;
  cells: MatchCell[];
  /** What is known of each, by code, with its doubt. */
  measured: Record<string, MeasuredCell>;
  joinWithinV: number;
}

/** The match, computed in a worker, with what holds it back and what is left over. */
export function MatchSheet({ need, cells, measured, joinWithinV }: MatchSheetProps) {
  const [matched, setMatched] = useState<Matched | 'stopped' | null>(null);
  const worker = useRef<Worker | null>(null);

  useEffect(() => {
    const running = new Worker(new URL('../../workers/match.worker.ts', import.meta.url), { type: 'module' });
    worker.current = running;
    const request = {
      series: need.series,
      parallel: need.parallel,
      cells,
      joinWithinV,
      ...(need.enoughAh === null ? {} : { enoughAh: need.enoughAh }),
    };
    void wrap<Matcher>(running)
      .match(request)
      .then((answer) => {
        setMatched(answer);
        running.terminate();
      });
    return () => running.terminate();
    // The sheet is made anew for another need; the cells given with it do not change under it.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);

  if (matched === null) {
    return (
      <section className="sheet lead-ember" role="status">
        <p className="mb-2">Matching {counted(cells.length, 'cell')} …</p>
        <Button
          variant="quiet"
          onClick={() => {
            worker.current?.terminate();
            setMatched('stopped');
          }}
        >
          Stop
        </Button>
      </section>
    );
  }
  if (matched === 'stopped')
    return <section className="sheet lead-ember">Stopped. Change what the pack must be, or match again.</section>;
  if (!matched.ok) {
    return (
      <section className="sheet lead-ember" role="alert">
        <p style={{ fontSize: '1.3rem', fontWeight: 700 }}>No match</p>
        <p className="mb-0">{matched.said} Grade more cells, allow a lower duty, or ask for a smaller pack.</p>
      </section>
    );
  }
  return <Found match={matched.match} need={need} measured={measured} />;
}

function Found({ match, need, measured }: { match: Match } & Pick<MatchSheetProps, 'need' | 'measured'>) {
  const groups = match.groups.map(({ cells }) => ({
    codes: cells.map((cell) => cell.id),
    ...groupFigures(cells.map((cell) => measured[cell.id] ?? { capacity: null, resistance: null })),
  }));
  const { answer, pending, form } = useFormAnswer('save build', saveBuildAction);
  return (
    <div className="stack">
      <section className="sheet lead-ember" aria-label="Pack capacity">
        <div className="soft">Capacity of the pack, set by its weakest group</div>
        <PackCapacity groups={groups} />
        <p className="mb-0">
          {match.proven
            ? 'No other arrangement of these cells is better.'
            : `No arrangement of these cells is better by more than ${gapText(match.gap)}.`}{' '}
          Groups differ by {(match.spread * 100).toFixed(1)} %.
        </p>
      </section>
      <section className="sheet" aria-label="Groups">
        <GroupTable groups={groups} without={(code) => needHref({ ...need, without: [...need.without, code] })} />
        {match.warnings.map((warning) => (
          <p key={warningText(warning)} className="ask mt-2 mb-0">
            {warningText(warning)} <Grounds code={warning.code} />
          </p>
        ))}
        <PlusMinus />
        <p className="soft mt-2 mb-0">
          Before joining cells in parallel, bring their voltages together: read each one now, not from memory.
        </p>
      </section>
      <section className="sheet" aria-label="Left over">
        <h2>Left over: {match.left.length}</h2>
        <p className="num mb-0">{match.left.map((cell) => cell.id).join(' ') || 'none'}</p>
      </section>
      <form className="sheet" {...form} aria-label="Save this build">
        <input type="hidden" name="series" value={need.series} />
        <input type="hidden" name="parallel" value={need.parallel} />
        <input
          type="hidden"
          name="groups"
          value={JSON.stringify(match.groups.map((group) => group.cells.map((cell) => cell.id)))}
        />
        <Field
          name="name"
          label="Name of the pack"
          error={answer?.ok === false ? answer.fields.name : undefined}
          hint="Where it will serve"
        />
        <FormEnd
          refused={answer?.ok === false ? answer.said : null}
          pending={pending}
          label="Save and set the cells aside"
          busy="Saving …"
        />
      </form>
    </div>
  );
}

const gapText = (gap: number): string =>
  gap < 1e-4 ? 'a ten-thousandth' : formatFigure(gap, { ...display.share, decimals: 2 });
