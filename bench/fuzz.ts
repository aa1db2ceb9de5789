import { seededChance } from '@/core/statistics/random';
import { migrate } from '@/records/migrate';
import { database } from '@/records/database';
import { scratchPack, scratchPackRound } from '@/records/scratchDatabase';
import * as shapes from '@/http/api/schemas';
import { entryLine } from '@/ui/entryLine';
import { strToU8, zipSync } from 'fflate';
import { z } from 'zod';
import { type Action, actionRequest, actionsOfBuild } from './actions';
import { anyJunk, mutated, type Schema, valueOf, word } from './junk';
import { keepSection, option, table } from './reliability';
import { serve } from '@/e2e/server';
import { fillShelf } from './shelf';

const requests = option('requests', 10_000);
const slowMs = 2000;
/** A busy machine is no failure: this only ends what hangs. */
const hangsAfterMs = 120_000;
const sideBySide = 4;
const chance = seededChance(option('seed', 20_261_125));
const pick = <T>(list: readonly T[]): T => list[Math.floor(chance.uniform() * list.length)] as T;

const wasReset = (error: unknown): boolean =>
  error instanceof Error && (error.cause as { code?: string } | undefined)?.code === 'ECONNRESET';

interface FuzzRequest {
  /** What is asked, for the table. */
  kind: string;
  path: string;
  init?: RequestInit;
}

const schemaOf = (schema: z.ZodType): Schema =>
  z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' }) as Schema;

/** A line of a round; what it knew of others' readings is left out, so that it is not asked about. */
const lineOfRound: Schema = {
  ...schemaOf(entryLine),
  properties: { ...schemaOf(entryLine).properties, seen: { type: 'null' } },
  required: [...(schemaOf(entryLine).required ?? []), 'seen'],
};

const questions: [path: string, schema: Schema][] = [
  ['/api/v1/compute/resistance', schemaOf(shapes.resistanceRequest)],
  ['/api/v1/compute/partial-capacity', schemaOf(shapes.partialCapacityRequest)],
  ['/api/v1/compute/match', schemaOf(shapes.matchRequest)],
  ['/api/v1/compute/pack-run', schemaOf(shapes.packRunRequest)],
  ['/api/v1/compute/hold', schemaOf(shapes.selfDischargeRequest)],
  ['/api/v1/holds', schemaOf(shapes.newSelfDischargeRequest)],
  ['/api/v1/compute/diagnose', schemaOf(shapes.diagnoseRequest)],
  ['/api/v1/compute/rebalance', schemaOf(shapes.rebalanceRequest)],
  ['/api/v1/compute/charger-sheet', schemaOf(shapes.chargerSheetRequest)],
  ['/api/v1/compute/schedule', schemaOf(shapes.scheduleRequest)],
  ['/api/v1/compute/ageing', schemaOf(shapes.ageingRequest)],
  ['/api/v1/entries', schemaOf(shapes.entryRequest)],
  ['/resistance/1/readings', lineOfRound],
];

/** As a text that a parser of JSON may or may not like. */
function jsonOf(value: unknown): string {
  const text = JSON.stringify(value) ?? '';
  const slip = chance.uniform();
  if (slip < 0.03) return text.slice(0, Math.floor(chance.uniform() * text.length));
  return slip < 0.05 ? `${'['.repeat(2000)}${text}` : text;
}

const mapping = schemaOf(shapes.logMapping);
const mutatedNowAndThen = (value: unknown): unknown => (chance.uniform() < 0.5 ? mutated(value, chance) : value);

function question(): FuzzRequest {
  const [path, schema] = pick(questions);
  const value = valueOf(schema, chance);
  const init = {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: jsonOf(chance.uniform() < 0.7 ? mutated(value, chance) : value),
  };
  return { kind: path.startsWith('/api') ? 'questions of the API' : 'readings of a round', path, init };
}

