import { formatQuantity } from '@/core/quantity/format';
import { join } from 'node:path';
import ts from 'typescript';
import { createContext, runInContext } from 'node:vm';

/** An example of a formula, as its comment has it: what it is of, the call, the unit of what comes out. */
export interface Example {
  name: string;
  call: string;
  unit: string;
}

const exampleForm = /^(?<name>[^`]+): `(?<call>[^`]+)`(?<unit>.*)$/;

/** The examples of a comment, each `@worked What it is of: \`call(…)\` unit`. Throws where one is written otherwise. */
export const examplesOf = (node: ts.Node): Example[] =>
  ts
    .getJSDocTags(node)
    .filter(({ tagName }) => tagName.text === 'worked')
    .map(({ comment }) => {
      const text = (ts.getTextOfJSDocComment(comment) ?? '').replace(/\s+/g, ' ').trim();
      const { name, call, unit } = exampleForm.exec(text)?.groups ?? {};
      if (name === undefined || call === undefined || unit === undefined)
        throw new Error(`Write a worked figure as "What it is of: \`call(…)\` unit": ${text}`);
      return { name, call, unit: unit.trim() };
    });

/** A number in three digits, or as many as it has before the point. */
const figureOf = (value: number): string => String(Number(value.toPrecision(Math.abs(value) >= 1000 ? 4 : 3)));

const isQuantity = (of: object): of is { value: number; u: number } => 'value' in of && 'u' in of;

/** What came out, as people read it: of an uncertain figure its standard uncertainty beside it. */
export function comesTo(outcome: unknown, unit: string): string {
  if (typeof outcome === 'string') return outcome;
  if (typeof outcome === 'boolean') return outcome ? 'yes' : 'no';
  if (typeof outcome === 'number') return `${figureOf(outcome)} ${unit}`.trim();
  if (Array.isArray(outcome)) return `${outcome.map((one) => comesTo(one, '')).join(', ')} ${unit}`.trim();
  if (typeof outcome === 'object' && outcome !== null && isQuantity(outcome))
    return formatQuantity(outcome, { unit, factor: 1, decimals: 3 }).trim();
  return 'nothing can be told';
}

const modules = (paths: readonly string[]) =>
  Promise.all(paths.map((path) => import(join(process.cwd(), path)) as Promise<Record<string, unknown>>));

/** Files whose names every example may use, to say what a formula is asked. */
const vocabulary = ['core/quantity/quantity', 'core/chemistry/openCircuit', 'core/chemistry/houseRules'];

/** What a file's examples come to, by its own code. */
export async function workedIn(
  path: string,
  examples: readonly Example[],
): Promise<{ name: string; figure: string }[]> {
  if (examples.length === 0) return [];
  const scope = createContext(Object.assign({}, ...(await modules([...vocabulary, path.replace(/\.ts$/, '')]))));
  return examples.map(({ name, call, unit }) => ({ name, figure: comesTo(runInContext(call, scope), unit) }));
}
