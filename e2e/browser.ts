import { existsSync } from 'node:fs';

// Of Debian's two the headless shell draws for no window and costs half as much; bin/common.sh brings one of them.
const executablePath = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'].find(existsSync);

/** How tests, pictures and benchmarks begin their browser. */
export const launchOptions = {
  executablePath,
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--no-first-run',
  ],
};