const cellsOfLog = [
  'time',
  'voltage',
  'V',
  's',
  '0',
  '10',
  '20',
  '3.9',
  '3,8',
  '4.1',
  '-1',
  '1e308',
  'NaN',
  '',
  'x',
  '00:01:00',
  '2:05:10 PM',
  '31.10.2026',
  '31.10.2026 23:59:58',
  '11/1/2026 1:00 PM',
  '2026-01-01T00:00:00Z',
  '"',
  '\u0000',
  '=',
  '𝟛',
];
function log(): FuzzRequest {
  const separator = pick([',', ';', '\t', '|']);
  const decimal = pick(['.', '.', ',']);
  const groups = pick([1, 1, 3, 4, 5]);
  const heading = [
    'time (s)',
    ...Array.from({ length: groups }, (_, i) => `${pick(['cell', 'U', 'tap'])}${i + 1} (V)`),
  ];
  const lines = Array.from({ length: Math.floor(chance.uniform() * 120) }, (_, i) =>
    chance.uniform() < 0.7
      ? [
          i * 10,
          ...Array.from({ length: groups }, (_, k) =>
            ((4.1 - i / 100) * pick([1, 1, k + 1])).toFixed(3).replace('.', decimal),
          ),
        ].join(separator)
      : Array.from({ length: 1 + Math.floor(chance.uniform() * 4) }, () => pick(cellsOfLog)).join(separator),
  );
  const load = pick(['resistor:4', 'current:0.5', 'column', 'resistor:0', 'current:1e99', 'lamp', '']);
  const query = new URLSearchParams({
    load,
    cutoffPerGroupV: pick(['', '3', '0', 'x']),
    cutoffV: pick(['3', '2.8', '-1', 'x', '1e300', '']),
    seriesCells: pick(['1', '3', '4', '7', '0', '1e9']),
    subject: pick(['Z0001-001', 'PF1', 'nope', '\u0000', '']),
    groups: pick(['', 'from-black', 'from-red', 'x']),
    fileName: pick(['a.csv', 'x'.repeat(400), '\u0000']),
    endedAt: pick(['2026-11-01T00:00:00Z', 'yesterday', '']),
  });
  for (const name of [
    'loadTolerance',
    'voltageAccuracyShare',
    'voltageAccuracyV',
    'currentAccuracyShare',
    'currentAccuracyA',
    'voltageResolutionV',
    'logger',
  ])
    if (chance.uniform() < 0.2) query.set(name, pick(['0.01', '0', '0.9', '1', '-1', 'x', '1e300', '', 'DM1']));
  if (chance.uniform() < 0.3) query.set('mapping', jsonOf(mutatedNowAndThen(valueOf(mapping, chance))));
  if (chance.uniform() < 0.1) query.set('keepMappingAs', lone(String(anyJunk(chance))).slice(0, 100));
  const text =
    chance.uniform() < 0.1
      ? String.fromCharCode(...Array.from({ length: 500 }, () => Math.floor(chance.uniform() * 256)))
      : (chance.uniform() < 0.5 ? [heading.join(separator), ...lines] : lines).join('\n');
  const body = chance.uniform() < 0.1 ? workbookOf(lines.map((line) => line.split(separator))) : text;
  return {
    kind: 'logs',
    path: `${pick(['/api/v1/compute/discharge', '/api/v1/runs'])}?${query}`,
    init: { method: 'POST', headers: { 'content-type': 'text/csv' }, body },
  };
}

/** As XLSX, now and then with a byte or its end gone. */
function workbookOf(rows: readonly string[][]): Uint8Array<ArrayBuffer> {
  // A cell in the last column that a sheet may have.
  const far = chance.uniform() < 0.3 ? '<c r="XFD1"><v>1</v></c>' : '';
  const cells = rows.map((row) => `<row>${row.map((cell) => `<c t="str"><v>${cell}</v></c>`).join('')}${far}</row>`);
  const bytes = zipSync({
    'xl/worksheets/sheet1.xml': strToU8(`<worksheet><sheetData>${cells.join('')}</sheetData></worksheet>`),
    'xl/workbook.xml': strToU8('<workbook xmlns:r="r"><sheets><sheet name="Log" r:id="r1"/></sheets></workbook>'),
    'xl/_rels/workbook.xml.rels': strToU8('<a><Relationship Id="r1" Target="worksheets/sheet1.xml"/></a>'),
  });
  if (chance.uniform() < 0.3) bytes[Math.floor(chance.uniform() * bytes.length)] = 0x3c;
  return new Uint8Array(chance.uniform() < 0.2 ? bytes.subarray(0, bytes.length >> 1) : bytes);
}

