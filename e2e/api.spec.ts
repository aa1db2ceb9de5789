import { expect, test } from './workshop';

test('health tells status, database and version', async ({ request }) => {
  const answer = await request.get('/api/v1/health');
  expect(await answer.json()).toEqual({
    status: 'ok',
    database: 'ok',
    schema: 'ok',
    version: expect.stringMatching(/^\d+\.\d+\.\d+$/),
  });
});

test('a self-discharge test over the wire: who leaks, by which drift, and why', async ({ request }) => {
  const readings = (perWeekV: number) =>
    [0, 1, 2].map((week) => ({
      at: `2026-03-${String(1 + 7 * week).padStart(2, '0')}T10:00:00Z`,
      voltageV: 4.15 - perWeekV * week,
    }));
  const answer = await request.post('/api/v1/compute/hold', {
    data: {
      chemistry: 'li-ion',
      voltageUncertaintyV: 0.0005,
      subjects: [
        { id: 'a', readings: readings(0.002) },
        { id: 'b', readings: readings(0.08) },
      ],
    },
  });
  const { subjects, warnings } = await answer.json();
  expect(subjects.map(({ verdict }: { verdict: string }) => verdict)).toEqual(['holds', 'leaks']);
  expect(subjects[1].driftVPerDay).toBeCloseTo(-0.08 / 7, 6);
  expect(warnings).toEqual([]);
});

test('openapi.json describes every path', async ({ request }) => {
  const description = await (await request.get('/api/v1/openapi.json')).json();
  expect(description.openapi).toBe('3.1.0');
  expect(Object.keys(description.paths)).toEqual([
    '/api/v1/health',
    '/api/v1/compute/resistance',
    '/api/v1/compute/discharge',
    '/api/v1/compute/partial-capacity',
    '/api/v1/compute/hold',
    '/api/v1/compute/diagnose',
    '/api/v1/compute/rebalance',
    '/api/v1/compute/charger-sheet',
    '/api/v1/compute/schedule',
    '/api/v1/compute/ageing',
    '/api/v1/compute/match',
    '/api/v1/compute/pack-run',
    '/api/v1/runs',
    '/api/v1/runs/{id}',
    '/api/v1/runs/{id}/samples',
    '/api/v1/runs/{id}/layouts',
    '/api/v1/mappings',
    '/api/v1/runs/{id}/file',
    '/api/v1/subjects',
    '/api/v1/export',
    '/api/v1/plan.ics',
    '/api/v1/holds',
    '/api/v1/entries',
    '/api/v1/events',
  ]);
  expect(
    description.paths['/api/v1/compute/match'].post.requestBody.content['application/json'].schema.required,
  ).toEqual(['series', 'parallel', 'cells']);
});

test('common practice: a preloaded step with droop on four cells', async ({ request }) => {
  const answer = await request.post('/api/v1/compute/resistance', {
    data: {
      method: 'load-step',
      openVoltageV: 14.87,
      loadedVoltageV: 14.66,
      currentA: 4.36,
      droopV: 0.02,
      seriesCells: 4,
      voltageResolutionV: 0.01,
      currentResolutionA: 0.01,
    },
  });
  const body = await answer.json();
  expect(body.resistanceOhm).toBeCloseTo(0.0436, 4);
  expect(body.perCellOhm).toBeCloseTo(0.0109, 4);
  expect(body.standardUncertaintyOhm).toBeGreaterThan(0);
  expect(body.warnings).toEqual([]);
});

test('common practice: a resistor beyond its rating, and two currents', async ({ request }) => {
  const resistor = await (
    await request.post('/api/v1/compute/resistance', {
      data: {
        method: 'load-step',
        openVoltageV: 4.03,
        loadedVoltageV: 3.91,
        loadResistanceOhm: 2.2,
        voltageResolutionV: 0.01,
        loadPowerRatingW: 5,
      },
    })
  ).json();
  expect(resistor.standardUncertaintyOhm).toBeCloseTo(0.0023, 4);
  expect(resistor.loadPowerW).toBeCloseTo(6.95, 2);
  expect(resistor.warnings[0].code).toBe('load-overrated');
  const two = await (
    await request.post('/api/v1/compute/resistance', {
      data: { method: 'two-current', lowCurrentA: 0.5, highCurrentA: 2.5, voltageAtLowV: 3.9, voltageAtHighV: 3.8 },
    })
  ).json();
  expect(two.resistanceOhm).toBeCloseTo(0.05, 9);
  expect(two.warnings[0].code).toBe('resolution-assumed');
});

test('common practice: a resistor discharge of seven nickel cells', async ({ request }) => {
  const voltsAt = (i: number) => (8.535 + 0.6 * (0.5 - i / 1000)).toFixed(5);
  const rows = Array.from({ length: 1001 }, (_, i) => `${(28039 * i) / 1000},${voltsAt(i)}`);
  const csv = `time s,voltage V\n${rows.join('\n')}`;
  const answer = await request.post('/api/v1/compute/discharge?load=resistor:440&cutoffV=7.0&seriesCells=7', {
    headers: { 'content-type': 'text/csv' },
    data: csv,
  });
  const body = await answer.json();
  expect(body.capacityAh).toBeCloseTo(0.1511, 4);
  expect(body).toMatchObject({
    samples: 1001,
    reachedCutoff: false,
    gaps: [],
    columns: { time: { unit: 's' }, voltage: { unit: 'v' } },
  });
});

