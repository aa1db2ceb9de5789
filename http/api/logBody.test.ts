import { spoolBody } from './logBody';
import { storingAll } from './logLayout';
import { respond } from './respond';

const bodyOf = (bytes: number) =>
  new ReadableStream<Uint8Array>({
    start(controller) {
      for (let at = 0; at < bytes; at += 1 << 16) controller.enqueue(new Uint8Array(1 << 16));
      controller.close();
    },
  });

// Linux answers every write there as a full disk does.
test.each([
  ['the log', '/dev/full', undefined],
  ['what is packed of it', '/dev/null', '/dev/full'],
])('a full disk is reported, and that nothing was stored: %s', async (_, file, packed) => {
  const answer = await respond(() =>
    storingAll(async () => {
      const spooled = await spoolBody(bodyOf(1 << 23), file, packed);
      await spooled.packed;
    }),
  );
  expect([answer.status, await answer.json()]).toEqual([
    507,
    { error: { code: 'disk-full', message: expect.stringContaining('nothing was stored'), issues: [] } },
  ]);
});