/** Another reading of a log that was stored here, or of none. */
function layout(firstRun: number): FuzzRequest {
  return {
    kind: 'readings again',
    path: `/api/v1/runs/${firstRun + Math.floor(chance.uniform() * 60)}/layouts`,
    init: {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: jsonOf(mutatedNowAndThen(valueOf(schemaOf(shapes.layoutRequest), chance))),
    },
  };
}

const addresses = [
  '/',
  '/intake',
  '/intake/*',
  '/intake/*/labels',
  '/instruments',
  '/instruments/check/*',
  '/api/v1/subjects',
  '/api/v1/runs/*',
  '/api/v1/runs/*/samples',
  '/api/v1/mappings',
  '/api/v1/holds',
  '/resistance',
  '/resistance/*',
  '/resistance/compare',
  '/resistance/predict',
  '/resistance/protocols',
  '/capacity',
  '/capacity/*',
  '/capacity/partial/*',
  '/capacity/resistor',
  '/intake/notebook',
  '/self-discharge',
  '/self-discharge/*',
  '/shelf',
  '/cells/*',
  '/builds',
  '/builds/new',
  '/builds/job',
  '/builds/*/labels',
  '/builds/repair/*',
  '/builds/*',
  '/clinic',
  '/clinic/*',
  '/upkeep',
  '/upkeep/*',
  '/upkeep/plan',
  '/upkeep/use',
  '/retire/*',
  '/handbook',
  '/handbook/*',
  '/calendar/*',
  '/api/v1/plan.ics',
  '/rules',
  '/truth',
  '/access',
  '/login',
  '/api/v1/health',
  '/api/v1/openapi.json',
  '/nothing/*',
  '/api/v1/nothing',
  '/_global-error',
];
const parameters = [
  'page',
  'q',
  'view',
  'sort',
  'chemistry',
  'cell',
  'at',
  'after',
  'edit',
  'note',
  'without',
  'all',
  'amps',
  'peak',
  'first',
  'second',
  'round',
  'of',
  'series',
  'parallel',
  'duty',
  'enoughAh',
  'to',
  'wait',
  'as',
  'fromS',
  'toS',
  'points',
  'goal',
  'volts',
  'label',
  'counted',
  'loadOhm',
  'wantedA',
  'wantedV',
  'wantedAh',
  'charger',
  'wrong',
];
const names = [
  '1',
  '3',
  'Z0001',
  'Z0001-001',
  'PF1',
  '0',
  '-1',
  '1.5',
  '1e10',
  '99999999999999',
  'valueOf',
  '__proto__',
  '%ff',
  '%00',
  '..',
  'x'.repeat(3000),
  '%F0%9F%94%8B',
  "';--",
];

function page(): FuzzRequest {
  const path = pick(addresses).replace('*', () => pick(names));
  const query = Array.from({ length: Math.floor(chance.uniform() * 4) }, () => {
    const value = chance.uniform() < 0.5 ? word(chance) : anyJunk(chance);
    return `${pick(parameters)}=${encodeURIComponent(lone(String(value)))}`;
  }).join('&');
  const headers: Record<string, string> =
    chance.uniform() < 0.2
      ? { rsc: '1', 'next-router-state-tree': lone(String(anyJunk(chance))).replace(/[^\x20-\x7e]/g, '') }
      : {};
  return { kind: 'pages', path: query ? `${path}?${query}` : path, init: { headers, redirect: 'manual' } };
}

/** Signing in and out, with any input. */
function signing(): FuzzRequest {
  const form = new URLSearchParams({
    passphrase: lone(String(anyJunk(chance))),
    to: pick([
      '/',
      '/shelf',
      '/shelf?q=Ω',
      '/\u0007',
      '//other.example',
      '/\\other.example',
      '\u0000',
      'x'.repeat(5000),
    ]),
  });
  return {
    kind: 'signing in and out',
    path: pick(['/login', '/logout']),
    init: {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      body: form.toString(),
      redirect: 'manual',
    },
  };
}

