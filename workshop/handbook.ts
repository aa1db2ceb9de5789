import type { HouseRules } from '@/core/chemistry/houseRules';
import type { CodeHandbook } from '@/docs/handbook';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { type HandbookPage, pagesOf, saidWithin } from './handbookPages';

let code: Promise<CodeHandbook> | undefined;

const codeOf = (): Promise<CodeHandbook> =>
  (code ??= readFile(join(process.cwd(), 'docs', 'handbook.json'), 'utf8').then(
    (text) => JSON.parse(text) as CodeHandbook,
  ));

/** Every page of the handbook, under the rules in force: the code's own part ships with the application. */
export async function handbook(limits: HouseRules): Promise<HandbookPage[]> {
  return pagesOf(await codeOf(), limits);
}

/** The pages that something said goes by, told by its code; null of a code that nothing says. */
export const whatItGoesBy = async (said: string, pages: readonly HandbookPage[]) =>
  saidWithin(await codeOf(), said, pages);
