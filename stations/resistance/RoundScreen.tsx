'use client';

import { resistanceSayingText } from '@/words/packs';
import { Grounds } from '@/stations/Grounds';
import { warningText } from '@/words/warnings';
import { display, formatFigure, formatQuantity } from '@/core/quantity/format';
import { methods } from '@/core/resistance/methods';
import type { Warning } from '@/core/warning';
import { Budget } from '@/ui/Budget';
import { Figure } from '@/ui/Figure';
import type { EntryLine, Filed } from '@/ui/entryLine';
import { useWaiting } from '@/ui/outbox';
import { ReadingBar } from '@/ui/ReadingBar';
import { weldText } from '@/ui/tokens';
import { useRouter } from 'next/navigation';
import { memo, startTransition, useCallback, useDeferredValue, useEffect, useMemo, useState } from 'react';

import { redoEntry, undoEntry } from '@/stations/entryActions';
import { Elsewhere } from '@/stations/frame/Elsewhere';
import { type RoundCell, type RoundContext, understandReading } from './roundLine';
import { sendReading } from './sendReading';
import type { PackFigure } from '@/core/judging/judgePack';
import type { RoundFigure } from '@/core/judging/judgeRound';
import { Link } from '@/ui/Link';
import { GroupOhms } from '../GroupOhms';
import { v4 as newId } from 'uuid';

export interface ScreenCell extends RoundCell {
  /** What helps to find it. */
  about: string;
  /** What the protocol asks for, A, in order. */
  currentsA: number[];
}

/** How long after the last entry the rest of the screen is asked for. */
const pauseMs = 300;

interface RoundScreenProps {
  roundId: number;
  round: RoundContext;
  what: 'cell' | 'pack';
  cells: ScreenCell[];
  /** Cells of the batch that are not measured, with the reason. */
  others: Record<string, string>;
  /** A cell that was asked for. */
  at: string | null;
  last: RoundFigure | PackFigure | null;
  /** What holds for the whole round, said once. */
  said: Warning[];
}

/**
 * The heart of a round: the last figure large, the next cell named, and the bar; it goes on before the rest of the
 * screen follows.
 */
