import { isInOurTime } from './strictFields';

test.each([
  ['1970-01-01T00:00:00Z', true],
  ['2026-12-01T00:00:00Z', true],
  ['1969-12-31T23:59:59Z', false],
  ['0000-01-01T00:00:00Z', false],
  ['2200-01-02T00:00:00Z', false],
  ['no date', false],
])('%s is in our time: %s', (text, expected) => {
  expect(isInOurTime(new Date(text))).toBe(expected);
});
