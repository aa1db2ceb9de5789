import { execFileSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

describe('a build is made anew when what it is made of changes', () => {
  const checkout = mkdtempSync(join(tmpdir(), 'bold-ember-checkout-'));
  const write = (file: string, text: string): void => {
    mkdirSync(join(checkout, file, '..'), { recursive: true });
    writeFileSync(join(checkout, file), text);
  };
  const fingerprint = (): string =>
    execFileSync('bash', ['-c', `. '${checkout}/bin/common.sh'; source_fingerprint`], { encoding: 'utf8' });

  beforeAll(() => {
    mkdirSync(join(checkout, 'bin'));
    cpSync('bin/common.sh', join(checkout, 'bin/common.sh'));
    write('app/page.tsx', 'one');
  });
  afterAll(() => rmSync(checkout, { recursive: true }));

  test.each(['app/page.tsx', 'instrumentation.ts', 'public/icon.svg', 'words/new.ts', 'package-lock.json'])(
    '%s changes it',
    (file) => {
      const before = fingerprint();
      write(file, 'two');
      expect(fingerprint()).not.toBe(before);
    },
  );

  test.each(['core/line.test.ts', 'docs/schema.md', '.next/made', 'e2e/walk.spec.ts'])('%s does not', (file) => {
    const before = fingerprint();
    write(file, 'two');
    expect(fingerprint()).toBe(before);
  });
});
