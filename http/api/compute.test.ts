import { openCircuitOf } from '@/core/chemistry/openCircuit';
import { computeDischarge, computeMatch, computePartialCapacity, computeResistance, loadOf } from './compute';
import { closeCrews } from '@/workshop/pool';
import { readJson } from './jsonBody';
import { largestLogBytes } from '@/core/capacity/logSize';
import { openApi } from './openapi';
import { respond, Refusal } from './respond';
import {
  dischargeQuery,
  matchRequest,
  partialCapacityRequest,
  resistanceRequest,
  resistanceResponse,
  runQuery,
} from './schemas';

const asking = (body: string | null | ReadableStream<Uint8Array>) => ({
  body: body === null ? null : new Response(body).body,
  signal: new AbortController().signal,
});

afterAll(closeCrews);

describe('resistance', () => {
  const request = (change: object) =>
    resistanceRequest.parse({ method: 'load-step', openVoltageV: 3.95, loadedVoltageV: 3.8, currentA: 1.5, ...change });

  test('answers in the fixed shape, with the budget added', () => {
    const answer = computeResistance(request({ voltageResolutionV: 0.001, currentResolutionA: 0.01 }));
    expect(resistanceResponse.parse(answer)).toEqual(answer);
    expect(answer.resistanceOhm).toBeCloseTo(0.1, 12);
    expect(answer.loadPowerW).toBeCloseTo(5.7, 12);
    expect(answer.budget[0]?.uOhm).toBeLessThanOrEqual(answer.standardUncertaintyOhm);
    expect(answer.warnings).toEqual([]);
  });

  test('says what it assumed', () => {
    expect(computeResistance(request({})).warnings.map((warning) => warning.code)).toEqual(['resolution-assumed']);
    expect(
      computeResistance(
        request({ currentA: undefined, loadResistanceOhm: 2, loadTolerance: 0.01, voltageResolutionV: 0.01 }),
      ).warnings,
    ).toEqual([]);
  });

  test.each([
    [{ currentA: undefined }],
    [{ loadResistanceOhm: 2 }],
    [{ currentA: -1 }],
    [{ openVoltageV: 'four' }],
    [{ method: 'guess' }],
    [{ seriesCells: 0 }],
  ])('refuses %j', (change) => {
    expect(() => request(change)).toThrow();
  });
});

