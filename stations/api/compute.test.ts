import { computeDischarge, computeMatch, computePartialCapacity, computeResistance, loadOf } from './compute';
import { largestLogBytes } from './logSize';
import { logBody } from './csvBody';
import { openApi } from './openapi';
import { respond, Refusal } from './respond';
import { dischargeQuery, matchRequest, partialCapacityRequest, resistanceRequest, resistanceResponse, runQuery } from './schemas';

const bodyOf = (text: string) => new Response(text).body;

describe('resistance', () => {
  const request = (change: object) => resistanceRequest.parse({ method: 'load-step', openVoltageV: 3.95, loadedVoltageV: 3.8, currentA: 1.5, ...change });

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
    expect(computeResistance(request({ currentA: undefined, loadResistanceOhm: 2, voltageResolutionV: 0.01 })).warnings).toEqual([]);
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
  const csv = `time (s),voltage (V),current (A)\n${Array.from({ length: 361 }, (_, i) => `${i * 10},${(4 - i / 300).toFixed(4)},-1`).join('\n')}`;

  test('names the columns, turns the sign, counts to the cut-off', async () => {
    const answer = await computeDischarge(dischargeQuery.parse({ load: 'column', cutoffV: '3.2' }), bodyOf(csv));
    expect(answer.capacityAh).toBeCloseTo(2400 / 3600, 4);
    expect(answer.reachedCutoff).toBe(true);
    expect(answer.columns.current).toMatchObject({ index: 2, unit: 'a' });
    expect(answer.warnings.map((warning) => warning.code)).toContain('current-negated');
  });

  test('without a cut-off everything is counted', async () => {
    const answer = await computeDischarge(dischargeQuery.parse({ load: 'current:2' }), bodyOf(csv));
    expect(answer.capacityAh).toBeCloseTo(2, 6);
    expect(answer.reachedCutoff).toBeNull();
  });

  test('loads are read from their parameter; others are refused', () => {
    expect([loadOf('resistor:440'), loadOf('current:0.5'), loadOf('column')]).toEqual([{ kind: 'resistor', resistanceOhm: 440 }, { kind: 'current', currentA: 0.5 }, { kind: 'column' }]);
    expect(() => dischargeQuery.parse({ load: 'lamp' })).toThrow();
    expect(() => dischargeQuery.parse({})).toThrow('Give load=');
    expect(() => runQuery.parse({ load: 'column' })).toThrow('Give cell=');
  });

  test('no body and too much announced are refused', async () => {
    await expect(computeDischarge(dischargeQuery.parse({ load: 'column' }), null)).rejects.toThrow('no body');
    const request = new Request('http://127.0.0.1/', { method: 'POST', headers: { 'content-length': String(largestLogBytes + 1) } });
    expect(() => logBody(request)).toThrow('a log may have 100 MB');
  });
});

test('partial capacity and match take their optional fields', () => {
  const partial = computePartialCapacity(partialCapacityRequest.parse({ chemistry: 'lipo', startVoltagesV: [3.73, 3.74], chargeAh: 1.2, endVoltageV: 4.02, voltageUncertaintyV: 0.002 }));
  expect(partial.perCell).toHaveLength(2);
  expect(partial.capacityAh).toBeCloseTo(2.04, 1);
  expect(() => partialCapacityRequest.parse({ chemistry: 'alkaline', startVoltagesV: [1.5], chargeAh: 1 })).toThrow();
  const cells = [3, 3, 2, 2].map((capacityAh, i) => ({ id: `c${i}`, capacityAh, resistanceOhm: 0.05 }));
  expect(computeMatch(matchRequest.parse({ series: 2, parallel: 1, cells, rules: { enoughAh: 1.9, joinWithinV: 0.01 } })).left).toEqual(['c0', 'c1']);
});

describe('errors', () => {
  const answerTo = async (work: () => Promise<unknown>) => {
    const response = await respond(work);
    return { status: response.status, body: (await response.json()) as { error: { code: string; message: string; issues: unknown[] } } };
  };

  test('of the asker name the field, in one shape', async () => {
    const invalid = await answerTo(async () => matchRequest.parse({ series: 0 }));
    expect(invalid.status).toBe(400);
    expect(invalid.body.error.code).toBe('invalid');
    expect(invalid.body.error.issues).toHaveLength(3);
    expect((await answerTo(async () => Promise.reject(new Refusal(409, 'already-imported', 'twice')))).status).toBe(409);
    expect((await answerTo(async () => JSON.parse('{'))).body.error.code).toBe('not-json');
  });

  test('of the database are told as 503, of the program as 500 without a word of its insides', async () => {
    const away = Object.assign(new Error('connect ECONNREFUSED 127.0.0.1:5432'), { code: 'ECONNREFUSED' });
    expect(await answerTo(() => Promise.reject(away))).toMatchObject({ status: 503, body: { error: { code: 'database-away' } } });
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
