import { execSync } from 'node:child_process';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';

const file = 'docs/reliability.md';
const introduction = `# Reliability

What was done to the application to make it lose, freeze or fail, and what came of it. Traffic goes to this machine
only.
\`npm run chaos\` and \`npm run fuzz\` renew their tables; a short round of each stands in \`bin/test\`.
`;

/** A table of two columns in Markdown. */
export const table = (rows: readonly (readonly [what: string, count: string | number])[]): string =>
  ['| what | count |', '|---|---|', ...rows.map(([what, count]) => `| ${what} | ${count} |`)].join('\n');

/** Keeps a section of docs/reliability.md; the others stay as they are. */
export function keepSection(title: string, text: string): void {
  const before = existsSync(file) ? readFileSync(file, 'utf8').split(/^## /m).slice(1) : [];
  const commit = execSync('git rev-parse --short HEAD').toString().trim();
  const own = `${title}\n\nCommit ${commit}, ${new Date().toISOString().slice(0, 10)}.\n\n${text}\n\n`;
  const sections = [...before.filter((section) => !section.startsWith(`${title}\n`)), own].sort();
  writeFileSync(file, `${introduction}\n${sections.map((section) => `## ${section.trim()}\n`).join('\n')}`);
}

/** The value of `--name` among the arguments. */
export const option = (name: string, otherwise: number): number => {
  const at = process.argv.indexOf(`--${name}`);
  return at < 0 ? otherwise : Number(process.argv[at + 1]);
};
