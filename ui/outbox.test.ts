import 'fake-indexeddb/auto';
import type { Filed } from './entryLine';
import type { WaitingLine } from './outbox';

const filed: Filed = { ok: true, said: 'Filed.' };
const away: Filed = { ok: false, away: true, said: 'The server did not answer.' };
const line = (text: string, change: Partial<WaitingLine> = {}): WaitingLine => ({
  entry: crypto.randomUUID(),
  text,
  confirmed: false,
  current: null,
  circumstances: {},
  replaces: null,
  seen: null,
  waitedS: 0,
  typedAt: null,
  place: 'intake S1',
  code: null,
  inFull: text,
  refused: null,
  asks: false,
  filed: false,
  sentSince: null,
  ...change,
});

/** A browser of its own, with what an earlier version left there. */
async function browser(left: Record<string, string> = {}) {
  const kept = new Map(Object.entries(left));
  const storage = {
    getItem: (key: string) => kept.get(key) ?? null,
    removeItem: (key: string) => kept.delete(key),
  };
  // As in a browser, its keys are those of what it holds.
  globalThis.localStorage = new Proxy(storage, {
    ownKeys: () => [...kept.keys()],
    getOwnPropertyDescriptor: () => ({ enumerable: true, configurable: true }),
  }) as unknown as Storage;
  globalThis.indexedDB = new IDBFactory();
  jest.resetModules();
  const { Dexie } = await import('dexie');
  Dexie.dependencies.indexedDB = globalThis.indexedDB;
  return { ...(await import('./outbox')), kept };
}

/** Sends with these answers by text, and notes what was sent. */
function post(answers: Record<string, Filed> = {}) {
  const sent: string[] = [];
  const send = async ({ text }: WaitingLine): Promise<Filed> => {
    sent.push(text);
    return answers[text] ?? filed;
  };
  return { sent, send };
}

test('what waits at several places is sent in the order of typing, and again from where the connection broke', async () => {
  const outbox = await browser();
  for (const text of ['one', 'two', 'three'])
    await outbox.keepWaiting(line(text, { place: text === 'two' ? 'round 3' : 'intake S1' }));
  const broken = post({ two: away });
  expect(await outbox.sendWaiting(broken.send)).toMatchObject({ filed: [{ text: 'one' }], isAway: true });
  const whole = post();
  expect(await outbox.sendWaiting(whole.send)).toMatchObject({ filed: [{ text: 'two' }, { text: 'three' }] });
  expect([broken.sent, whole.sent]).toEqual([
    ['one', 'two'],
    ['two', 'three'],
  ]);
  await outbox.dropFiled();
  const later = post();
  await outbox.sendWaiting(later.send);
  expect(later.sent).toEqual([]);
});

test('one that is refused holds nothing back; changed or confirmed it is sent again under its id', async () => {
  const outbox = await browser();
  const [odd, asked] = [line('odd'), line('asked')];
  for (const one of [odd, asked, line('fine')]) await outbox.keepWaiting(one);
  const answers: Record<string, Filed> = {
    odd: { ok: false, said: 'not understood' },
    asked: { ok: false, said: 'Is that so?', asks: true },
  };
  expect((await outbox.sendWaiting(post(answers).send)).filed.map(({ text }) => text)).toEqual(['fine']);
  await outbox.changeWaiting(odd.entry, 'better');
  await outbox.confirmWaiting(asked.entry);
  const sent: WaitingLine[] = [];
  await outbox.sendWaiting(async (one) => {
    sent.push(one);
    return filed;
  });
  expect(sent).toMatchObject([
    { entry: odd.entry, text: 'better', inFull: 'better', confirmed: false },
    { entry: asked.entry, text: 'asked', confirmed: true },
  ]);
});

test('a line that is being sent can be neither changed nor dropped; another tab leaves it alone', async () => {
  const outbox = await browser();
  const one = line('one');
  await outbox.keepWaiting(one);
  const { sent, send } = post();
  const first = await outbox.sendWaiting(async (sending) => {
    expect(await outbox.changeWaiting(one.entry, 'two')).toBe(false);
    expect(await outbox.dropWaiting(one.entry)).toBe(false);
    expect(await outbox.holdWaiting(one.entry)).toBe(false);
    expect(await outbox.sendWaiting(send)).toEqual({ filed: [], isAway: false });
    return send(sending);
  });
  expect([first.filed, sent]).toMatchObject([[{ text: 'one' }], ['one']]);
});