export function RoundScreen({ roundId, round, what, cells, others, at, last, said }: RoundScreenProps) {
  const router = useRouter();
  /** Readings of a cell that this screen filed, by code: it goes on before the server has redrawn the rest. */
  const [known, setKnown] = useState<ReadonlyMap<string, number>>(new Map());
  /** `before` is what the server had drawn when it was filed. */
  const [latest, setLatest] = useState<{ figure: RoundFigure | PackFigure | null; before: ScreenCell[] } | null>(null);
  const place = `round ${roundId}`;
  const waiting = useWaiting(place);
  const byCode = useMemo(() => new Map(cells.map((cell) => [cell.code, cell])), [cells]);
  const timesOf = useCallback(
    (code: string, counts = known) => Math.max(byCode.get(code)?.times ?? 0, counts.get(code) ?? 0),
    [byCode, known],
  );
  const seenOf = useCallback(
    (code: string) => timesOf(code) + waiting.filter((one) => one.code === code).length,
    [timesOf, waiting],
  );
  const isAhead = cells.some((cell) => (known.get(cell.code) ?? 0) > cell.times);
  /** Going to a cell is for one filing. */
  const [visited, setVisited] = useState<string | null>(null);
  if (at === null && visited !== null) setVisited(null);
  const asked = at === visited || waiting.length > 0 ? undefined : cells.find((cell) => cell.code === at);
  const next = asked ?? cells.find((cell) => seenOf(cell.code) === 0) ?? null;
  // The next prompt does not wait for hundreds of places to be drawn.
  const read = useDeferredValue(
    useMemo(
      () =>
        new Set([
          ...[...known].flatMap(([code, count]) => (count > 0 ? code : [])),
          ...waiting.flatMap((one) => one.code ?? []),
        ]),
      [known, waiting],
    ),
  );
  const marked = useDeferredValue(next?.code ?? null);
  const shown = latest && (isAhead || latest.before === cells) ? latest.figure : last;
  const understand = useCallback(
    (text: string, current: string | null, corrects: boolean) => {
      const cellOf = (named: string) => {
        const cell = byCode.get(named) ?? cells.find((one) => one.weldedTo.includes(named));
        const code = cell?.code ?? named;
        return cell ? { ...cell, times: Math.max(0, timesOf(code) - Number(corrects)) } : null;
      };
      return understandReading(
        text,
        round,
        current === null ? null : cellOf(current),
        cellOf,
        (code) => others[code] ?? null,
      );
    },
    [round, cells, byCode, timesOf, others],
  );

  const file = useCallback(
    async (typed: EntryLine) => {
      const line = understand(typed.text, typed.current, typed.replaces !== null);
      const code = line.kind === 'reading' ? line.code : null;
      const answer = await sendReading(roundId, typed);
      if (answer.ok && code !== null) {
        const { figure = null, freed } = answer;
        setLatest({ figure, before: cells });
        setKnown((before) => {
          const now = new Map(before).set(code, timesOf(code, before) + 1);
          return freed ? now.set(freed, timesOf(freed, now) - 1) : now;
        });
      }
      return answer;
    },
    [roundId, understand, cells, timesOf],
  );
  const filing = useMemo(() => {
    const forgetting = async (answer: Promise<Filed>) => {
      setKnown(new Map());
      return answer;
    };
    const filed = () => {
      if (at === null) return;
      setVisited(at);
      window.history.replaceState(null, '', `/resistance/${roundId}`);
    };
    return {
      place,
      immediate: true,
      seenOf,
      file,
      filed,
      undo: (entry: string) => forgetting(undoEntry(entry)),
      redo: (entry: string, newEntry: string) => forgetting(redoEntry(entry, newEntry)),
    };
  }, [place, seenOf, file, at, roundId]);

  useEffect(() => {
    // Makes the server ready, no more: without a connection the readings wait, and say so themselves.
    sendReading(roundId, {
      entry: newId(),
      text: '',
      confirmed: false,
      current: null,
      circumstances: {},
      replaces: null,
      seen: null,
      waitedS: 0,
    }).catch(() => undefined);
  }, [roundId]);

  // The rest of the screen follows once the hands pause.
  useEffect(() => {
    if (known.size === 0) return;
    const timer = setTimeout(() => startTransition(() => router.refresh()), pauseMs);
    return () => clearTimeout(timer);
  }, [known, router]);

  return (
    <>
      <div className="cols">
        {shown && 'groups' in shown && <LastPack figure={shown} />}
        {shown && !('groups' in shown) && (
          <LastFigure
            roundId={roundId}
            figure={{
              ...shown,
              warnings: shown.warnings.filter((warning) => !said.some((one) => one.code === warning.code)),
            }}
          />
        )}
        {!shown && <FirstCell method={round.method} ofPacks={what === 'pack'} />}
        <section className="sheet" aria-label={`Next ${what}`}>
          <h2>Next</h2>
          {next ? (
            <>
              <div className="num" style={{ fontSize: '1.8rem', fontWeight: 650 }}>
                {weldText([next.code, ...next.weldedTo])}
              </div>
              <p className="soft mb-2">
                {next.about}
                {next.currentsA.length > 0 &&
                  ` · at ${next.currentsA.map((current) => formatFigure(current, display.current)).join(', then ')}`}
              </p>
            </>
          ) : (
            <p className="mb-2">
              {cells.length === 1 ? `Its one ${what} is measured.` : `All ${cells.length} ${what}s are measured.`} On to
              their <Link href="/capacity">capacity tests</Link>, or type a code to measure again.
            </p>
          )}
          <Tray roundId={roundId} what={what} cells={cells} read={read} marked={marked} />
        </section>
      </div>
      {said.length > 0 && (
        <section className="sheet mb-3" aria-label="Of this round">
          {said.map((warning) => (
            <p key={warning.code} className="ask mb-1">
              {warningText(warning)} <Grounds code={warning.code} />
            </p>
          ))}
        </section>
      )}
      <Elsewhere key={next?.code} place={place} concerns={(_, round) => round === roundId} />
      <ReadingBar
        label={next ? `${typedOf(round.method, next)} of ${weldText([next.code, ...next.weldedTo])}` : 'Reading'}
        placeholder={exampleOf(round.method, next)}
        figures={['°C']}
        current={next?.code ?? null}
        understand={(text, corrects) => {
          const line = understand(text, next?.code ?? null, corrects);
          if (line.kind === 'go')
            return { kind: 'go', said: `go to ${line.code}`, href: `/resistance/${roundId}?at=${line.code}` };
          return line.kind === 'reading' ? { ...line, kind: 'reading' } : line;
        }}
        filing={filing}
      />
    </>
  );
}

/** Every cell of the round, filled once it is measured. */
const Tray = memo(function Tray({
  roundId,
  what,
  cells,
  read,
  marked,
}: {
  roundId: number;
  what: 'cell' | 'pack';
  cells: ScreenCell[];
  read: ReadonlySet<string>;
  marked: string | null;
}) {
  return (
    <ol className="tray" aria-label={`${what === 'cell' ? 'Cells' : 'Packs'} of the round`}>
      {cells.map(({ code, times }) => (
        <Place
          key={code}
          href={`/resistance/${roundId}?at=${code}`}
          code={code}
          measured={times > 0 || read.has(code)}
          now={code === marked}
        />
      ))}
    </ol>
  );
});

/** One place of the tray; of hundreds only those that change are drawn again. */
const Place = memo(function Place({
  href,
  code,
  measured,
  now,
}: {
  href: string;
  code: string;
  measured: boolean;
  now: boolean;
}) {
  return (
    <li>
      <Link
        href={href}
        aria-label={`${code}, ${measured ? 'measured' : 'waiting'}`}
        scroll={false}
        className={now ? 'mark-now' : ''}
      >
        <i className={measured ? 'dot full' : 'dot'} aria-hidden />
      </Link>
    </li>
  );
});

