import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import ts from 'typescript';
import { type RuleKey, ruleKeys } from '@/core/chemistry/houseRules';
import { groupedBy } from '@/core/grouped';
import { type Example, examplesOf, workedIn } from './worked';

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
  /** Of a formula: what its examples come to, by the code itself. */
  worked: { name: string; figure: string }[];
  /** Of a formula: the limits and formulas that it goes by, by their keys. */
  goesBy: string[];
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

/** A file of the core, to be read for its pages. */
export interface CoreFile {
  file: ts.SourceFile;
  parts: Part[];
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
const ruleUsesIn = ({ parts }: CoreFile): [RuleKey, string][] =>
  parts.flatMap(({ statement, reached }) => {
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
    const { text } = moduleSpecifier;
    const stem = keyStem(text.startsWith('@/') ? `${text.slice(2)}.ts` : join(dirname(file.fileName), `${text}.ts`));
    return bindings.elements.map(({ name }): [string, string] => [name.text, `${stem}-${name.text}`]);
  });
}

/** Said within more limits than these it could go by any of them, and none is named. */
const mostGoneBy = 5;

/** Of each name that a file declares or takes from others, the page that tells of it. */
function knownIn({ file, parts }: CoreFile, pageOfName: ReadonlyMap<string, string>): Map<string, string> {
  const stem = keyStem(file.fileName);
  const own = parts.flatMap(({ names }) => names.map((name): [string, string] => [name, `${stem}-${name}`]));
  return new Map(
    [...takenFrom(file), ...own].flatMap(([name, key]): [string, string][] => {
      const page = pageOfName.get(key);
      return page === undefined ? [] : [[name, page]];
    }),
  );
}

/**
 * Each code that a file says, with the pages and house rules that the condition it is said under names; else the page
 * of the formula that says it.
 */
