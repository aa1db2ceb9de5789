import 'server-only';
import type { HouseRules } from '@/core/chemistry/houseRules';
import type { CodeHandbook } from '@/docs/handbook';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { type HandbookPage, pagesOf } from './pages';

let code: Promise<CodeHandbook> | undefined;

/** Every page of the handbook, under the rules in force: the code's own part ships with the application. */
export async function handbook(limits: HouseRules): Promise<HandbookPage[]> {
  code ??= readFile(join(process.cwd(), 'docs', 'handbook.json'), 'utf8').then(
    (text) => JSON.parse(text) as CodeHandbook,
  );
  return pagesOf(await code, limits);
}
