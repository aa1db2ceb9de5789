import { thinned } from './thinned';

test('a few points stay as they are', () => {
  expect(thinned([{ x: 1, y: 2, code: 'A' }])).toEqual([{ x: 1, y: 2, code: 'A', count: 1 }]);
});

test('of a crowd one of each patch stays and counts for all; what stands apart stays', () => {
  const population = Array.from({ length: 50_000 }, (_, i) => ({ x: (i % 200) / 200, y: (i % 77) / 77, odd: i === 7 }));
  const points = [...population, { x: 9, y: 9, odd: true }];
  const shown = thinned(points, (point) => String(point.odd));
  expect(shown.length).toBeLessThan(2000);
  expect(shown.reduce((sum, point) => sum + point.count, 0)).toBe(points.length);
  expect(shown.filter((point) => point.odd)).toHaveLength(2);
});