function saidIn(from: CoreFile, pageOfName: ReadonlyMap<string, string>): [code: string, pages: string[]][] {
  const { file, parts } = from;
  const reachedBy = new Map(parts.flatMap(({ names, reached }) => names.map((name) => [name, reached] as const)));
  const known = knownIn(from, pageOfName);
  const goneByIn = (node: ts.Node): string[] => {
    const words = node.getText(file).match(/\w+/g) ?? [];
    const reached = new Set(words.flatMap((word) => [word, ...(reachedBy.get(word) ?? [])]));
    return [...new Set([...[...reached].flatMap((name) => known.get(name) ?? []), ...rulesAmong(reached)])];
  };
  const wholeOf = (node: ts.Node): string[] => {
    let at = node;
    while (!ts.isSourceFile(at.parent)) at = at.parent;
    const pagesFor = ({ names }: Part): string[] => names.flatMap((name) => known.get(name) ?? []);
    const own = parts.find(({ statement }) => statement === at);
    if (!own || pagesFor(own).length > 0) return own ? pagesFor(own) : [];
    const users = parts.filter(({ reached }) => own.names.some((name) => reached.has(name)));
    const pages = [...new Set(users.flatMap(pagesFor))];
    return pages.length > mostGoneBy ? [] : pages;
  };
  const around = (node: ts.Node): string[] => {
    for (let at = node; !ts.isSourceFile(at.parent); at = at.parent) {
      const isWhole = ts.isFunctionLike(at) || ts.isFunctionLike(at.parent) || ts.isArrayLiteralExpression(at);
      const pages = isWhole ? [] : goneByIn(at);
      if (isWhole || pages.length > mostGoneBy) break;
      if (pages.length > 0) return pages;
    }
    return wholeOf(node);
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

/** They read, write and keep, draw lots or pose as something else: what they compute judges nothing. */
const noFormula = new RegExp(
  '^core/(grouped|quantity/(format|parse|lastDigit)|statistics/random|' +
    'simulation/(meter|packCircuit|packRunCases)|matching/matchProgram|chemistry/chargers|' +
    'capacity/(byte|json|log[BCRSg]|plain|time|xlsx|sampleColumns|zip)\\w*)',
);

const isExported = (statement: ts.Statement): boolean =>
  ts.canHaveModifiers(statement) &&
  (ts.getModifiers(statement) ?? []).some(({ kind }) => kind === ts.SyntaxKind.ExportKeyword);

/** Whether it multiplies, divides, or calls a function of mathematics. */
function computes(node: ts.Node): boolean {
  const isProduct =
    ts.isBinaryExpression(node) &&
    [ts.SyntaxKind.AsteriskToken, ts.SyntaxKind.SlashToken].includes(node.operatorToken.kind);
  const isCall =
    ts.isPropertyAccessExpression(node) && ts.isIdentifier(node.expression) && node.expression.text === 'Math';
  return isProduct || isCall || (ts.forEachChild(node, (child) => computes(child) || undefined) ?? false);
}

interface ReadPages {
  pages: CodePage[];
  /** Of each formula, by its key. */
  examples: Map<string, Example[]>;
}

/** Every limit and every formula of one file of the core; what names no source is the program's own. */
export function pagesIn({ file, parts }: CoreFile): ReadPages {
  const room = roomOf(file);
  const stem = keyStem(file.fileName);
  const known = new Map<string, number>();
  const examples: ReadPages['examples'] = new Map();
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
    const told = { key: `${stem}-${name}`, room, title: titleOf(doc), text: doc, worked: [], goesBy: [] };
    if (isCode) {
      const isSourced = isVariable ? source !== null : /Source:/.test(doc);
      const isOwn = doc !== '' && isExported(statement) && computes(statement);
      if (noFormula.test(file.fileName) || !(isSourced || isOwn)) continue;
      const rules = rulesAmong(reached);
      const usedFor = usersOf(names, statement);
      pages.push({ ...told, kind: 'formula', source: source ?? 'own rule', values: [], usedFor, rules });
      examples.set(told.key, examplesOf(statement));
      continue;
    }
    const values = isVariable ? valuesOf(statement, file, known) : [];
    const isNumber = values.some(({ value, told }) => value !== null || /\d/.test(told));
    if (noLimit.test(name) || !(isNumber || source)) continue;
    if (doc) {
      const usedFor = usersOf(names, statement);
      const page: CodePage = { ...told, kind: 'limit', source: source ?? 'own rule', values, usedFor, rules: [] };
      pages.push(page);
      before = { page, end: statement.getEnd() };
    } else if (before && !/\n\s*\n/.test(file.text.slice(before.end, statement.getStart(file)))) {
      before.page.values.push(...values);
      before.page.usedFor = [...new Set([...before.page.usedFor, ...usersOf(names, statement)])];
      before.page.also = [...(before.page.also ?? []), ...names];
      before.end = statement.getEnd();
    }
  }
  return { pages, examples };
}

/** A file of the core by its text. */
export function coreFile(path: string, text: string): CoreFile {
  const file = ts.createSourceFile(path, text, ts.ScriptTarget.Latest, true);
  return { file, parts: partsOf(file) };
}

/** Tells each formula of a file what it goes by, and what that is used for. */
function lead(from: CoreFile, pageOfName: ReadonlyMap<string, string>, pageOf: ReadonlyMap<string, CodePage>): void {
  const stem = keyStem(from.file.fileName);
  const known = knownIn(from, pageOfName);
  for (const { names, reached } of from.parts) {
    const page = pageOf.get(`${stem}-${names[0] ?? ''}`);
    if (page?.kind !== 'formula') continue;
    page.goesBy = [...new Set([...reached].flatMap((name) => known.get(name) ?? []))].filter((key) => key !== page.key);
    for (const key of page.goesBy) {
      const used = pageOf.get(key);
      const use = firstSentence(page.text);
      if (used && !used.usedFor.includes(use)) used.usedFor.push(use);
    }
  }
}

const entriesOf = <Key extends string>(pairs: readonly (readonly [Key, string])[]): Partial<Record<Key, string[]>> => {
  const found: Partial<Record<Key, string[]>> = {};
  for (const [key, value] of pairs) found[key] = [...new Set([...(found[key] ?? []), value])];
  return found;
};

/** Of each name, as a file of the core has it, the page that tells of it. */
const namesOf = (pages: readonly CodePage[]): Map<string, string> =>
  new Map(
    pages.flatMap(({ key, also = [] }) => [
      [key, key] as const,
      ...also.map((name) => [`${key.slice(0, key.lastIndexOf('-') + 1)}${name}`, key] as const),
    ]),
  );

/** Every page that the code of the core tells, what goes by which house rule, and by which pages something is said. */
export async function codeHandbook(): Promise<CodeHandbook> {
  const files = readdirSync('core', { recursive: true, encoding: 'utf8' })
    .filter((path) => path.endsWith('.ts') && !/\.(test|d)\.ts$/.test(path))
    .sort()
    .map((path) => coreFile(`core/${path}`, readFileSync(`core/${path}`, 'utf8')));
  const read = files.map((from) => ({ path: from.file.fileName, ...pagesIn(from) }));
  const all = read.flatMap(({ pages }) => pages);
  const pageOf = new Map(all.map((page) => [page.key, page]));
  for (const from of files) lead(from, namesOf(all), pageOf);
  for (const { path, examples } of read)
    for (const [key, of] of examples) {
      const page = pageOf.get(key);
      if (page) page.worked = await workedIn(path, of);
    }
  const pages = all.filter(({ kind, source, worked, goesBy, rules }) => {
    const hasFigure = worked.length + goesBy.length + rules.length > 0;
    return kind === 'limit' || hasFigure || source !== 'own rule';
  });
  const pageOfName = namesOf(pages);
  const said = files.flatMap((from) =>
    saidIn(from, pageOfName).map(([code, pages]) => ({ code, pages, room: roomOf(from.file) })),
  );
  return {
    pages,
    ruleUses: entriesOf(files.filter(({ file }) => !file.fileName.endsWith('houseRules.ts')).flatMap(ruleUsesIn)),
    saidBy: Object.fromEntries(
      [...groupedBy(said, ({ code }) => code)].map(([code, of]) => [
        code,
        { pages: [...new Set(of.flatMap(({ pages }) => pages))], rooms: [...new Set(of.map(({ room }) => room))] },
      ]),
    ),
  };
}

if (process.argv[1]?.endsWith('handbook.ts'))
  void codeHandbook().then((told) => {
    writeFileSync('docs/handbook.json', `${JSON.stringify(told, null, 1)}\n`);
  });
