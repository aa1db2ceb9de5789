import { closeCrews, inBackground, TookTooLong } from './pool';

afterAll(closeCrews);

test('a thread that takes too long is ended, and another takes its place', async () => {
  const cells = Array.from({ length: 300 }, (_, i) => ({
    id: `c${i}`,
    capacityAh: 1.4 + ((i * 7919) % 1201) / 1000,
    resistanceOhm: 0.05,
  }));
  await inBackground('ready', undefined);
  const long = inBackground(
    'match',
    { request: { series: 14, parallel: 20, cells }, limitMs: 600_000 },
    { limitMs: 20 },
  );
  await expect(long).rejects.toThrow(TookTooLong);
  await expect(inBackground('ready', undefined)).resolves.toBeUndefined();
});
