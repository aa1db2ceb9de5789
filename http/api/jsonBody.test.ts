import { mostReadingBytes, readJson } from './jsonBody';

const sent = (body: string) => new Request('http://here/resistance/1/readings', { method: 'POST', body });

test('JSON comes back as it was sent', async () => {
  expect(await readJson(sent('{"text":"21.4","deep":[[{"brace":"}"}]]}'), mostReadingBytes)).toEqual({
    text: '21.4',
    deep: [[{ brace: '}' }]],
  });
});

test.each([
  ['too long', JSON.stringify({ text: 'x'.repeat(20_000) }), { status: 413 }],
  ['nested too deep', '['.repeat(33), { status: 400, code: 'too-deep' }],
  ['nothing', '', { status: 400 }],
])('what is %s is refused', async (_, body, refusal) => {
  await expect(
    readJson(body === '' ? new Request('http://here/', { method: 'POST' }) : sent(body), mostReadingBytes),
  ).rejects.toMatchObject(refusal);
});
