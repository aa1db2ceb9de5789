import { otherCount } from './seriesCount';

const stood = (startVoltageV: number, kind: 'rest' | 'discharge' | 'charge' = 'discharge') => ({
  kind,
  startVoltageV,
  endVoltageV: startVoltageV - 0.6,
});

// Common practice: no cell rests above full, and a discharge begins above the floor.
test.each([
  ['a full cell', [stood(4.19)], 1, 'li-ion', null],
  ['four in series as one', [stood(16.6)], 1, 'li-ion', 4],
  ['five as four', [stood(20.7)], 4, 'lipo', 5],
  ['two as four', [stood(8.3)], 4, 'lipo', 2],
  ['seven nickel cells', [stood(9.4)], 7, 'nimh', null],
  ['lead-acid of six as three', [stood(12.7)], 3, 'sla', 6],
  ['a nearly flat pack is not told from one of fewer cells', [stood(12.4)], 4, 'lipo', null],
  ['a charge alone tells nothing', [stood(9, 'charge')], 1, 'li-ion', null],
  ['a pack that is brought up from far below', [stood(4.8, 'rest'), stood(11, 'charge')], 4, 'li-ion', null],
] as const)('%s', (_, segments, series, chemistry, likely) => {
  expect(otherCount(segments, series, chemistry)?.likely ?? null).toBe(likely);
});
