import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** What Debian's ngspice writes of a circuit to its out.txt, and how long it took, ms. */
export function ngspice(circuit: string): { written: string; ms: number } {
  const folder = mkdtempSync(join(tmpdir(), 'ngspice-'));
  writeFileSync(join(folder, 'pack.cir'), circuit);
  const began = performance.now();
  try {
    execFileSync('ngspice', ['-b', 'pack.cir'], { cwd: folder, stdio: 'ignore' });
  } catch {
    // It counts a run steered by .control as none, and says so with its exit status.
  }
  const ms = performance.now() - began;
  const written = readFileSync(join(folder, 'out.txt'), 'utf8');
  rmSync(folder, { recursive: true });
  return { written, ms };
}

export const ngspiceVersion = (): string =>
  execFileSync('ngspice', ['--version'], { encoding: 'utf8' }).match(/ngspice-[\d.]+/)?.[0] ?? 'ngspice';
