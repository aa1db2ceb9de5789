import { readFileSync } from 'node:fs';
import { migrate } from './migrate';
import { schemaText } from './schemaText';
import { scratchDatabase } from './scratchDatabase';

test('docs/schema.md is what the migrations make (bin/db schema renews it)', async () => {
  const scratch = await scratchDatabase();
  try {
    await migrate(scratch.pool);
    expect(await schemaText(scratch.pool)).toBe(readFileSync('docs/schema.md', 'utf8'));
  } finally {
    await scratch.drop();
  }
});
