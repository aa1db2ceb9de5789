import { expect, test } from './workshop';

test.use({ demo: true });

test('a part of a page that cannot be made leaves the others, and comes back', async ({ page, workshop }) => {
  // An older result that no reader expects: only what computes the trend over the years reads it.
  const { rows } = await workshop.pool.query<{ code: string; layout: number; mean: string }>(
    `select subject.code, layout_id as layout, result ->> 'meanCurrentA' as mean
     from run_result join run_layout on run_layout.id = layout_id join run on run.id = run_id
       join entry_subject using (entry_id) join subject on subject.id = subject_id
     where (result ->> 'reachedCutoff')::boolean and exists (
       select from run later join entry_subject own using (entry_id)
       where own.subject_id = subject.id and later.ended_at > run.ended_at)
     order by 1, 2 limit 1`,
  );
  const [older] = rows;
  const setMean = (mean: unknown) =>
    workshop.pool.query(
      `update run_result set result = jsonb_set(result, '{meanCurrentA}', $2::jsonb) where layout_id = $1`,
      [older?.layout, JSON.stringify(mean)],
    );
  await setMean('lost');
  await page.goto(`/${older?.code.startsWith('P') ? 'clinic' : 'cells'}/${older?.code}`);
  const failed = page.getByRole('alert', { name: 'Ageing' });
  await expect(failed).toContainText('This part cannot be shown. The rest of the page is complete.');
  await expect(page.getByText('This part cannot be shown')).toHaveCount(1);
  await expect(page.getByRole('region', { name: 'Notes' })).toBeVisible();
  await expect(page.locator('footer.bar input')).toBeVisible();

  await setMean(Number(older?.mean));
  await failed.getByRole('button', { name: 'Try again' }).click();
  await expect(failed).toHaveCount(0);
});

test('where not even the frame can be made, the page says so in its own words', async ({ page, workshop }) => {
  const all = (as: string) => workshop.pool.query(`update run_result set result = result || ${as}`);
  await all(`jsonb_build_object('meanCurrentA', 'lost', 'kept', result -> 'meanCurrentA')`);
  await page.goto('/shelf');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('This screen could not be made');
  await all(`jsonb_build_object('meanCurrentA', result -> 'kept')`);
  await page.getByRole('button', { name: 'Try again' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Shelf');
});
