import { processCount } from './processes';

const count = (asked: string): number => processCount({ NODE_ENV: 'test', BOLD_EMBER_PROCESSES: asked });

test('one process serves unless more are asked for', () => {
  expect([count(''), count('1'), count('2'), count('16')]).toEqual([1, 1, 2, 16]);
});

test.each(['0', '-1', '1.5', 'two', '17'])('%s is refused in words', (asked) => {
  expect(() => count(asked)).toThrow(`read "${asked}"`);
});
