import { isAsLate } from './later';

const hour = 3_600_000;
const at = (state: string, atMs = 0) => ({ state, atMs });

test('what was visible orders two frames, whatever the clock was set to between them', () => {
  const drawn = at('17 100:104:100,102', 5 * hour);
  for (const later of ['17 100:105:100,102,104', '17 102:104:102', '17 104:104:', '17 9000:20000:'])
    for (const atMs of [0, 9 * hour]) {
      expect(isAsLate(at(later, atMs), drawn)).toBe(true);
      expect(isAsLate(drawn, at(later, atMs))).toBe(false);
    }
  // Within one state how far the judging is goes on by the stream.
  expect(isAsLate(at(drawn.state, 4 * hour), drawn)).toBe(true);
});

test('after a restore the clock orders them', () => {
  expect(isAsLate(at('90 50:50:', 6 * hour), at('17 100:104:', 5 * hour))).toBe(true);
  expect(isAsLate(at('17 100:104:', 5 * hour), at('90 50:50:', 6 * hour))).toBe(false);
});
