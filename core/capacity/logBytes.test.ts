import { refusalOf } from '@/words/impossible';
import fc from 'fast-check';
import { gzipSync } from 'node:zlib';
import { createByteLog, encodingOf, logText } from './logBytes';
import type { Logged } from './logColumns';
import type { Sample } from './logReader';

const portions = (bytes: Uint8Array, size: number): Uint8Array[] =>
  Array.from({ length: Math.ceil(bytes.length / size) }, (_, i) => bytes.subarray(i * size, (i + 1) * size));

function readBytes(bytes: Uint8Array, size = 1000, logged?: Logged) {
  const samples: Sample[] = [];
  const log = createByteLog((sample) => samples.push(sample), logged);
  portions(bytes, size).forEach(log.push);
  return { samples, ...log.finish() };
}

async function* each(parts: Uint8Array[]): AsyncGenerator<Uint8Array> {
  yield* parts;
}

async function unpackedOf(bytes: Uint8Array, size: number): Promise<Buffer> {
  const parts: Uint8Array[] = [];
  for await (const part of (await logText(() => each(portions(bytes, size)))).bytes) parts.push(part);
  return Buffer.concat(parts);
}

const rows = Array.from(
  { length: 300 },
  (_, i) => `${i},${(4.1 - i / 1000).toFixed(3)},${(21.5 + i / 100).toFixed(2)}`,
);
const csv = `Zeit (s),Spannung (V),Temperatur (°C)\n${rows.join('\n')}\n`;
const wide = Buffer.from(`\uFEFF${csv}`, 'utf16le');
const turned = Buffer.from(wide).swap16();

test.each([
  ['UTF-8', Buffer.from(csv)],
  ['UTF-8 with its mark', Buffer.from(`\uFEFF${csv}`)],
  ['UTF-16, low byte first', wide],
  ['UTF-16, high byte first', turned],
  ['UTF-16 without a mark', Buffer.from(csv, 'utf16le')],
  ['Latin-1', Buffer.from(csv, 'latin1')],
])('%s is recognised by its bytes, in portions of any length', (_, bytes) => {
  const { samples, columns } = readBytes(bytes, bytes.length);
  expect(samples).toHaveLength(300);
  expect(samples[7]).toEqual({ timeS: 7, voltageV: 4.093, currentA: null, temperatureC: 21.57 });
  expect(columns.map(({ field, heading }) => [field, heading])).toEqual([
    ['time', 'Zeit (s)'],
    ['voltage', 'Spannung (V)'],
    ['temperature', 'Temperatur (°C)'],
  ]);
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 5000 }), (size) => expect(readBytes(bytes, size).samples).toEqual(samples)),
    { numRuns: 20 },
  );
});

test('what is no text is not taken for two bytes a letter', () => {
  expect(encodingOf(new Uint8Array(200))).toBe('utf-8');
  expect(encodingOf(new Uint8Array([]))).toBe('utf-8');
});

describe('JSON lines', () => {
  const line = (i: number) => ({ time_s: i, voltage_v: 4.1 - i / 1000, current_a: -0.5 });
  const objects = Array.from({ length: 50 }, (_, i) => line(i));

  test('an object a line, by its keys in any order; what lacks a figure is passed over', () => {
    const text = [
      ...objects.map((one) => JSON.stringify(one)),
      '{"current_a":-0.5,"voltage_v":4.05,"time_s":50}',
      '{"time_s":51}',
      'broken',
    ].join('\n');
    const { samples, warnings } = readBytes(Buffer.from(text), 77);
    expect(samples).toHaveLength(51);
    expect(samples.at(-1)).toMatchObject({ timeS: 50, voltageV: 4.05, currentA: -0.5 });
    expect(warnings.map(({ code }) => code)).toEqual(['row-unreadable']);
  });

  test('a whole array of them, arrays of figures, and groups as an array', () => {
    expect(readBytes(Buffer.from(JSON.stringify(objects).replace(/\},/g, '},\n'))).samples).toHaveLength(50);
    const bare = objects.map(({ time_s, voltage_v }) => JSON.stringify([time_s, voltage_v])).join('\n');
    expect(readBytes(Buffer.from(bare)).samples).toHaveLength(50);
    const groups = objects.map(({ time_s, voltage_v }) =>
      JSON.stringify({ t: time_s, cells: [voltage_v, voltage_v - 0.01] }),
    );
    const { samples } = readBytes(Buffer.from(groups.join('\n')), 1000, { series: 2 });
    expect(samples[10]?.groupsV).toEqual([4.09, 4.08]);
  });
});

describe('gzip', () => {
  test('is unpacked whatever the portions, and what is not packed goes through as it is', async () => {
    const bytes = Buffer.from(csv);
    for (const size of [1, 7, 100_000]) {
      expect((await unpackedOf(gzipSync(bytes), size)).equals(bytes)).toBe(true);
      expect((await unpackedOf(bytes, size)).equals(bytes)).toBe(true);
    }
    expect(await unpackedOf(new Uint8Array(), 10)).toHaveLength(0);
  });

  test.each([
    ['broken off', gzipSync(Buffer.from(csv)).subarray(0, 200)],
    ['damaged', Buffer.from([0x1f, 0x8b, 8, 0, 0, 0, 0, 0, 0, 3, 9, 9, 9, 9, 9, 9])],
  ])('%s it is refused', async (_, bytes) => {
    const error: unknown = await unpackedOf(bytes, 50).catch((thrown: unknown) => thrown);
    expect(
      refusalOf(() => {
        throw error;
      }),
    ).toContain('gzip packing of this file is broken off or damaged');
  });

  test('a small file that unpacks into more than a log may have is left at that size', async () => {
    const bomb = gzipSync(Buffer.alloc(230 * 2 ** 20));
    let read = 0;
    const reading = (async () => {
      for await (const part of (await logText(() => each(portions(bomb, 4096)))).bytes) read += part.length;
    })();
    await expect(reading).rejects.toMatchObject({ why: { code: 'unpacks-too-large' } });
    expect(read).toBeLessThanOrEqual(200 * 2 ** 20);
  });
});
