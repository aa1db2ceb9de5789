'use client';

import { useRouter } from 'next/navigation';
import { startTransition, useEffect, useRef, useState, useTransition } from 'react';
import { draftText, emptyMemory, type FiledLine, remember, rememberFiled, remembered, useMemory } from './barMemory';
import { type LineQuestion, type EntryLine, type Filed, lost, turnedAway, unanswered } from './entryLine';
import { keepWaiting, someWait, useOutbox } from './outbox';
import { noteSentHere } from './sentHere';
import { useSound } from './sound';
import { v4 as newId } from 'uuid';

/** What a typed line means, before it is filed. */
export type Understood =
  | { kind: 'nothing' }
  /** `suggests` is the line as it was probably meant. */
  | { kind: 'wrong'; said: string; suggests?: string }
  /** Go somewhere instead of filing. */
  | { kind: 'go'; said: string; href: string }
  /**
   * `asks` is a question that a second Enter answers with yes; `code` is what it is for; `inFull` is the line as it
   * means the same whatever is shown.
   */
  | { kind: 'reading'; said: string; asks: LineQuestion | null; code: string | null; inFull: string };

/** Files readings for one place, a batch or a round, and takes them back. */
export interface Filing {
  /** Where entries wait apart from others while there is no connection. */
  place: string;
  /** What is chosen beside the bar and belongs to the lines typed now. */
  circumstances?: Record<string, string>;
  /** The screen goes on by the answer itself; otherwise the bar waits for the screen from the server. */
  immediate?: boolean;
  /** How many readings of it the screen knows of, where one that came meanwhile is asked about. */
  seenOf?(code: string): number | null;
  file(line: EntryLine): Promise<Filed>;
  /** After each line that was filed. */
  filed?(): void;
  undo(entry: string): Promise<Filed>;
  /** Files what was taken back once more, under a new id. */
  redo(entry: string, newEntry: string): Promise<Filed>;
}

type Meant = Extract<Understood, { kind: 'reading' }>;

/** A line in the bar; `replaces` is the entry that it must replace. */
interface Typed {
  text: string;
  replaces: string | null;
}

/** Lines that stood behind the way to a screen with another bar: that one shows them. */
const broughtAlong: Typed[] = [];
const nothing: Typed = { text: '', replaces: null };
const noFiling: Filing = { place: '', file: async () => lost, undo: async () => lost, redo: async () => lost };

/**
 * What a reading bar does with what is typed. Enter files a line; lines entered while an earlier one is under way
 * follow it in order, each for the cell that is shown by then. A line that is refused or asked about comes back into
 * the bar, and those behind it wait until it is filed or emptied.
 */
