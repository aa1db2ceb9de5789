import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

const root = join(__dirname, '..');
const list = readFileSync(join(root, 'docs/words.md'), 'utf8');

/** The words of the list, each as a pattern. */
const banned = (/## Words that never appear\n[\s\S]*?\n\n([a-z, ]+, [a-z ]+)\n\n## Terms/.exec(list)?.[1] ?? '')
  .split(', ')
  .map((words) => new RegExp(`\\b${words}\\b`, 'i'));

/** Migrations stay as they were applied; the list names the words itself. */
const isLeftOut = (path: string): boolean =>
  /node_modules|\/\.|migrations\/|docs\/words\.md|banned\.test\.ts|fixtures\//.test(path);

function files(): string[] {
  const folders = 'app bench bin core demo docs e2e http records stations truth ui words workers workshop'.split(' ');
  const inFolders = folders.flatMap((folder) =>
    readdirSync(join(root, folder), { recursive: true, withFileTypes: true })
      .filter((one) => one.isFile() && (/\.(tsx?|css|mjs|md|sh)$/.test(one.name) || folder === 'bin'))
      .map((one) => join(one.parentPath, one.name)),
  );
  return [...inFolders, join(root, 'README.md'), join(root, 'CONTRIBUTING.md')].filter((path) => !isLeftOut(path));
}

test('no source and no doc has a word of the list', () => {
  expect(banned.length).toBeGreaterThan(20);
  const found = files().flatMap((path) => {
    // A sentence of a comment or a page goes over several lines.
    const text = readFileSync(path, 'utf8').replace(/\n\s*(?:\*|\/\/)?\s*/g, ' ');
    return banned.flatMap((words) => {
      const at = text.search(words);
      return at < 0 ? [] : [`${path}: … ${text.slice(Math.max(0, at - 60), at + 60)}`];
    });
  });
  expect(found).toEqual([]);
});

test.each(['reckoned', 'foretold', 'It was told', 'a hold test', 'Nought'])('the list finds "%s"', (text) => {
  expect(banned.some((words) => words.test(text))).toBe(true);
});