describe('discharge', () => {
  const csv =
    'time (s),voltage (V),current ' +
    `(A)\n${Array.from({ length: 361 }, (_, i) => `${i * 10},${(4 - i / 300).toFixed(4)},-1`).join('\n')}`;

  test('names the columns, turns the sign, counts to the cut-off', async () => {
    const answer = await computeDischarge(dischargeQuery.parse({ load: 'column', cutoffV: '3.2' }), asking(csv));
    expect(answer.capacityAh).toBeCloseTo(2400 / 3600, 4);
    expect(answer.reachedCutoff).toBe(true);
    expect(answer.columns.current).toMatchObject({ index: 2, unit: 'a' });
    expect(answer.warnings.map((warning) => warning.code)).toContain('current-negated');
  });

  test('a log that ended early is estimated to its end, where its chemistry is given', async () => {
    const { voltageAt } = openCircuitOf('li-ion');
    const row = (t: number): string => {
      const loadedS = Math.min(3600, Math.max(0, t - 600));
      const isLoaded = t > 600 && t <= 4200;
      return `${t},${(voltageAt(1 - loadedS / 7200) - (isLoaded ? 0.05 : 0)).toFixed(3)},${isLoaded ? 1 : 0}`;
    };
    const early = `time (s),voltage (V),current (A)\n${Array.from({ length: 601 }, (_, i) => row(i * 10)).join('\n')}`;
    const asked = { load: 'column', cutoffV: '2.8' };
    const answer = await computeDischarge(dischargeQuery.parse({ ...asked, chemistry: 'li-ion' }), asking(early));
    expect(answer).toMatchObject({ reachedCutoff: false, capacityAh: expect.closeTo(1, 2) });
    const { value, standardUncertainty } = answer.estimatedCapacityAh ?? { value: NaN, standardUncertainty: NaN };
    expect(Math.abs(value - 2)).toBeLessThan(2 * standardUncertainty);
    expect(await computeDischarge(dischargeQuery.parse(asked), asking(early))).not.toHaveProperty(
      'estimatedCapacityAh',
    );
  });

  test('without a cut-off everything is counted', async () => {
    const answer = await computeDischarge(dischargeQuery.parse({ load: 'current:2' }), asking(csv));
    expect(answer.capacityAh).toBeCloseTo(2, 6);
    expect(answer.reachedCutoff).toBeNull();
  });

  test('loads are read from their parameter; others are refused', () => {
    expect([loadOf('resistor:440'), loadOf('current:0.5'), loadOf('column')]).toEqual([
      { kind: 'resistor', resistanceOhm: 440 },
      { kind: 'current', currentA: 0.5 },
      { kind: 'column' },
    ]);
    expect(() => dischargeQuery.parse({ load: 'lamp' })).toThrow();
    expect(() => dischargeQuery.parse({})).toThrow('Give load=');
    expect(() => runQuery.parse({ load: 'column' })).toThrow('Give subject=');
  });

  test('no body, and more than a log may have, are refused while they arrive', async () => {
    await expect(computeDischarge(dischargeQuery.parse({ load: 'column' }), asking(null))).rejects.toThrow('no body');
    let sent = 0;
    const endless = new ReadableStream<Uint8Array>({
      pull(controller) {
        sent += 1 << 24;
        controller.enqueue(new Uint8Array(1 << 24).fill(49));
      },
    });
    await expect(computeDischarge(dischargeQuery.parse({ load: 'column' }), asking(endless))).rejects.toThrow(
      'a log may have 200 MB',
    );
    expect(sent).toBeLessThan(largestLogBytes * 1.5);
  });
});

test('partial capacity and match take their optional fields', async () => {
  const partial = computePartialCapacity(
    partialCapacityRequest.parse({
      chemistry: 'lipo',
      startVoltagesV: [3.73, 3.74],
      chargeAh: 1.2,
      endVoltageV: 4.02,
      voltageUncertaintyV: 0.002,
    }),
  );
  expect(partial.perCell).toHaveLength(2);
  expect(partial.capacityAh).toBeCloseTo(2.04, 1);
  expect(() => partialCapacityRequest.parse({ chemistry: 'alkaline', startVoltagesV: [1.5], chargeAh: 1 })).toThrow();
  const cells = [3, 3, 2, 2].map((capacityAh, i) => ({ id: `c${i}`, capacityAh, resistanceOhm: 0.05 }));
  expect(
    (
      await computeMatch(
        matchRequest.parse({ series: 2, parallel: 1, cells, rules: { enoughAh: 1.9, joinWithinV: 0.01 } }),
        new AbortController().signal,
      )
    ).left,
  ).toEqual(['c0', 'c1']);
});

describe('a body of JSON', () => {
  const post = (body: BodyInit) => new Request('http://127.0.0.1/', { method: 'POST', body });
  const refusal = (body: BodyInit) =>
    readJson(post(body), 1 << 20).then(
      () => 'read',
      (error: Error) => (error instanceof Refusal ? error.code : error.name),
    );

  test('is read; brackets within a text do not count', async () => {
    expect(await readJson(post(JSON.stringify({ text: `"${'[{'.repeat(50)}\\`, list: [[1]] })), 1 << 20)).toMatchObject(
      { list: [[1]] },
    );
  });

  test.each([
    ['very many brackets', '['.repeat(1 << 19), 'too-deep'],
    ['megabytes of brackets', '['.repeat(1 << 22), 'too-large'],
    ['33 levels', `${'['.repeat(33)}${']'.repeat(33)}`, 'too-deep'],
    ['32 levels', `${'['.repeat(32)}${']'.repeat(32)}`, 'read'],
    ['more than it may hold', `"${'x'.repeat(1 << 20)}"`, 'too-large'],
    ['half an object', '{"a":', 'SyntaxError'],
  ])('%s', async (_, body, code) => {
    expect(await refusal(body)).toBe(code);
  });
});

