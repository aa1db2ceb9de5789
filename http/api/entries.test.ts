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

test('the time of a measurement is kept, in the past; a field that does not exist is named', async () => {
  const day = 86_400;
  const at = (agoS: number) => new Date(Date.now() - agoS * 1000).toISOString();
  const { waitedS } = await entryOf(request({ text: 'PF1 3.9', at: at(900 * day) }));
  expect(Math.abs(waitedS - 900 * day)).toBeLessThan(60);
  expect((await entryOf(request({ text: 'PF1 3.9' }))).waitedS).toBe(0);
  await expect(entryOf(request({ text: 'PF1 3.9', at: at(-day) }))).rejects.toThrow('The date must be in the past');
  const answer = await respond(() => entryOf(request({ text: 'PF1 3.9', takenAt: at(day), cell: 4 })));
  expect(answer.status).toBe(400);
  expect(((await answer.json()) as { error: { issues: unknown } }).error.issues).toEqual([
    { path: 'takenAt', message: 'There is no such field.' },
    { path: 'cell', message: 'There is no such field.' },
  ]);
});

test('a reading told field by field becomes the line that says the same, with its digits', async () => {
  const lineFor = async (reading: object) => (await entryOf(request({ reading }))).text;
  expect(await lineFor({ subject: 'S1-014', voltageV: '4.140', massKg: 0.0447, findings: [] })).toBe(
    'S1-014 4.140V 44.7g ok',
  );
  expect(await lineFor({ subject: 'PF1', groupVoltagesV: [3.95, '3.90'], terminalVoltageV: 7.85 })).toBe(
    'PF1 3.95 3.90 = 7.85',
  );
  expect(await lineFor({ subject: 'PF1', groupVoltagesV: [3.95, null] })).toBe('PF1 3.95 -');
  expect(
    await lineFor({
      subject: 'PF1',
      groupResistancesOhm: [0.0084, '0.0090'],
      wholeResistanceOhm: 0.0174,
      temperatureC: 21.5,
      on: '2025-03-02',
    }),
  ).toBe('PF1 8.4mΩ 9.0mΩ = 17.4mΩ 21.5C 2025-03-02');
  expect(
    await lineFor({
      subject: 'PF1',
      group: 2,
      openVoltageV: 3.83,
      loadedVoltageV: 3.79,
      currentA: 1,
      afterVoltageV: 3.82,
    }),
  ).toBe('PF1 g2 3.83V 3.79V 1A 3.82V');
  expect(await lineFor({ battery: 2, instrument: 'CK1', channelVoltagesV: [3.71, '3.70'] })).toBe('B2 CK1 3.71 3.70');
  expect(await lineFor({ instrument: 'CK1', channel: 2, channelVoltagesV: [3.7] })).toBe('CK1.2 3.7');
  expect(await lineFor({ subject: 'PF1', servedS: 435 })).toBe('PF1 served 7.25 min');
  expect(await lineFor({ subject: 'PF1', findings: ['swollen', 'lead'], cycles: 34 })).toBe('PF1 se cycles 34');
});

test.each([
  [{}, 'either text or reading'],
  [{ text: 'PF1 3.9', reading: { subject: 'PF1' } }, 'either text or reading'],
  [{ reading: { subject: 'PF1', voltage: 3.9 } }, 'voltage'],
  [{ reading: { subject: 'PF1', groupVoltagesV: ['3.9 3.8'] } }, 'groupVoltagesV'],
  [{ reading: { subject: 'PF1', findings: ['sad'] } }, 'findings'],
])('%j is refused', async (body, said) => {
  await expect(entryOf(request(body))).rejects.toThrow(said);
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
