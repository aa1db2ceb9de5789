import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import ts from 'typescript';
import { type RuleKey, ruleKeys } from '@/core/chemistry/houseRules';

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
  /** What uses it, by its own first sentence. */
  usedFor: string[];
  /** House rules that change what it comes to. */
  rules: RuleKey[];
}

/** All that the code tells. */
export interface CodeHandbook {
  pages: CodePage[];
  /** Of each house rule what goes by it. */
  ruleUses: Partial<Record<RuleKey, string[]>>;
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

/** Of each statement of a file the house rules that it, or what it calls in that file, goes by. */
function rulesIn(file: ts.SourceFile): Map<ts.Statement, RuleKey[]> {
  const parts = file.statements.map((statement) => {
    const own = ts.isFunctionDeclaration(statement) && statement.name ? [statement.name.text] : [];
    const names = ts.isVariableStatement(statement) ? declaredIn(statement) : own;
    const words = new Set(statement.getText(file).match(/\w+/g));
    const through = Object.entries(throughFunctions).flatMap(([name, keys]) => (words.has(name) ? keys : []));
    return { statement, names, words, rules: new Set([...ruleKeys.filter((key) => words.has(key)), ...through]) };
  });
  for (let isGrowing = true; isGrowing;) {
    isGrowing = false;
    for (const part of parts)
      for (const other of parts) {
        if (other === part || !other.names.some((name) => part.words.has(name))) continue;
        for (const key of other.rules) {
          if (part.rules.has(key)) continue;
          part.rules.add(key);
          isGrowing = true;
        }
      }
  }
  return new Map(parts.map(({ statement, rules }) => [statement, [...rules]]));
}

/** What of one file goes by which house rule. */
function ruleUsesIn(path: string, text: string): [RuleKey, string][] {
  const file = ts.createSourceFile(path, text, ts.ScriptTarget.Latest, true);
  return [...rulesIn(file)].flatMap(([statement, rules]) => {
    const doc = docOf(statement);
    const isCode = ts.isFunctionDeclaration(statement) || ts.isVariableStatement(statement);
    return doc && isCode ? rules.map((key): [RuleKey, string] => [key, firstSentence(doc)]) : [];
  });
}

/** Every limit and formula of one file of the core that says where it comes from. */
export function pagesIn(path: string, text: string): CodePage[] {
  const file = ts.createSourceFile(path, text, ts.ScriptTarget.Latest, true);
  const room = /core\/([^/]+)/.exec(path)?.[1] ?? '';
  const stem = path
    .replace(/^core\//, '')
    .replace(/\.ts$/, '')
    .replaceAll('/', '-');
  const known = new Map<string, number>();
  const pages: CodePage[] = [];
  const rules = rulesIn(file);
  const users = file.statements.flatMap((statement) => {
    const doc = docOf(statement);
    return doc && (ts.isFunctionDeclaration(statement) || ts.isVariableStatement(statement))
      ? [{ statement, doc, words: new Set(statement.getText(file).match(/\w+/g)) }]
      : [];
  });
  for (const statement of file.statements) {
    const doc = docOf(statement);
    const source = sourceOf(doc);
    const isOne = ts.isFunctionDeclaration(statement) || ts.isVariableStatement(statement);
    if (!isOne) continue;
    if (ts.isVariableStatement(statement)) {
      const isCode = statement.declarationList.declarations.some(({ initializer }) => isFunction(initializer));
      const names = declaredIn(statement);
      const values = isCode ? [] : valuesOf(statement, file, known);
      const [name] = names;
      if (!source || name === undefined) continue;
      const usedFor = users
        .filter((user) => user.statement !== statement && names.some((one) => user.words.has(one)))
        .map((user) => firstSentence(user.doc));
      pages.push({
        rules: isCode ? (rules.get(statement) ?? []) : [],
        key: `${stem}-${name}`,
        kind: isCode ? 'formula' : 'limit',
        room,
        title: titleOf(doc),
        text: doc,
        source,
        values,
        usedFor: isCode ? [] : [...new Set(usedFor)],
      });
    } else if (source && statement.name && /Source:/.test(doc))
      pages.push({
        rules: rules.get(statement) ?? [],
        key: `${stem}-${statement.name.text}`,
        kind: 'formula',
        room,
        title: titleOf(doc),
        text: doc,
        source,
        values: [],
        usedFor: [],
      });
  }
  return pages;
}

/** Every page that the code of the core tells, and what goes by which house rule. */
export function codeHandbook(): CodeHandbook {
  const files = readdirSync('core', { recursive: true, encoding: 'utf8' })
    .filter((path) => path.endsWith('.ts') && !/\.(test|d)\.ts$/.test(path))
    .sort()
    .map((path): [string, string] => [`core/${path}`, readFileSync(`core/${path}`, 'utf8')]);
  const ruleUses: CodeHandbook['ruleUses'] = {};
  for (const [path, text] of files.filter(([path]) => path !== 'core/chemistry/houseRules.ts'))
    for (const [key, use] of ruleUsesIn(path, text)) ruleUses[key] = [...new Set([...(ruleUses[key] ?? []), use])];
  return { pages: files.flatMap(([path, text]) => pagesIn(path, text)), ruleUses };
}

if (process.argv[1]?.endsWith('handbook.ts'))
  writeFileSync('docs/handbook.json', `${JSON.stringify(codeHandbook(), null, 1)}\n`);
