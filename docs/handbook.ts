import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import ts from 'typescript';
import { type RuleKey, ruleKeys } from '@/core/chemistry/houseRules';
import { groupedBy } from '@/core/grouped';

/** A limit or a formula of the core, as its own code tells it. */
export interface CodePage {
  key: string;
  kind: 'limit' | 'formula';
  /** The room of the core it belongs to. */
  room: string;
  title: string;
  /** What it is, why, and where it comes from. */
  text: string;
  source: 'published' | 'common practice' | 'from memory' | 'own rule' | 'by simulation';
  /** Of a limit: each value with its unit, where it is a plain number. */
  values: { name: string; value: number | null; unit: string; told: string }[];
  /** Names of the limits that its text tells of as well. */
  also?: string[];
  /** What uses it, by its own first sentence. */
  usedFor: string[];
  /** House rules that change what it comes to. */
  rules: RuleKey[];
}

export interface SaidBy {
  pages: string[];
  rooms: string[];
}

/** All that the code tells. */
export interface CodeHandbook {
  pages: CodePage[];
  /** Of each house rule what goes by it. */
  ruleUses: Partial<Record<RuleKey, string[]>>;
  /** Of each code of a verdict, a warning or a refusal the pages named where it is said, and the rooms that say it. */
  saidBy: Record<string, SaidBy>;
}

/** What a name ends in, and the unit that is. */
const units: Record<string, string> = {
  V: 'V',
  A: 'A',
  W: 'W',
  Ah: 'Ah',
  Wh: 'Wh',
  Ohm: 'Ω',
  OhmAh: 'Ω·Ah',
  S: 's',
  Min: 'min',
  H: 'h',
  D: 'd',
  Ms: 'ms',
  K: 'K',
  Share: 'share',
  Times: '×',
};

const wordsOf = (name: string): string[] => name.replace(/([a-z0-9])([A-Z])/g, '$1 $2').split(' ');

/** `temperatureLimitS` is a temperature limit in seconds. */
function named(name: string): { title: string; unit: string } {
  const words = wordsOf(name);
  const last = words.at(-1) ?? '';
  const unit = words.length > 1 ? units[last] : undefined;
  const plain = unit === undefined || unit === 'share' || unit === '×' ? words : words.slice(0, -1);
  return { title: plain.join(' ').toLowerCase(), unit: unit ?? '' };
}

function sourceOf(text: string): CodePage['source'] | null {
  const published =
    /(ISO|IEC|GUM|JCGM|ASTM|RFC|ECMA|APPNOTE|18\d\d|19\d\d|20\d\d|Ohm's law|Bayes' rule|linear circuit)/;
  if (/from memory/i.test(text)) return 'from memory';
  if (published.test(text)) return 'published';
  if (/common practice/i.test(text)) return 'common practice';
  if (/simulation|npm run coverage/i.test(text)) return 'by simulation';
  return /own (rule|method)|Source:/i.test(text) ? 'own rule' : null;
}

const docOf = (node: ts.Node): string => {
  const [doc] = ts.getJSDocCommentsAndTags(node).filter(ts.isJSDoc);
  const text = doc ? ts.getTextOfJSDocComment(doc.comment) : undefined;
  return (text ?? '').replace(/\s+/g, ' ').trim();
};

const firstSentence = (text: string): string => /^.*?[.:;](?= |$)/.exec(text)?.[0].replace(/[:;]$/, '.') ?? text;

/** What it is, in its own first words. */
const titleOf = (doc: string): string => (doc.split(/\.(?= |$)/)[0] ?? doc).replace(/, [A-Z][a-zA-Z]{0,2}$/, '');

/** The value of an expression of numbers and of names that are known already; null of any other. */
function valueOf(node: ts.Expression, known: ReadonlyMap<string, number>): number | null {
  if (ts.isNumericLiteral(node)) return Number(node.text.replaceAll('_', ''));
  if (ts.isParenthesizedExpression(node)) return valueOf(node.expression, known);
  if (ts.isIdentifier(node)) return known.get(node.text) ?? null;
  if (ts.isPrefixUnaryExpression(node) && node.operator === ts.SyntaxKind.MinusToken) {
    const value = valueOf(node.operand, known);
    return value === null ? null : -value;
  }
  if (!ts.isBinaryExpression(node)) return null;
  const [left, right] = [valueOf(node.left, known), valueOf(node.right, known)];
  if (left === null || right === null) return null;
  switch (node.operatorToken.kind) {
    case ts.SyntaxKind.PlusToken:
      return left + right;
    case ts.SyntaxKind.MinusToken:
      return left - right;
    case ts.SyntaxKind.AsteriskToken:
      return left * right;
    case ts.SyntaxKind.SlashToken:
      return left / right;
    default:
      return null;
  }
}

