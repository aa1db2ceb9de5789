import { defineConfig } from '@playwright/test';
import { launchOptions } from './e2e/browser';

export default defineConfig<{ byName: boolean }>({
  testDir: 'e2e',
  globalSetup: require.resolve('./e2e/templates.ts'),
  // Each worker serves workshops of its own (e2e/workshop.ts), so files may run beside each other. While some wait for
  // their server or their page, the others keep two processors busy.
  workers: 3,
  fullyParallel: false,
  // A busy machine is no failure: every wait ends with what it waits for, and these only end what hangs.
  timeout: 600_000,
  expect: { timeout: 90_000 },
  // On a machine that others slow down, a failed test gets a second try; the report names it as flaky.
  retries: process.env.CI ? 1 : 0,
  reporter: process.env.PLAYWRIGHT_JSON_OUTPUT_NAME ? [['list'], ['json']] : 'list',
  use: {
    viewport: { width: 1280, height: 800 },
    // Pictures of every step cost as much as the steps: `TRACE=1 npx playwright test …` keeps them of what fails.
    trace: process.env.TRACE ? 'retain-on-failure' : 'off',
    launchOptions,
  },
  // The main walks are done as on a phone, too: without what only secure contexts have, and served by two processes.
  projects: [
    { name: 'here' },
    { name: 'by name, two processes', testMatch: /(walk|evening|outbox)\.spec/, use: { byName: true } },
  ],
});