/** Half a surrogate cannot be written into an address. */
const lone = (text: string): string => text.replace(/[\ud800-\udfff]/g, '?');

const formFields = [
  'code',
  'name',
  'origin',
  'count',
  'maker',
  'chemistry',
  'chemistry',
  'ratedAh',
  'massG',
  'board',
  'asNewMilliohm',
  'kind',
  'channels',
  'certified',
  'voltStepMv',
  'voltPercent',
  'voltCounts',
  'gauge',
  'leadM',
  'wires',
  'batteries',
  'school',
  'method',
  'holdS',
  'batch',
  'protocol',
  'instrument',
  'loadOhm',
  'tolerancePercent',
  'ratingW',
  'temperatureC',
  'series',
  'parallel',
  'groups',
  'ratedCapacityAh',
  'balanceConnector',
  'labelWh',
  'labelV',
  'labelAh',
  'cycles',
  'servedMin',
  'codes',
  'uid',
  'pasted',
  'columns',
  'into',
  'protocol',
  'start',
  'charge',
  'limitPercent',
  'alarmS',
  'days',
  'newAh',
  'newMilliohm',
  'labelChargeA',
  'labelDischargeA',
  'connectorNow',
  'lowestPackV',
  'balanceChannels',
  'chargeA',
  'bleedA',
  'movePositions',
  'moveAh',
  'connector',
  'newOn',
  'price',
  'twins',
  'known',
  'size',
  'notes',
  'by',
  'id',
  'label',
  'check',
  'text',
  'build',
  'out',
  'in',
  'course',
  'due',
  'from',
  'to',
  'volts',
  'gate 0',
  'toWhom',
  'opens',
];

function formOf(): FormData {
  const form = new FormData();
  for (const field of formFields)
    if (chance.uniform() < 0.7) form.set(field, lone(String(chance.uniform() < 0.5 ? word(chance) : anyJunk(chance))));
  return form;
}

/** What an action may be given: a form, a line of a reading bar, a number, a text, or something else altogether. */
const argument = (): unknown =>
  pick<() => unknown>([
    formOf,
    () => valueOf(schemaOf(entryLine), chance),
    () => mutated(valueOf(schemaOf(entryLine), chance), chance),
    () => 1,
    () => crypto.randomUUID(),
    () => word(chance),
    () => anyJunk(chance),
  ])();

async function action(actions: readonly Action[]): Promise<FuzzRequest> {
  const { id, name } = pick(actions);
  const given =
    name.endsWith('Action') && chance.uniform() < 0.5
      ? [null, formOf()]
      : Array.from({ length: Math.floor(chance.uniform() * 4) }, argument);
  return {
    kind: 'actions of pages',
    path: pick(['/intake', '/shelf', '/rules', '/clinic']),
    init: await actionRequest(chance.uniform() < 0.95 ? id : 'junk', given),
  };
}

/** The next request: each kind with its share. */
async function next(actions: readonly Action[], firstRun: number): Promise<FuzzRequest> {
  const draw = chance.uniform();
  if (draw < 0.3) return question();
  if (draw < 0.38) return log();
  if (draw < 0.4) return layout(firstRun);
  if (draw < 0.68) return page();
  if (draw < 0.7) return signing();
  if (draw < 0.71) return { kind: 'pages that follow', path: '/api/v1/events' };
  return action(actions);
}

/** A fault of an action or of a part of a page: the answer is 200, and holds the digest of what was thrown. */
const threw = (text: string): boolean => /"digest":"(?!NEXT_)/.test(text);

/** A stream has no end: its first message will do, and then the page is closed. */
async function firstMessage(answer: Response): Promise<string> {
  let text = '';
  for await (const chunk of answer.body ?? []) {
    text += Buffer.from(chunk as Uint8Array).toString();
    if (text.includes('data:')) break;
  }
  return text;
}