test('figures that overflow are refused at the border and never answered as null', async () => {
  expect(() =>
    resistanceRequest.parse({ method: 'load-step', openVoltageV: 1e300, loadedVoltageV: -1e300, currentA: 1e-300 }),
  ).toThrow();
  expect(() => dischargeQuery.parse({ load: 'resistor:0' })).toThrow('above zero');
  const answer = await respond(async () => ({ groups: [{ capacityAh: Infinity }] }));
  expect(answer.status).toBe(400);
  expect(await answer.json()).toMatchObject({ error: { code: 'overflow' } });
});

describe('heavy work', () => {
  const cells = Array.from({ length: 60 }, (_, i) => ({
    id: `c${i}`,
    capacityAh: 2 + ((i * 7919) % 100) / 100,
    resistanceOhm: 0.05,
  }));
  const request = matchRequest.parse({ series: 6, parallel: 10, cells });

  test('is refused when too many wait, with when to come back', async () => {
    const small = matchRequest.parse({ series: 2, parallel: 1, cells: cells.slice(0, 4) });
    const asked = await Promise.all(
      Array.from({ length: 14 }, () => respond(() => computeMatch(small, new AbortController().signal))),
    );
    const refused = asked.filter((one) => one.status === 429);
    expect(asked.filter((one) => one.status === 200).length).toBeGreaterThanOrEqual(8);
    expect(refused.length).toBeGreaterThan(0);
    expect(refused[0]?.headers.get('retry-after')).toBe('5');
  });

  test('ends when the client has left', async () => {
    const leaving = new AbortController();
    const answer = respond(() => computeMatch(request, leaving.signal));
    leaving.abort();
    expect((await answer).status).toBe(499);
  });
});

describe('errors', () => {
  const answerTo = async (work: () => Promise<unknown>) => {
    const response = await respond(work);
    return {
      status: response.status,
      body: (await response.json()) as { error: { code: string; message: string; issues: unknown[] } },
    };
  };

  test('of the asker name the field, in one shape', async () => {
    const invalid = await answerTo(async () => matchRequest.parse({ series: 0 }));
    expect(invalid.status).toBe(400);
    expect(invalid.body.error.code).toBe('invalid');
    expect(invalid.body.error.issues).toHaveLength(3);
    expect((await answerTo(async () => Promise.reject(new Refusal(409, 'already-imported', 'twice')))).status).toBe(
      409,
    );
    expect((await answerTo(async () => JSON.parse('{'))).body.error.code).toBe('not-json');
  });

  test('of the database are told as 503, of the program as 500 without a word of its insides', async () => {
    const away = Object.assign(new Error('connect ECONNREFUSED 127.0.0.1:5432'), { code: 'ECONNREFUSED' });
    expect(await answerTo(() => Promise.reject(away))).toMatchObject({
      status: 503,
      body: { error: { code: 'database-away' } },
    });
    const silent = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    const fault = await answerTo(() => Promise.reject(new Error('secret at line 7')));
    silent.mockRestore();
    expect(fault.status).toBe(500);
    expect(JSON.stringify(fault.body)).not.toContain('secret');
  });
});

test('the description of the API is plain JSON, has no dangling reference and describes every answer', () => {
  const description = openApi('1.2.3');
  const text = JSON.stringify(description);
  expect(JSON.parse(text)).toEqual(description);
  expect(text).not.toContain('"$ref":"#/components');
  Object.values(description.paths).forEach((methods) => {
    Object.values(methods).forEach((operation) => {
      expect(Object.keys(operation.responses).length).toBeGreaterThanOrEqual(2);
    });
  });
});