const mostTold = 400;

/** The names and values that a statement declares. */
function valuesOf(
  statement: ts.VariableStatement,
  file: ts.SourceFile,
  known: Map<string, number>,
): CodePage['values'] {
  return statement.declarationList.declarations.flatMap(({ name, initializer }) => {
    const bare = initializer && (ts.isAsExpression(initializer) || ts.isSatisfiesExpression(initializer));
    let value: ts.Expression | undefined = bare ? initializer.expression : initializer;
    while (value && (ts.isAsExpression(value) || ts.isSatisfiesExpression(value))) value = value.expression;
    if (!value) return [];
    const one = (of: string, at: ts.Expression) => {
      const number = valueOf(at, known);
      if (number !== null) known.set(of, number);
      const told = at.getText(file).replace(/\s+/g, ' ');
      return { name: named(of).title, unit: named(of).unit, value: number, told: told.length > mostTold ? '' : told };
    };
    if (ts.isIdentifier(name)) {
      if (!ts.isObjectLiteralExpression(value)) return [one(name.text, value)];
      const flat = value.properties.flatMap((property) =>
        ts.isPropertyAssignment(property)
          ? [one(property.name.getText(file).replaceAll("'", ''), property.initializer)]
          : [],
      );
      return flat.every((part) => part.value !== null) ? flat : [one(name.text, value)];
    }
    if (!ts.isArrayBindingPattern(name) || !ts.isArrayLiteralExpression(value)) return [];
    const list = value;
    return name.elements.flatMap((element, i) => {
      const at = list.elements[i];
      return ts.isBindingElement(element) && ts.isIdentifier(element.name) && at ? [one(element.name.text, at)] : [];
    });
  });
}

const declaredIn = (statement: ts.VariableStatement): string[] =>
  statement.declarationList.declarations.flatMap(({ name }) =>
    ts.isIdentifier(name)
      ? [name.text]
      : name.elements.flatMap((one) => (ts.isBindingElement(one) && ts.isIdentifier(one.name) ? [one.name.text] : [])),
  );

const isFunction = (node: ts.Expression | undefined): boolean =>
  node !== undefined && (ts.isArrowFunction(node) || ts.isFunctionExpression(node));

/** What a function of the house rules goes by. */
const throughFunctions: Record<string, readonly RuleKey[]> = {
  lowestVoltageV: ['lowestCylindricalV', 'lowestPouchV', 'lowestIronPhosphateV'],
};

/** A statement of a file, and every name that it, or what it calls in that file, goes by. */
interface Part {
  statement: ts.Statement;
  names: string[];
  reached: Set<string>;
}

function partsOf(file: ts.SourceFile): Part[] {
  const parts = file.statements.map((statement): Part => {
    const own = ts.isFunctionDeclaration(statement) && statement.name ? [statement.name.text] : [];
    const names = ts.isVariableStatement(statement) ? declaredIn(statement) : own;
    return { statement, names, reached: new Set(statement.getText(file).match(/\w+/g)) };
  });
  for (let isGrowing = true; isGrowing;) {
    isGrowing = false;
    for (const part of parts)
      for (const other of parts) {
        if (other === part || !other.names.some((name) => part.reached.has(name))) continue;
        const before = part.reached.size;
        for (const word of other.reached) part.reached.add(word);
        isGrowing ||= part.reached.size > before;
      }
  }
  return parts;
}

/** The house rules among the names that something goes by. */
function rulesAmong(reached: ReadonlySet<string>): RuleKey[] {
  const through = Object.entries(throughFunctions).flatMap(([name, keys]) => (reached.has(name) ? keys : []));
  return [...new Set([...ruleKeys.filter((key) => reached.has(key)), ...through])];
}