async function main(): Promise<void> {
  await migrate();
  const pool = database();
  await fillShelf(pool, 1000);
  await scratchPack(pool, 'PF1');
  questions.push([`/resistance/${(await scratchPackRound(pool, 'told')).id}/readings`, lineOfRound]);
  const { rows: runs } = await pool.query<{ first: number }>('select coalesce(max(id), 0) + 1 as first from run');
  const firstRun = runs[0]?.first ?? 1;
  const server = await serve(process.env.DATABASE_URL ?? '');
  const actions = actionsOfBuild();
  const counts = new Map<string, number>();
  const statuses = new Map<string, number>();
  const faults: string[] = [];
  const memory: number[] = [];
  let slowest = { ms: 0, what: '' };
  let asked = 0;
  let resets = 0;
  const one = async (): Promise<void> => {
    const { kind, path, init } = await next(actions, firstRun);
    counts.set(kind, (counts.get(kind) ?? 0) + 1);
    const began = performance.now();
    try {
      const ask = () => fetch(server.url + path, { ...init, signal: AbortSignal.timeout(hangsAfterMs) });
      // An idle connection may be closed just as it is used again: what stores nothing is then asked once more.
      const answer = await ask().catch((error: unknown) => {
        if (!wasReset(error) || !path.startsWith('/api/v1/compute/')) throw error;
        resets += 1;
        return ask();
      });
      const text = await (path === '/api/v1/events' ? firstMessage(answer) : answer.text());
      const ms = performance.now() - began;
      if (ms > slowest.ms) slowest = { ms, what: `${kind} ${path.slice(0, 80)}` };
      const status = String(answer.status);
      statuses.set(status, (statuses.get(status) ?? 0) + 1);
      if (answer.status >= 500 || threw(text))
        faults.push(
          `${answer.status} ${kind} ${path.slice(0, 200)} ${JSON.stringify(init?.headers)} ` +
            `${typeof init?.body === 'string' ? init.body.slice(0, 400) : ''} → ${text.slice(0, 300)}`,
        );
    } catch (error) {
      const cause = error instanceof Error ? String(error.cause) : '';
      const body = typeof init?.body === 'string' ? init.body.slice(0, 2000) : '';
      faults.push(`no answer: ${kind} ${path.slice(0, 200)}: ${String(error)} ${cause} ${body}`);
    }
  };
  const worker = async (): Promise<void> => {
    while (asked < requests) {
      asked += 1;
      if (asked % Math.ceil(requests / 40) === 0) memory.push(server.memory());
      await one();
    }
  };
  const began = performance.now();
  await Promise.all(Array.from({ length: sideBySide }, worker));
  const seconds = (performance.now() - began) / 1000;
  const alive = await fetch(`${server.url}/api/v1/health`).then(
    (answer) => answer.ok,
    () => false,
  );
  await server.stop();
  await pool.end();
  const mean = (list: readonly number[]) => list.reduce((sum, bytes) => sum + bytes, 0) / list.length / 2 ** 20;
  const [second, last] = [mean(memory.slice(10, 20)), mean(memory.slice(-10))];
  const text = table([
    ...[...counts].sort(),
    ['requests in all', asked],
    ['seconds', seconds.toFixed(0)],
    ...[...statuses].sort().map(([status, count]): [string, number] => [`answered ${status}`, count]),
    ['answered with a fault of the server (5xx, or 200 with what was thrown), or not at all', faults.length],
    ['connections closed as they were used again, asked once more', resets],
    [`slower than ${slowMs / 1000} s`, slowest.ms > slowMs ? `yes: ${slowest.what}` : 'none'],
    ['slowest answer', `${slowest.ms.toFixed(0)} ms`],
    [
      'memory of the server, mean of the second and of the last quarter',
      `${second.toFixed(0)} and ${last.toFixed(0)} MB`,
    ],
    ['the server lives at the end', alive ? 'yes' : 'NO'],
  ]);
  console.log(text);
  for (const fault of faults.slice(0, 20)) console.error(fault);
  if (process.argv.includes('--keep'))
    keepSection(
      'Fuzzed requests',
      `${requests.toLocaleString('en')} requests from the schemas and by mutation, ${sideBySide} side by side, ` +
        `seeded.\n\n${text}`,
    );
  // The tests run a short round, which measures neither time nor memory.
  const isMeasured = requests >= 5000;
  if (faults.length > 0 || !alive || (isMeasured && (slowest.ms > slowMs || last > second * 1.3))) process.exitCode = 1;
}

void main();
