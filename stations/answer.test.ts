import { ImpossibleInput } from '@/core/impossibleInput';
import { z } from 'zod';
import { answering, done, refuse, typedCount, typedNumber, typedPositive } from './answer';

describe('typed figures', () => {
  test.each([
    ['3,5', 3.5],
    [' 2.45 ', 2.45],
    ['-4', -4],
  ])('%j is %d', (text, value) => {
    expect(typedNumber('It').parse(text)).toBe(value);
  });

  test.each([
    [typedNumber('Weight'), '', 'Weight is missing.'],
    [typedNumber('Weight'), 'heavy', 'Weight: expected a number.'],
    [typedPositive('Capacity'), '0', 'Capacity: expected a number above zero.'],
    [typedCount('Cells', 9), '2.5', 'Cells: expected a whole number from 1 to 9.'],
    [typedCount('Cells', 9), '10', 'Cells: expected a whole number from 1 to 9.'],
  ])('case %#', (schema, text, message) => {
    expect(schema.safeParse(text).error?.issues[0]?.message).toBe(message);
  });
});

describe('answering', () => {
  test('passes answers on', async () => {
    expect(await answering(async () => done(7))).toEqual({ ok: true, value: 7 });
    expect(await answering(async () => refuse('no'))).toEqual({ ok: false, said: 'no', fields: {} });
  });

  test('names the first thing wrong with each field', async () => {
    const schema = z.object({ count: typedCount('Cells', 9), name: z.string().min(1, 'Name is missing.') });
    const answer = await answering(async () => done(schema.parse({ count: 'many', name: '' })));
    expect(answer).toEqual({
      ok: false,
      said: 'Cells: expected a number.',
      fields: { count: 'Cells: expected a number.', name: 'Name is missing.' },
    });
  });

  test('tells impossible input, an absent database and a taken code in words', async () => {
    expect(
      await answering(() => Promise.reject(new ImpossibleInput('series', { code: 'not-a-count', what: 'series' }))),
    ).toMatchObject({
      said: 'In series: expected a whole number of at least 1.',
      fields: { series: 'In series: expected a whole number of at least 1.' },
    });
    const away = Object.assign(new Error('gone'), { code: 'ECONNREFUSED' });
    expect(await answering(() => Promise.reject(away))).toMatchObject({
      ok: false,
      said: expect.stringContaining('nothing was stored'),
    });
    const lost = Object.assign(new Error('terminating connection'), { code: '57P01' });
    expect(await answering(() => Promise.reject(lost))).toMatchObject({
      ok: false,
      away: true,
      said: expect.stringContaining('Check whether this was stored'),
    });
    const taken = Object.assign(new Error('duplicate'), { code: '23505', constraint: 'batch_code_key' });
    expect(await answering(() => Promise.reject(taken), { batch_code_key: 'taken' })).toMatchObject({ said: 'taken' });
  });

  test('anything else is a fault and is thrown on', async () => {
    await expect(answering(() => Promise.reject(new Error('a bug')))).rejects.toThrow('a bug');
  });
});