function LastFigure({ roundId, figure }: { roundId: number; figure: RoundFigure }) {
  const { code, together, resistance, odd, medianOhm, pressed, repeats, warnings, loadPowerW } = figure;
  return (
    <section className="sheet lead-ember" aria-label="Last figure">
      <div className="d-flex flex-wrap align-items-baseline gap-3">
        <span className="code">{code}</span>
        {together > 1 && <span className="soft">of each of {together} welded together</span>}
        {loadPowerW !== null && <span className="soft">{formatFigure(loadPowerW, display.power)} in the load</span>}
        {repeats?.differ ? (
          <span className="tag hot ms-auto">◆ measure again: a contact changes</span>
        ) : (
          odd && <span className="tag hot ms-auto">◆ odd one</span>
        )}
      </div>
      {resistance ? (
        <Figure quantity={resistance} as={display.resistance} />
      ) : (
        <p className="ask">These readings give no resistance. They stay on file. Measure again.</p>
      )}
      {pressed.length > 1 && (
        <p className="mb-1">
          Pressed {pressed.length} times:{' '}
          <span className="num">
            {pressed
              .slice(0, 6)
              .map((ohm) => (ohm * 1000).toFixed(1))
              .join(' · ')}{' '}
            mΩ
          </span>
          .{' '}
          {repeats?.differ
            ? `They differ by more than the ${formatFigure(repeats.limit, display.resistance)} that pressing again ` +
              'may. Clean the contact, press harder, measure once more.'
            : 'They agree: it is the cell, not the contact.'}
        </p>
      )}
      {odd && resistance && medianOhm !== null && pressed.length === 1 && (
        <p className="mb-1">
          {(resistance.value / medianOhm).toFixed(1)} times the median of this batch (
          {formatFigure(medianOhm, display.resistance)}). Lift it out, seat it again and{' '}
          <Link href={`/resistance/${roundId}?at=${code}`} scroll={false}>
            press {code} once more
          </Link>
          : the same figure twice means the cell, another one the contact.
        </p>
      )}
      {warnings.map((warning) => (
        <p key={warning.code} className="ask mt-2 mb-1">
          {warningText(warning)} <Grounds code={warning.code} />
        </p>
      ))}
      <Budget budget={figure.budget} as={display.resistance} decimals={2} />
    </section>
  );
}

const readsGroups = (method: RoundContext['method'], one: ScreenCell | null): boolean =>
  one !== null && one.series > 1 && methods[method].needs === 'resistance';

/** What is typed of that one. */
const typedOf = (method: RoundContext['method'], one: ScreenCell): string =>
  readsGroups(method, one)
    ? `resistances in mΩ of the ${one.series} groups, from the negative terminal,`
    : methods[method].typed;

function exampleOf(method: RoundContext['method'], one: ScreenCell | null): string {
  const series = one?.series ?? 1;
  if (readsGroups(method, one))
    return Array.from({ length: Math.min(series, 8) }, (_, i) => (7.2 + 0.3 * ((i * 5) % 3)).toFixed(1)).join(' ');
  return methods[method].example.replaceAll(/\b[34]\.\d\d\b/g, (volts) => (Number(volts) * series).toFixed(2));
}

function FirstCell({ method, ofPacks }: { method: RoundContext['method']; ofPacks: boolean }) {
  const { does, typed, example, needs } = methods[method];
  return (
    <section className="sheet lead-ember empty">
      <p>
        {does}{' '}
        {ofPacks && needs === 'resistance'
          ? 'Type the resistance of each group from the negative terminal. If you have the value of the whole, ' +
            'type it after =. Then press Enter.'
          : `Type ${typed} of the first into the bar below, such as ${example}, and press Enter.`}{' '}
        Enter values from paper with their day, such as 2026-03-02.
        {ofPacks && needs !== 'resistance' && ' From terminal to terminal; behind g2 of group 2 alone.'}
      </p>
    </section>
  );
}

function LastPack({
  figure: { code, series, groups, medianOhm, whole, perGroup, says, leftOut },
}: {
  figure: PackFigure;
}) {
  const [first, ...more] = says;
  return (
    <section className="sheet lead-ember" aria-label="Last figure">
      <Link className="code" href={`/clinic/${code}`}>
        {code}
      </Link>
      {groups.length > 0 ? (
        <GroupOhms groups={groups} series={series} medianOhm={medianOhm} />
      ) : (
        whole && <Figure quantity={whole} as={display.resistance} />
      )}
      {groups.length === 0 && perGroup && series > 1 && (
        <p className="mb-1">{formatQuantity(perGroup, display.resistance)} a group, as their mean.</p>
      )}
      {first && <p style={{ fontWeight: 700 }}>{resistanceSayingText(first)}</p>}
      {more.map((saying) => (
        <p key={saying.code} className="mb-1">
          {resistanceSayingText(saying)}
        </p>
      ))}
      {leftOut && <p className="ask mt-2 mb-1">Not compared with other days: {warningText(leftOut)}</p>}
    </section>
  );
}
