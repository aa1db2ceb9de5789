import { launchOptions } from '@/e2e/browser';
import { chromium } from '@playwright/test';
import type { Served } from '@/e2e/server';
import { type BenchRow, seconds } from './table';

const runs = 100;
const samples = 3000;
const moves = 150;

/** Keeps how long each frame took, from now on. A text, so that nothing is compiled into it. */
const watchFrames = `(() => {
  const frames = (window.frames_ = []);
  let last = performance.now();
  const frame = (now) => { frames.push(now - last); last = now; requestAnimationFrame(frame); };
  requestAnimationFrame(frame);
})()`;
const longestFrame = `(() => {
  const longest = Math.max(...window.frames_.slice(2));
  window.frames_.length = 0;
  return longest;
})()`;

async function importRuns(server: Served, code: string): Promise<number> {
  let id = 0;
  for (let n = 0; n <= runs; n++) {
    const rows = Array.from(
      { length: samples },
      (_, i) => `${i},${(4.15 - (1.2 * i) / samples - n / 2000).toFixed(4)}\n`,
    );
    const answer = await fetch(
      `${server.url}/api/v1/runs?subject=${code}&load=current:0.5&endedAt=2026-11-05T18:30:00Z`,
      {
        method: 'POST',
        headers: { 'content-type': 'text/csv' },
        body: `# ${n}\ntime (s),voltage (V)\n${rows.join('')}`,
      },
    );
    if (answer.status !== 201) throw new Error(`The import answered ${answer.status}: ${await answer.text()}`);
    ({ id } = (await answer.json()) as { id: number });
  }
  return id;
}

/** A hundred runs laid over one: the longest frame while the pointer moves over them, against the page at rest. */
export async function benchCurves(server: Served, code: string): Promise<BenchRow[]> {
  const id = await importRuns(server, code);
  const browser = await chromium.launch(launchOptions);
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(`${server.url}/capacity/${id}`);
    const loaded = new Set<string>();
    page.on('response', (response) => {
      if (response.url().includes('/samples?')) loaded.add(response.url());
    });
    await page.getByRole('button', { name: 'None' }).click();
    await page.getByRole('button', { name: 'All' }).click();
    while (loaded.size < runs - 3) await page.waitForTimeout(100);
    await page.waitForTimeout(2000);
    await page.evaluate(watchFrames);
    await page.waitForTimeout(2000);
    const atRest = (await page.evaluate(longestFrame)) as number;
    const box = await page.locator('.plot').boundingBox();
    if (!box) throw new Error('There is no plot.');
    for (let n = 0; n < moves; n++)
      await page.mouse.move(box.x + 70 + ((n * 7) % (box.width - 120)), box.y + 50 + ((n * 5) % 250));
    const moving = (await page.evaluate(longestFrame)) as number;
    return [
      {
        what: `${runs} runs laid over each other: longest frame while the pointer moves (limit 50 ms)`,
        ours: seconds(moving),
        reference: `the same page at rest ${seconds(atRest)}`,
        ratio: (moving / atRest).toFixed(1),
      },
    ];
  } finally {
    await browser.close();
  }
}
