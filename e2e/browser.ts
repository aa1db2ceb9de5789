import { existsSync } from 'node:fs';

// Of Debian's two the headless shell draws for no window and costs half as much; bin/common.sh brings one of them.
const executablePath = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'].find(existsSync);

/** A name for the workshop that is no name of this machine: by it a page is in no secure context, as on a phone. */
export const nameInNetwork = 'workshop.test';

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
    `--host-resolver-rules=MAP ${nameInNetwork} 127.0.0.1`,
  ],
};