test('what a closed tab was sending is sent again; changed meanwhile, it corrects what was filed', async () => {
  const outbox = await browser();
  const one = line('one');
  await outbox.keepWaiting(one);
  const longAgo = jest.spyOn(Date, 'now').mockReturnValue(Date.now() - 100_000);
  let answerIt = (_: Filed): void => undefined;
  let closed: Promise<unknown> = Promise.resolve();
  const sent: WaitingLine[] = [];
  await new Promise<void>((begun) => {
    closed = outbox.sendWaiting(async (sending) => {
      sent.push(sending);
      if (sent.length > 1) return filed;
      begun();
      return new Promise((answer) => {
        answerIt = answer;
      });
    });
  });
  longAgo.mockRestore();
  // The connection is away when the line is taken over: it is free again, and changed by hand.
  await outbox.sendWaiting(post({ one: away }).send);
  await outbox.changeWaiting(one.entry, 'better');
  answerIt(filed);
  await closed;
  expect(sent).toMatchObject([{ text: 'one' }, { text: 'better', replaces: one.entry }]);
  expect(sent[1]?.entry).not.toBe(one.entry);
});

test('a slow answer keeps a line with its tab; a tab that was closed gives the line up within ten seconds', async () => {
  jest.useFakeTimers({ doNotFake: ['nextTick', 'queueMicrotask', 'setImmediate', 'setTimeout', 'clearTimeout'] });
  try {
    const outbox = await browser();
    await outbox.keepWaiting(line('one'));
    const other = post();
    const slow = await outbox.sendWaiting(async () => {
      for (let second = 0; second < 30; second++) {
        jest.advanceTimersByTime(1000);
        expect(await outbox.sendWaiting(other.send)).toEqual({ filed: [], isAway: false });
      }
      return away;
    });
    expect([slow, other.sent]).toEqual([{ filed: [], isAway: true }, []]);

    await new Promise<void>((begun) => {
      void outbox.sendWaiting(() => {
        begun();
        return new Promise(() => undefined);
      });
    });
    const closedAt = Date.now();
    jest.clearAllTimers();
    jest.setSystemTime(closedAt + 10_000);
    await outbox.sendWaiting(other.send);
    expect(other.sent).toEqual(['one']);
  } finally {
    jest.useRealTimers();
  }
});

test('a line in a person’s hands is not sent until it is put back or changed', async () => {
  const outbox = await browser();
  const [one, two] = [line('one'), line('two')];
  for (const each of [one, two]) {
    await outbox.keepWaiting(each);
    await outbox.holdWaiting(each.entry);
  }
  const { sent, send } = post();
  await outbox.sendWaiting(send);
  expect(sent).toEqual([]);
  await outbox.putBackWaiting(one.entry);
  await outbox.changeWaiting(two.entry, 'three');
  await outbox.sendWaiting(send);
  expect(sent).toEqual(['one', 'three']);
});

test('what is dropped is not sent, and the same line is kept once', async () => {
  const outbox = await browser();
  const one = line('one');
  await outbox.keepWaiting(one);
  await expect(outbox.keepWaiting(one)).rejects.toThrow();
  await outbox.dropWaiting(one.entry);
  const { sent, send } = post();
  await outbox.sendWaiting(send);
  expect(sent).toEqual([]);
});

test('a line tells how long it waited, and nothing by a clock that was set back', async () => {
  const outbox = await browser();
  const before = Date.now();
  await outbox.keepWaiting(line('3.71'));
  const sent: WaitingLine[] = [];
  await outbox.sendWaiting(async (one) => {
    sent.push(one);
    return filed;
  });
  const [one] = sent;
  expect(one?.typedAt).toBeGreaterThanOrEqual(before);
  if (one) {
    expect(outbox.waitedS(one, (one.typedAt ?? 0) + 90_000)).toBe(90);
    expect(outbox.waitedS(one, (one.typedAt ?? 0) - 5000)).toBe(0);
    expect(outbox.waitedS({ ...one, typedAt: null }, before)).toBe(0);
  }
});

test('lines that an earlier version kept are taken over, whatever became of them, and are forgotten there', async () => {
  const { entry, text, confirmed, current, circumstances, code, inFull, refused } = line('3.71');
  const old = { entry, text, confirmed, current, circumstances, code, inFull, refused };
  const outbox = await browser({
    'bold-ember-waiting intake S1': JSON.stringify([old, { text: 'from long ago' }]),
    'bold-ember-waiting round 3': 'half a li',
    'bold-ember-theme': 'dark',
  });
  const { sent, send } = post();
  expect((await outbox.sendWaiting(send)).filed).toMatchObject([{ ...old, place: 'intake S1', replaces: null }]);
  expect(sent).toEqual(['3.71']);
  expect([...outbox.kept.keys()]).toEqual(['bold-ember-theme']);
});

test('a browser that has no room says so, and takes the next line once it has', async () => {
  const outbox = await browser();
  const { open } = globalThis.indexedDB;
  globalThis.indexedDB.open = () => {
    throw new DOMException('full', 'QuotaExceededError');
  };
  await expect(outbox.keepWaiting(line('one'))).rejects.toThrow();
  globalThis.indexedDB.open = open;
  await outbox.keepWaiting(line('two'));
  const { sent, send } = post();
  await outbox.sendWaiting(send);
  expect(sent).toEqual(['two']);
});