export function useReadingBar(
  understand: (text: string, corrects: boolean) => Understood,
  current: string | null,
  filing: Filing | undefined,
) {
  const router = useRouter();
  /** `draft` was half typed when an earlier line came back. */
  const [{ typed }, setBar] = useState({ typed: nothing, draft: nothing });
  /**
   * Lines entered behind one that is under way or came back. Not a state: a line must never be taken twice, whatever is
   * drawn when.
   */
  const ahead = useRef<Typed[]>([]);
  const [aheadCount, setAheadCount] = useState(0);
  const inFlight = useRef(false);
  const [held, setHeld] = useState(false);
  /** The line that Enter files though it was asked about, with the question. */
  const [asked, setAsked] = useState<(LineQuestion & { about: string }) | null>(null);
  /** `about` is the line it is about where that is in the bar. */
  const [answer, setAnswer] = useState<{ said: string; bad: boolean; about: string; why?: string } | null>(null);
  const [underWay, setUnderWay] = useState(false);
  const [pending, startFiling] = useTransition();
  const busy = underWay || pending;
  const sound = useSound();
  const { file, undo, redo, place, circumstances = {} } = filing ?? noFiling;
  const last = useMemory(place).filed.at(-1);

  useEffect(() => {
    const text = draftText(remembered(place).draft, current);
    if (text !== '')
      startTransition(() =>
        setBar((bar) => (bar.typed.text === '' ? { ...bar, typed: { text, replaces: null } } : bar)),
      );
    // Once for each place: what is typed later is kept, not fetched.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [place]);
  useEffect(() => {
    const [first, ...rest] = broughtAlong.splice(0);
    const lines = ahead;
    lines.current = rest;
    if (first)
      startTransition(() => {
        setHeld(true);
        setAheadCount(rest.length);
        setBar(({ typed: now }) => ({ typed: first, draft: now }));
      });
    return () => {
      broughtAlong.push(...lines.current);
    };
  }, []);
  const doWait = someWait(useOutbox());
  const understood = understand(typed.text, typed.replaces !== null);

  const comesBack = (line: Typed) => {
    setHeld(true);
    remember(place, { draft: { text: line.text, current } });
    setBar(({ typed: now, draft }) => ({ typed: line, draft: now.text === '' ? draft : now }));
  };

  /** A fault of this page never costs the line. */
  const failed = (line: Typed, error: unknown) => {
    console.error(error);
    sound.play('look');
    setAnswer({
      said: 'This page failed on the line. Reload the page and enter the line again.',
      bad: true,
      about: line.text,
    });
    comesBack(line);
  };

  const take = (line: Typed) => {
    try {
      understandAndFile(line);
    } catch (error) {
      failed(line, error);
    }
  };

  const understandAndFile = (line: Typed) => {
    const meant = understand(line.text, line.replaces !== null);
    switch (meant.kind) {
      case 'nothing':
        return setAnswer(null);
      case 'go':
        // Lines entered meanwhile are for what is shown once it is there.
        return startFiling(() => router.push(meant.href));
      case 'wrong':
        sound.play('look');
        setAnswer({ said: meant.said, bad: true, about: line.text });
        return comesBack(line);
      case 'reading': {
        if (!filing) return;
        const confirmed = asked?.about === line.text;
        if (meant.asks === null || confirmed) return fileLine(line, meant, confirmed);
        sound.play('odd');
        setAsked({ ...meant.asks, about: line.text });
        setAnswer(null);
        return comesBack(line);
      }
    }
  };

  const fileLine = (typedLine: Typed, meant: Meant, confirmed: boolean) => {
    const line: EntryLine = {
      entry: newId(),
      text: typedLine.text,
      confirmed,
      current,
      circumstances,
      replaces: typedLine.replaces,
      seen: meant.code === null ? null : (filing?.seenOf?.(meant.code) ?? null),
      waitedS: 0,
    };
    noteSentHere(line.entry);
    const fileAndTell = async () => {
      // While earlier lines wait, later ones wait behind them: they are filed in order.
      const answer = doWait ? lost : await file(line).catch(unanswered);
      const kept = !answer.ok && answer.away ? await keep(line, meant) : true;
      const tell = () => answered(answer, typedLine, line, meant, kept);
      // Told together with the screen that follows: "filed" is never shown beside the cell that was read before.
      if (filing?.immediate) tell();
      else startTransition(tell);
    };
    const work = () =>
      fileAndTell()
        .catch((error: unknown) => failed(typedLine, error))
        .finally(() => {
          inFlight.current = false;
        });
    inFlight.current = true;
    if (!filing?.immediate) return startFiling(work);
    setUnderWay(true);
    void work().then(() => setUnderWay(false));
  };

  /** In full it means the same when it is sent, whatever its cell lacks by then. False where nothing can be kept. */
  const keep = async (line: EntryLine, { code, inFull }: Meant): Promise<boolean> =>
    keepWaiting({ ...line, place, text: inFull, code, inFull, refused: null, asks: false, filed: false }).then(
      () => true,
      () => false,
    );

  const answered = (answer: Filed, typedLine: Typed, line: EntryLine, { code, inFull }: Meant, kept: boolean) => {
    if (!answer.ok && answer.away) {
      sound.play('look');
      const why = answer.said === turnedAway.said ? turnedAway.said : 'No connection';
      if (!kept) {
        setAnswer({
          said: `${why}, and this browser has no room to keep the line. It stays here until it can be filed.`,
          bad: true,
          about: typedLine.text,
        });
        return comesBack(typedLine);
      }
      setAnswer({
        said: `${why}: ${code ?? ''} ${line.text} is kept in this browser, sent again when it is back, and filed once.`,
        bad: true,
        about: '',
      });
      return;
    }
    const filedAs = answer.ok && (answer.odd || line.confirmed) ? 'odd' : 'filed';
    sound.play(answer.ok ? filedAs : 'look');
    setAnswer(
      !answer.ok && answer.asks
        ? null
        : {
            said: answer.said,
            bad: !answer.ok,
            about: answer.ok ? '' : line.text,
            ...(answer.ok && answer.why && { why: answer.why }),
          },
    );
    if (!answer.ok) {
      setAsked(answer.asks ? { text: answer.said, suggests: answer.suggests ?? null, about: line.text } : null);
      return comesBack(typedLine);
    }
    rememberFiled(place, line, inFull);
    filing?.filed?.();
  };

  useEffect(() => {
    if (busy || held || aheadCount === 0) return;
    // After this drawing: by then a screen that goes on by itself shows the next cell.
    const timer = setTimeout(() => {
      const next = inFlight.current ? undefined : ahead.current.shift();
      if (!next) return;
      setAheadCount(ahead.current.length);
      take(next);
    });
    return () => clearTimeout(timer);
  });

  /** Moves the last of one list to the other if the server agrees; `id` is its entry afterwards. */
  const move = (
    from: 'filed' | 'taken',
    done: string,
    none: string,
    ask: (entry: string) => Promise<{ answer: Filed; id: string }>,
  ) => {
    if (!filing) return;
    if (busy)
      return setAnswer({ said: 'The last line is still on its way. Press the key again.', bad: false, about: '' });
    const moving = remembered(place)[from].at(-1);
    if (!moving) return setAnswer({ said: none, bad: false, about: '' });
    startFiling(async () => {
      const { answer, id } = await ask(moving.entry).catch((error: unknown) => ({
        answer: unanswered(error),
        id: moving.entry,
      }));
      if (answer.ok) {
        const { filed, taken } = remembered(place);
        const moved = { ...moving, entry: id };
        const without = (list: FiledLine[]) => list.filter((one) => one.entry !== moving.entry);
        remember(
          place,
          from === 'filed'
            ? { filed: without(filed), taken: [...taken, moved] }
            : { filed: [...filed, moved], taken: without(taken) },
        );
      }
      startTransition(() =>
        setAnswer({
          said: answer.ok ? `${done}: ${moving.inFull}. ${answer.said}`.trim() : answer.said,
          bad: !answer.ok,
          about: '',
        }),
      );
    });
  };

  const question = understood.kind === 'reading' && asked?.about === typed.text ? asked : null;
  const asks = question && `${question.text} Enter again files it as read.`;
  const isAnswered = answer !== null && (typed.text === '' || typed.text === answer.about) && asks === null;
  const suggestion = question?.suggests ?? (understood.kind === 'wrong' ? (understood.suggests ?? null) : null);

  /** Takes a line, now or after those under way. */
  const send = (line: Typed) => {
    // Lines that wait go first, unless one of them came back and this is the answer to it.
    const doLinesWait = !held && ahead.current.length > 0;
    if (busy || inFlight.current || doLinesWait) {
      if (line.text.trim() !== '') setAheadCount(ahead.current.push(line));
      return;
    }
    setHeld(false);
    setAsked(null);
    take(line);
  };

  const enter = (line: Typed) => {
    remember(place, { draft: emptyMemory.draft });
    setBar(({ draft }) => ({ typed: draft, draft: nothing }));
    send(line);
  };

  return {
    text: typed.text,
    type: (text: string) => {
      remember(place, { draft: { text, current } });
      setBar(({ typed: now, draft }) => ({ typed: { text, replaces: text === '' ? null : now.replaces }, draft }));
      setAsked(null);
    },
    enter: () => enter(typed),
    /** A line that was not typed, such as tapped findings. */
    enterLine: (text: string) => send({ text, replaces: null }),
    /** The line as it was probably meant, where it was asked about. */
    suggestion,
    takeSuggestion: () => {
      if (suggestion !== null) enter({ text: suggestion, replaces: typed.replaces });
    },
    /** The line that undoing would take back. */
    last: last?.inFull ?? null,
    takeBack: () =>
      move('filed', 'Undone', 'Nothing was filed here in this window that could be undone.', async (entry) => ({
        answer: await undo(entry),
        id: entry,
      })),
    bringBack: () =>
      move('taken', 'Filed again', 'Nothing was undone here that could be filed again.', async (entry) => {
        const newEntry = newId();
        noteSentHere(newEntry);
        return { answer: await redo(entry, newEntry), id: newEntry };
      }),
    /** Puts the last entry into the bar, to be filed in its place. */
    correct: () => {
      // The last entry is one that waits, not the last one filed: that would be corrected twice.
      if (!last || busy || doWait) return false;
      setBar({ typed: { text: last.inFull, replaces: last.entry }, draft: nothing });
      return true;
    },
    said: isAnswered
      ? answer.said
      : (asks ??
        ('said' in understood ? `${typed.replaces ? 'Instead of the last entry: ' : ''}${understood.said}` : '')),
    /** The handbook page that explains it. */
    why: isAnswered ? answer.why : undefined,
    isHot: isAnswered ? answer.bad : asks !== null || understood.kind === 'wrong',
    /** Lines entered behind one that is under way or came back. */
    ahead: aheadCount,
    sound,
  };
}
