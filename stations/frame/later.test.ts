import { isAsLate, isShown } from './later';

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

test('a page shows what was visible when it was drawn, whatever became visible of other databases since', () => {
  const drawn = { state: '17 100:104:100,102', newest: '99' };
  const shown = (newest: string, state = '17 900:900:') => isShown({ newest, state }, drawn);
  expect(['99', '98', '101', '103'].map((newest) => shown(newest))).toEqual([true, true, true, true]);
  expect(['100', '102', '104', '899'].map((newest) => shown(newest))).toEqual([false, false, false, false]);
});

test('what may have been stored while nobody heard is not taken for shown', () => {
  const drawn = { state: '17 100:104:', newest: 'since 5' };
  expect(isShown({ newest: 'since 6', state: '17 100:105:' }, drawn)).toBe(false);
  expect(isShown({ newest: 'since 6', state: '17 100:104:' }, drawn)).toBe(true);
  expect(isShown({ newest: 'since 5', state: '17 100:105:' }, drawn)).toBe(true);
  expect(isShown({ newest: '50', state: '90 50:51:' }, drawn)).toBe(false);
});
