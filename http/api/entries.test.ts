import { entryOf, filedOrRefused } from './entries';
import { respond } from './respond';

const request = (body: unknown) =>
  new Request('http://127.0.0.1/api/v1/entries', {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });

test('a line gets an id unless it brings one, and what is left out is as usual', async () => {
  const entry = '5f1e3c1a-6f0e-4f0e-9c57-0d6f2f3c9a11';
  expect(await entryOf(request({ entry, text: 'PF1 3.9' }))).toMatchObject({ entry, confirmed: false, state: 'rest' });
  expect((await entryOf(request({ text: 'PF1 3.9' }))).entry).toMatch(/^[0-9a-f-]{36}$/);
  await expect(entryOf(request({ text: '' }))).rejects.toThrow('text');
  await expect(entryOf(request({ text: 'PF1 3.9', state: 'asleep' }))).rejects.toThrow('state');
});

test.each([
  [{ ok: false, said: 'No such pack.' }, 400, 'not-filed', []],
  [{ ok: false, said: 'It cannot be reached.', away: true }, 503, 'database-away', []],
  [{ ok: false, said: 'Or 3.71?', asks: true, suggests: 'PF1 3.71' }, 409, 'asked', ['PF1 3.71']],
] as const)('%j', async (outcome, status, code, meant) => {
  const answer = await respond(async () => filedOrRefused('x', outcome), 201);
  const { error } = (await answer.json()) as { error: { code: string; issues: { message: string }[] } };
  expect([answer.status, error.code, error.issues.map(({ message }) => message)]).toEqual([status, code, [...meant]]);
});

test('what was filed is said', async () => {
  const answer = await respond(async () => filedOrRefused('x', { ok: true, said: 'Filed PF1.' }), 201);
  expect([answer.status, await answer.json()]).toEqual([201, { entry: 'x', said: 'Filed PF1.' }]);
});
