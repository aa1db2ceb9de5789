import { execFileSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** A checkout with the commands of this one, tracked by git or not. */
function createCheckout(isTracked: boolean) {
  const folder = mkdtempSync(join(tmpdir(), 'bold-ember-checkout-'));
  const run = (command: string, ...given: string[]): string =>
    execFileSync(command, given, { cwd: folder, encoding: 'utf8', env: { ...process.env, BOLD_EMBER_BUILDS: '' } });
  const write = (file: string, text: string): void => {
    mkdirSync(join(folder, file, '..'), { recursive: true });
    writeFileSync(join(folder, file), text);
  };
  mkdirSync(join(folder, 'bin'));
  cpSync('bin/common.sh', join(folder, 'bin/common.sh'));
  if (isTracked) run('git', 'init', '--quiet');
  return {
    write,
    track: () => (isTracked ? run('git', 'add', '--all') : ''),
    fingerprint: () => run('bash', '-c', `. '${folder}/bin/common.sh'; source_fingerprint`),
    run: (script: string) => run('bash', '-c', `. '${folder}/bin/common.sh'; ${script}`),
    remove: () => rmSync(folder, { recursive: true }),
  };
}

describe.each([
  ['tracked by git', true],
  ['without git', false],
])('a build is made again when its sources change: %s', (_, isTracked) => {
  const checkout = createCheckout(isTracked);
  const sources = ['app/page.tsx', 'instrumentation.ts', 'public/icon.svg', 'words/new.ts', 'package-lock.json'];
  const others = ['core/line.test.ts', 'docs/schema.md', 'e2e/walk.spec.ts', 'bench/fuzz.ts'];

  beforeAll(() => {
    for (const file of [...sources, ...others]) checkout.write(file, 'one');
    checkout.track();
  });
  afterAll(() => checkout.remove());

  test.each(sources)('%s changes it', (file) => {
    const before = checkout.fingerprint();
    checkout.write(file, 'two');
    expect(checkout.fingerprint()).not.toBe(before);
  });

  test.each([...others, '.next/made'])('%s does not', (file) => {
    const before = checkout.fingerprint();
    checkout.write(file, 'two');
    expect(checkout.fingerprint()).toBe(before);
  });
});

test('a file that git does not track changes no build', () => {
  const checkout = createCheckout(true);
  checkout.write('app/page.tsx', 'one');
  checkout.track();
  const before = checkout.fingerprint();
  checkout.write('app/notes.txt', 'mine');
  expect(checkout.fingerprint()).toBe(before);
  checkout.remove();
});

describe('builds of several states of the sources', () => {
  const checkout = createCheckout(false);
  // The framework's place is taken by a builder that empties its folder first, as that does.
  const builder = [
    "const { rmSync, mkdirSync, writeFileSync } = require('fs');",
    'const folder = process.env.NEXT_DIST_DIR;',
    "rmSync(folder, { recursive: true, force: true }); mkdirSync(folder + '/static', { recursive: true });",
    "writeFileSync(folder + '/made', String(process.pid));",
    "if (process.env.FAILS) { console.error('broken'); process.exit(1); }",
  ].join('\n');
  const build = 'build_app 2>/dev/null; echo "$NEXT_DIST_DIR $(cat "$NEXT_DIST_DIR/made")"';

  beforeAll(() => {
    checkout.write('node_modules/next/dist/bin/next', builder);
    checkout.write('app/page.tsx', 'one');
  });
  afterAll(() => checkout.remove());

  test('the same sources are built once; a build that failed is none', () => {
    expect(() => checkout.run(`FAILS=1 ${build}`)).toThrow();
    const first = checkout.run(build);
    expect(checkout.run(build)).toBe(first);
  });

  test('one that is in use stays while another is made; afterwards it goes', () => {
    const [used = ''] = checkout.run(build).trim().split(' ');
    const listed = checkout.run(
      `${build} >&2
       (source_fingerprint() { echo other; }; build_app) 2>/dev/null
       ls .next`,
    );
    expect(listed).toContain(used.replace('.next/', ''));
    expect(listed).toContain('other');
    checkout.write('app/page.tsx', 'three');
    checkout.run(build);
    expect(checkout.run('ls .next')).not.toContain(used.replace('.next/', ''));
  });
});
