import type { Chance } from '@/core/statistics/random';

/** A schema as Zod gives it in JSON Schema. */
export interface Schema {
  type?: string;
  const?: unknown;
  enum?: unknown[];
  anyOf?: Schema[];
  oneOf?: Schema[];
  properties?: Record<string, Schema>;
  required?: string[];
  items?: Schema;
  minimum?: number;
  maximum?: number;
  exclusiveMinimum?: number;
  format?: string;
  pattern?: string;
}

const pick = <T>(chance: Chance, list: readonly T[]): T => list[Math.floor(chance.uniform() * list.length)] as T;

/** A value that the schema allows, or nearly: patterns are not followed. */
export function valueOf(schema: Schema, chance: Chance): unknown {
  if (schema.const !== undefined) return schema.const;
  if (schema.enum) return pick(chance, schema.enum);
  const choices = schema.anyOf ?? schema.oneOf;
  if (choices) return valueOf(pick(chance, choices), chance);
  switch (schema.type) {
    case 'object': {
      const chosen = Object.entries(schema.properties ?? {}).filter(
        ([name]) => schema.required?.includes(name) || chance.uniform() < 0.5,
      );
      return Object.fromEntries(chosen.map(([name, own]) => [name, valueOf(own, chance)]));
    }
    case 'array':
      return Array.from({ length: 1 + Math.floor(chance.uniform() * 30) }, () => valueOf(schema.items ?? {}, chance));
    case 'integer':
      return Math.round((schema.minimum ?? 0) + chance.uniform() * 6);
    case 'number':
      return Math.max(schema.minimum ?? 0, schema.exclusiveMinimum ?? 0) + chance.uniform() * 5;
    case 'boolean':
      return chance.uniform() < 0.5;
    case 'null':
      return null;
    default:
      return schema.format === 'uuid' ? crypto.randomUUID() : word(chance);
  }
}

const words = [
  'S1-014',
  'A1',
  '3.712',
  'PF1 8.4 9.3 9.0',
  'PF1 8.4 9.3 9.0 = 26.7 2024-11-09',
  'PF1 g2 3.83 3.79 1.0',
  '43.5m',
  '4.03 3.91',
  'ok',
  'PF1',
  'DM1 3.7',
  'steady > 2 Ah',
  'li-ion',
  '1',
  '2.5',
  'yes',
  '',
];
export const word = (chance: Chance): string => pick(chance, words);

const junk: ((chance: Chance) => unknown)[] = [
  () => null,
  () => '',
  () => -1,
  () => 0,
  () => 1e308,
  () => -1e-308,
  () => 2 ** 53,
  () => 1.5,
  () => '1e999',
  () => 'NaN',
  () => 'a\u0000b',
  () => '\ud800',
  () => "'; drop table cell; --",
  () => '<script>alert(1)</script>',
  () => '../../../../etc/passwd',
  () => '%00%ff',
  () => '${7*7}{{7*7}}',
  () => 'x'.repeat(5000),
  () => '𝟛٫٧',
  () => [],
  () => ({}),
  () => ({ __proto__: { polluted: true }, constructor: { prototype: {} } }),
  () => Array.from({ length: 200 }, (_, i) => i),
  (chance) => Array.from({ length: 20 }).reduce<unknown>((inner) => [inner], chance.uniform()),
  () => true,
];
export const anyJunk = (chance: Chance): unknown => pick(chance, junk)(chance);

/** The same with something within it exchanged, left out or doubled. */
export function mutated(value: unknown, chance: Chance): unknown {
  if (typeof value !== 'object' || value === null || chance.uniform() < 0.15) return anyJunk(chance);
  if (Array.isArray(value)) {
    if (value.length === 0) return anyJunk(chance);
    const at = Math.floor(chance.uniform() * value.length);
    const changed = [...(value as unknown[])];
    if (chance.uniform() < 0.2) changed.splice(at, 1);
    else changed[at] = mutated(changed[at], chance);
    return changed;
  }
  const names = Object.keys(value);
  if (names.length === 0) return anyJunk(chance);
  const name = pick(chance, names);
  const { [name]: chosen, ...rest } = value as Record<string, unknown>;
  return chance.uniform() < 0.2 ? rest : { ...rest, [name]: mutated(chosen, chance) };
}