test('common practice: the partial method', async ({ request }) => {
  const body = await (
    await request.post('/api/v1/compute/partial-capacity', {
      data: { chemistry: 'lipo', startVoltagesV: [3.73], chargeAh: 2.291 },
    })
  ).json();
  expect(body.startSoc).toBeCloseTo(0.2, 6);
  expect(body.capacityAh).toBeCloseTo(2.864, 3);
});

test('a log with a column for each group: the first to cross ends it, the others had something left', async ({
  request,
}) => {
  const rows = Array.from({ length: 400 }, (_, i) => {
    const t = i * 10;
    const at = (ah: number) => (t < 60 ? 4.15 : 4.1 - (1.1 * (t - 60)) / 3600 / ah).toFixed(3);
    return `${t},${at(1.1)},${at(1)}`;
  });
  const discharge = (query: string) =>
    request.post(`/api/v1/compute/discharge?load=current:1&seriesCells=2&${query}`, {
      headers: { 'content-type': 'text/csv' },
      data: `time (s),cell1 (V),cell2 (V)\n${rows.join('\n')}\n`,
    });
  const body = await (await discharge('cutoffPerGroupV=3.0')).json();
  expect(body).toMatchObject({
    reachedCutoff: true,
    capacityAh: expect.closeTo(1, 2),
    groups: [
      { position: 1, reachedCutoff: false },
      { position: 2, reachedCutoff: true, endVoltageV: expect.closeTo(3, 2), leftAh: 0 },
    ],
    columns: { group1: { index: 1 }, group2: { index: 2 } },
  });
  expect(Math.abs(body.groups[0].leftAh - 0.1)).toBeLessThan(2 * body.groups[0].standardUncertaintyAh);
  // By the whole it goes on until both together are down.
  expect((await (await discharge('cutoffV=6.0')).json()).capacityAh).toBeGreaterThan(1.03);
  const other = await request.post('/api/v1/compute/discharge?load=current:1&seriesCells=3', {
    headers: { 'content-type': 'text/csv' },
    data: `time (s),cell1 (V),cell2 (V)\n${rows.join('\n')}\n`,
  });
  expect((await other.json()).error.message).toContain('This log has voltages of 2 groups, the pack has 3.');
});

test('a match in the fixed shape', async ({ request }) => {
  const cells = [2, 2.1, 1.9, 2.2, 1.8].map((capacityAh, i) => ({ id: `c${i}`, capacityAh, resistanceOhm: 0.05 }));
  const body = await (await request.post('/api/v1/compute/match', { data: { series: 2, parallel: 2, cells } })).json();
  expect(body).toMatchObject({ packCapacityAh: expect.closeTo(4.1, 9), proven: true, left: ['c4'], warnings: [] });
  expect(body.gap).toBeCloseTo(1 - body.packCapacityAh / body.upperBoundAh, 12);
});

test('errors name the field and never show a stack', async ({ request }) => {
  const post = async (path: string, data: unknown, headers = {}) => {
    const answer = await request.post(path, { data, headers });
    const text = await answer.text();
    expect(text).not.toMatch(/at .+\.(ts|js):\d+/);
    return { status: answer.status(), error: JSON.parse(text).error };
  };
  const missing = await post('/api/v1/compute/resistance', {
    method: 'load-step',
    openVoltageV: 4,
    loadedVoltageV: 3.9,
  });
  expect(missing).toMatchObject({ status: 400, error: { code: 'invalid', issues: [{ path: 'currentA' }] } });
  expect(
    await post('/api/v1/compute/resistance', {
      method: 'load-step',
      openVoltageV: 3.8,
      loadedVoltageV: 3.9,
      currentA: 1,
    }),
  ).toMatchObject({ status: 400, error: { code: 'impossible', issues: [{ path: 'loadedVoltageV' }] } });
  expect(await post('/api/v1/compute/match', Buffer.from('{'), { 'content-type': 'application/json' })).toMatchObject({
    status: 400,
    error: { code: 'not-json' },
  });
  expect(await post('/api/v1/compute/discharge?load=lamp', 'x', { 'content-type': 'text/csv' })).toMatchObject({
    status: 400,
    error: { issues: [{ path: 'load' }] },
  });
  expect(await post('/api/v1/runs?subject=A1-001&load=column', 'x', { 'content-type': 'text/plain' })).toMatchObject({
    status: 415,
    error: { code: 'content-type' },
  });
});

test('an address that is not here answers 404, a page as well as the API', async ({ request }) => {
  for (const path of [
    '/nothing',
    '/cells/N9-001',
    '/handbook/nothing',
    '/capacity/999',
    '/_global-error',
    '/api/v1/nothing',
  ])
    expect([path, (await request.get(path)).status()]).toEqual([path, 404]);
  for (const path of ['/shelf', '/handbook/cautions', '/icon.svg', '/api/v1/subjects'])
    expect([path, (await request.get(path)).status()]).toEqual([path, 200]);
  expect((await request.get('/cells/N9-001', { headers: { rsc: '1' } })).status()).toBe(200);
});
