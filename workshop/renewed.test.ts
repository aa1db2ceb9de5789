import { type Kept, renewed } from '@/workshop/renewed';

/** A place to keep in, as the stations have them, and how often something was made. */
function shelf() {
  const made: ({ value: number } | null)[] = [];
  let kept: Kept<number> | undefined;
  const ask = (visible: string, make: () => Promise<number>, databaseOid = 1) =>
    renewed(
      kept,
      { databaseOid, visible },
      (now) => {
        kept = now;
      },
      (before) => {
        made.push(before && { value: before.value });
        return make();
      },
    );
  return { ask, made };
}
const gives = (value: number) => () => Promise.resolve(value);

test('what nothing changed is made once, also for those who ask while it is made', async () => {
  const { ask, made } = shelf();
  expect(await Promise.all([ask('a', gives(1)), ask('a', gives(2))])).toEqual([1, 1]);
  expect(await ask('a', gives(3))).toBe(1);
  expect(made).toEqual([null]);
});

test('after a change it is made from the one before, even from one still being made', async () => {
  const { ask, made } = shelf();
  expect(await Promise.all([ask('a', gives(1)), ask('b', gives(2))])).toEqual([1, 2]);
  expect(made).toEqual([null, { value: 1 }]);
});

test('another database, as after a backup was restored, share nothing with what was kept', async () => {
  const { ask, made } = shelf();
  await ask('a', gives(1));
  expect(await ask('a', gives(2), 2)).toBe(2);
  expect(made).toEqual([null, null]);
});

test('a failure reaches each caller, is not kept, and does not spoil the next', async () => {
  const { ask, made } = shelf();
  const fails = () => Promise.reject(new Error('the database is away'));
  const both = await Promise.allSettled([ask('a', fails), ask('a', fails)]);
  expect(both.map((one) => one.status)).toEqual(['rejected', 'rejected']);
  expect(await ask('a', gives(4))).toBe(4);
  expect(made).toEqual([null, null]);
  const under = await Promise.allSettled([ask('b', fails), ask('c', gives(5))]);
  expect(under.map((one) => one.status)).toEqual(['rejected', 'fulfilled']);
});
