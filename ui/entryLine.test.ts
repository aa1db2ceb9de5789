import { lost, turnedAway, unanswered } from './entryLine';

test('only where the network failed was there no answer', () => {
  expect(unanswered(new TypeError('Failed to fetch'))).toBe(lost);
  expect(unanswered(new Error('An unexpected response was received from the server.'))).toBe(turnedAway);
  expect(unanswered(Object.assign(new Error('a fault'), { digest: '123' }))).toMatchObject({
    ok: false,
    said: expect.stringContaining('fault of the server'),
  });
  expect(unanswered(Object.assign(new Error('a fault'), { digest: '123' }))).not.toHaveProperty('away');
});