/** What of one file goes by which house rule. */
const ruleUsesIn = (file: ts.SourceFile): [RuleKey, string][] =>
  partsOf(file).flatMap(({ statement, reached }) => {
    const doc = docOf(statement);
    const isCode = ts.isFunctionDeclaration(statement) || ts.isVariableStatement(statement);
    return doc && isCode ? rulesAmong(reached).map((key): [RuleKey, string] => [key, firstSentence(doc)]) : [];
  });

const keyStem = (path: string): string =>
  path
    .replace(/^core\//, '')
    .replace(/\.ts$/, '')
    .replaceAll('/', '-');

const roomOf = (file: ts.SourceFile): string => /core\/([^/]+)/.exec(file.fileName)?.[1] ?? '';

/** Of what a file takes from other files of the core its name here, and the key that its page would have. */
function takenFrom(file: ts.SourceFile): [name: string, key: string][] {
  return file.statements.filter(ts.isImportDeclaration).flatMap(({ importClause, moduleSpecifier }) => {
    const bindings = importClause?.namedBindings;
    if (!ts.isStringLiteral(moduleSpecifier) || !bindings || !ts.isNamedImports(bindings)) return [];
    const stem = keyStem(join(dirname(file.fileName), `${moduleSpecifier.text}.ts`));
    return bindings.elements.map(({ name }): [string, string] => [name.text, `${stem}-${name.text}`]);
  });
}

/** Said within more limits than these it could go by any of them, and none is named. */
const mostGoneBy = 5;

/** Each code that a file says, with the pages and house rules that the condition it is said under names. */
function saidIn(file: ts.SourceFile, pageOfName: ReadonlyMap<string, string>): [code: string, pages: string[]][] {
  const stem = keyStem(file.fileName);
  const parts = partsOf(file);
  const own = parts.flatMap(({ names }) => names.map((name): [string, string] => [name, `${stem}-${name}`]));
  const reachedBy = new Map(parts.flatMap(({ names, reached }) => names.map((name) => [name, reached] as const)));
  const known = new Map(
    [...takenFrom(file), ...own].flatMap(([name, key]): [string, string][] => {
      const page = pageOfName.get(key);
      return page === undefined ? [] : [[name, page]];
    }),
  );
  const goneByIn = (node: ts.Node): string[] => {
    const words = node.getText(file).match(/\w+/g) ?? [];
    const reached = new Set(words.flatMap((word) => [word, ...(reachedBy.get(word) ?? [])]));
    return [...new Set([...[...reached].flatMap((name) => known.get(name) ?? []), ...rulesAmong(reached)])];
  };
  const around = (node: ts.Node): string[] => {
    for (let at = node; !ts.isSourceFile(at.parent); at = at.parent) {
      const isWhole = ts.isFunctionLike(at) || ts.isFunctionLike(at.parent) || ts.isArrayLiteralExpression(at);
      if (isWhole) return [];
      const pages = goneByIn(at);
      if (pages.length > 0) return pages.length > mostGoneBy ? [] : pages;
    }
    return [];
  };
  const found: [code: string, pages: string[]][] = [];
  const look = (node: ts.Node): void => {
    if (ts.isPropertyAssignment(node) && /^(code|verdict|faults?)$/.test(node.name.getText(file))) {
      const value = node.initializer;
      const all = ts.isArrayLiteralExpression(value) ? [...value.elements] : [value];
      for (const one of all) if (ts.isStringLiteral(one)) found.push([one.text, around(node)]);
    }
    ts.forEachChild(node, look);
  };
  look(file);
  return found;
}

/** It tells how something is written or kept, and judges nothing. */
const noLimit = /^(dischargeArithmetic|display|powers|words|units|prefixes)$|Form$/;

/** Every limit and every formula of one file of the core; a limit that names no source is the program's own. */
export function pagesIn(file: ts.SourceFile): CodePage[] {
  const room = roomOf(file);
  const stem = keyStem(file.fileName);
  const known = new Map<string, number>();
  const parts = partsOf(file);
  const usersOf = (names: readonly string[], page: ts.Statement): string[] => [
    ...new Set(
      file.statements.flatMap((statement) => {
        const doc = docOf(statement);
        const isOne = ts.isFunctionDeclaration(statement) || ts.isVariableStatement(statement);
        if (!doc || !isOne || statement === page) return [];
        const words = new Set(statement.getText(file).match(/\w+/g));
        return names.some((name) => words.has(name)) ? [firstSentence(doc)] : [];
      }),
    ),
  ];
  const pages: CodePage[] = [];
  /** The limit that the statement before told of, where the next may go on from it. */
  let before: { page: CodePage; end: number } | null = null;
  for (const { statement, names, reached } of parts) {
    const doc = docOf(statement);
    const source = sourceOf(doc);
    const isVariable = ts.isVariableStatement(statement);
    const isCode = isVariable
      ? statement.declarationList.declarations.some(({ initializer }) => isFunction(initializer))
      : ts.isFunctionDeclaration(statement);
    const [name] = names;
    if (name === undefined || !(isVariable || isCode)) continue;
    const page = { key: `${stem}-${name}`, room, title: titleOf(doc), text: doc };
    if (isCode) {
      const isSourced = isVariable ? source !== null : /Source:/.test(doc);
      if (source && isSourced)
        pages.push({ ...page, kind: 'formula', source, values: [], usedFor: [], rules: rulesAmong(reached) });
      continue;
    }
    const values = isVariable ? valuesOf(statement, file, known) : [];
    const isNumber = values.some(({ value, told }) => value !== null || /\d/.test(told));
    if (noLimit.test(name) || !(isNumber || source)) continue;
    if (doc) {
      const told: CodePage = { ...page, kind: 'limit', source: source ?? 'own rule', values, usedFor: [], rules: [] };
      told.usedFor = usersOf(names, statement);
      pages.push(told);
      before = { page: told, end: statement.getEnd() };
    } else if (before && !/\n\s*\n/.test(file.text.slice(before.end, statement.getStart(file)))) {
      before.page.values.push(...values);
      before.page.usedFor = [...new Set([...before.page.usedFor, ...usersOf(names, statement)])];
      before.page.also = [...(before.page.also ?? []), ...names];
      before.end = statement.getEnd();
    }
  }
  return pages;
}

/** A file of the core, to be read for its pages. */
export const sourceFile = (path: string, text: string): ts.SourceFile =>
  ts.createSourceFile(path, text, ts.ScriptTarget.Latest, true);

const entriesOf = <Key extends string>(pairs: readonly (readonly [Key, string])[]): Partial<Record<Key, string[]>> => {
  const found: Partial<Record<Key, string[]>> = {};
  for (const [key, value] of pairs) found[key] = [...new Set([...(found[key] ?? []), value])];
  return found;
};

/** Every page that the code of the core tells, what goes by which house rule, and by which pages something is said. */
export function codeHandbook(): CodeHandbook {
  const files = readdirSync('core', { recursive: true, encoding: 'utf8' })
    .filter((path) => path.endsWith('.ts') && !/\.(test|d)\.ts$/.test(path))
    .sort()
    .map((path) => sourceFile(`core/${path}`, readFileSync(`core/${path}`, 'utf8')));
  const pages = files.flatMap(pagesIn);
  const pageOfName = new Map(
    pages.flatMap(({ key, also = [] }) => [
      [key, key] as const,
      ...also.map((name) => [`${key.slice(0, key.lastIndexOf('-') + 1)}${name}`, key] as const),
    ]),
  );
  const said = files.flatMap((file) =>
    saidIn(file, pageOfName).map(([code, pages]) => ({ code, pages, room: roomOf(file) })),
  );
  return {
    pages,
    ruleUses: entriesOf(files.filter(({ fileName }) => !fileName.endsWith('houseRules.ts')).flatMap(ruleUsesIn)),
    saidBy: Object.fromEntries(
      [...groupedBy(said, ({ code }) => code)].map(([code, of]) => [
        code,
        { pages: [...new Set(of.flatMap(({ pages }) => pages))], rooms: [...new Set(of.map(({ room }) => room))] },
      ]),
    ),
  };
}

if (process.argv[1]?.endsWith('handbook.ts'))
  writeFileSync('docs/handbook.json', `${JSON.stringify(codeHandbook(), null, 1)}\n`);
