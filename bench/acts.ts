import { presetRules, ruleKeys, ruleShown } from '@/core/chemistry/houseRules';
import { scratchPack } from '@/records/scratchDatabase';
import { asItIsGates } from '@/words/retiring';
import type { Client, Pool } from 'pg';
import { actionRequest, actionsOfBuild } from './actions';

/** What a person does with a workshop, other than file readings, while its processes are killed. */
export const actKinds = ['undo', 'export', 'mend', 'retire', 'notebook', 'rules'] as const;
export type ActKind = (typeof actKinds)[number];

/** Acts of each kind on cells and packs of their own, and what was acknowledged of them. */
export interface Acts {
  /** Does one through a server; true once the server said that it is stored, false where that is not known. */
  act(kind: ActKind, server: string): Promise<boolean>;
  counts: Record<ActKind, number>;
  /** What is lost, doubled or only partly stored. */
  faults(db: Client): Promise<string[]>;
}

const formOf = (fields: Record<string, string>): FormData => {
  const form = new FormData();
  for (const [name, value] of Object.entries(fields)) form.set(name, value);
  return form;
};

/** This many packs wait to be retired. */
const mostRetired = 400;

/**
 * Makes the packs that are mended and retired.
 *
 * @param cells codes of free cells with a capacity; each is built in once
 * @param undone ids of readings that are undone, each once
 */
export async function prepareActs(pool: Pool, cells: string[], undone: () => string | undefined): Promise<Acts> {
  await scratchPack(pool, 'PM1');
  for (let n = 1; n <= mostRetired; n++) await scratchPack(pool, `PR${n}`);
  const ids = new Map(actionsOfBuild().map(({ id, name }) => [name, id]));
  const acknowledged: Record<ActKind, string[]> = {
    undo: [],
    export: [],
    mend: [],
    retire: [],
    notebook: [],
    rules: [],
  };
  let [retired, adopted] = [0, 0];

  /** True where the answer says that the action was done: it leads on, or holds no refusal. */
  const call = async (server: string, name: string, given: unknown[]): Promise<boolean> => {
    const answer = await fetch(`${server}/rules`, await actionRequest(ids.get(name) ?? '', given));
    const text = await answer.text();
    return answer.status === 303 || (answer.status === 200 && !/"ok":false|E\{"digest"/.test(text));
  };

  const does: Record<ActKind, (server: string) => Promise<[done: boolean, what: string]>> = {
    undo: async (server) => {
      const entry = undone();
      return entry === undefined ? [false, ''] : [await call(server, 'undoEntry', [entry]), entry];
    },
    export: async (server) => {
      const answer = await fetch(`${server}/api/v1/export`);
      const bytes = Buffer.from(await answer.arrayBuffer());
      // Whole or broken off: an archive that ends well ends with its directory.
      return [answer.status === 200, bytes.subarray(-22, -18).toString('latin1')];
    },
    mend: async (server) => {
      const putIn = cells.shift() ?? '';
      const mends = JSON.stringify([{ position: 1, takenOut: [], putIn: [putIn] }]);
      return [await call(server, 'mendAction', ['PM1', null, formOf({ mends })]), putIn];
    },
    retire: async (server) => {
      retired += 1;
      const code = `PR${retired}`;
      const gates = Object.fromEntries(asItIsGates.map((_, i) => [`gate ${i}`, 'on']));
      // Twice at once: the second finds it done.
      const both = await Promise.allSettled(
        [0, 1].map(() => call(server, 'asItIsAction', [code, null, formOf(gates)])),
      );
      return [both.some((one) => one.status === 'fulfilled' && one.value), code];
    },
    notebook: async (server) => {
      const uid = crypto.randomUUID();
      const rows = ['code\tremark', ...['011', '012', '013'].map((place) => `Z0001-${place}\t${uid}`)];
      const columns = JSON.stringify([
        { field: 'code', unit: null },
        { field: 'note', unit: null },
      ]);
      const fields = { uid, name: uid, pasted: rows.join('\n'), columns, into: 'here', protocol: '' };
      return [await call(server, 'bringNotebookAction', [null, formOf(fields)]), uid];
    },
    rules: async (server) => {
      adopted += 1;
      // Each version has a figure of its own.
      const limits = { ...presetRules('workshop'), rescueLimitH: 2 + adopted / 1000 };
      const fields = Object.fromEntries(ruleKeys.map((key) => [key, String(ruleShown(key, limits[key]))]));
      return [await call(server, 'adoptRulesAction', [null, formOf(fields)]), String(limits.rescueLimitH)];
    },
  };

  return {
    counts: new Proxy({} as Record<ActKind, number>, { get: (_, kind) => acknowledged[kind as ActKind].length }),
    act: async (kind, server) => {
      const [isDone, what] = await does[kind](server).catch((): [boolean, string] => [false, '']);
      if (isDone) acknowledged[kind].push(what);
      return isDone;
    },
    faults: (db) => faultsOf(db, acknowledged),
  };
}

async function faultsOf(db: Client, acknowledged: Record<ActKind, readonly string[]>): Promise<string[]> {
  const faults: string[] = [];
  const stored = async (text: string): Promise<Map<string, number>> => {
    const { rows } = await db.query<{ what: string; count: string }>(text);
    return new Map(rows.map(({ what, count }) => [what, Number(count)]));
  };
  /** Each acknowledged one is there, and each that is there is whole. */
  const look = async (kind: ActKind, whole: number, text: string): Promise<void> => {
    const there = await stored(text);
    for (const what of acknowledged[kind]) if (!there.has(what)) faults.push(`${kind} ${what} is lost`);
    for (const [what, count] of there)
      if (count !== whole) faults.push(`${kind} ${what} is stored ${count} times instead of ${whole}`);
  };
  await look('undo', 1, 'select uid::text as what, 1 as count from entry where voided_at is not null');
  await look(
    'mend',
    1,
    `select code as what, count(*)
     from mended cross join unnest(put_in) code
     left join subject using (code)
     left join build_cell on cell_id = subject.id and not released
     group by code`,
  );
  const unsaid = await stored(
    `select code as what, 1 as count from build_cell join subject on subject.id = cell_id
     where not exists (select from mended where code = any(put_in))`,
  );
  for (const cell of unsaid.keys()) faults.push(`mend ${cell} is in a build that nothing tells of`);
  await look(
    'retire',
    1,
    `select code as what, count(*) from retiring join entry_subject using (entry_id)
     join subject on subject.id = subject_id group by code`,
  );
  await look(
    'notebook',
    3,
    `select notebook.uid::text as what, count(note.entry_id) from notebook
     left join notebook_entry on notebook_id = notebook.id
     left join note using (entry_id)
     group by notebook.uid`,
  );
  await look('rules', 1, "select limits ->> 'rescueLimitH' as what, count(*) from house_rules group by 1");
  for (const end of acknowledged.export)
    if (end !== 'PK\u0005\u0006') faults.push('an export ended well and is not whole');
  return faults;
}
