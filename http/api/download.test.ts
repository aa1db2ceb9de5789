import { asFile, forReader } from './download';
import { Readable } from 'node:stream';
import { text } from 'node:stream/consumers';

const parts = (count: number): Readable =>
  Readable.from(
    Array.from({ length: count }, () => Buffer.alloc(1 << 16, 'a')),
    { objectMode: false },
  );
const gone = (from: Readable) => new Promise((resolve) => from.once('close', resolve));

test('a reader gets everything, and keeps its name', async () => {
  const answer = asFile(Readable.from([Buffer.from('one,'), Buffer.from('two')]), 'text/csv', 'Größe 1.csv');
  expect(answer.headers.get('content-disposition')).toBe("attachment; filename*=UTF-8''Gr%C3%B6%C3%9Fe%201.csv");
  expect(await answer.text()).toBe('one,two');
});

test('a reader that leaves frees what feeds it', async () => {
  const from = parts(100);
  const reader = (asFile(from, 'text/csv', 'a').body as ReadableStream<Uint8Array>).getReader();
  await reader.read();
  const closed = gone(from);
  await reader.cancel();
  await closed;
});

test('so does one that stops reading', async () => {
  const from = parts(100);
  const out = forReader(from, 20);
  const failed = new Promise<Error>((resolve) => out.once('error', resolve));
  const closed = gone(from);
  out.once('readable', () => out.read());
  expect((await failed).message).toContain('stopped reading');
  await closed;
});

test('a slow source is no slow reader', async () => {
  const slowly = async function* (): AsyncGenerator<Buffer> {
    for (let i = 0; i < 3; i++) {
      await new Promise((resolve) => setTimeout(resolve, 60));
      yield Buffer.from('a');
    }
  };
  expect(await text(forReader(Readable.from(slowly(), { objectMode: false }), 20))).toBe('aaa');
});
