import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';

export interface Action {
  id: string;
  name: string;
}

/** The actions of the pages as the build knows them. */
export function actionsOfBuild(): Action[] {
  const manifest = JSON.parse(
    readFileSync(`${process.env.NEXT_DIST_DIR ?? '.next'}/server/server-reference-manifest.json`, 'utf8'),
  ) as { node: Record<string, { exportedName: string }> };
  return Object.entries(manifest.node).map(([id, { exportedName }]) => ({ id, name: exportedName }));
}

const { encodeReply } = createRequire(`${process.cwd()}/`)(
  'next/dist/compiled/react-server-dom-turbopack/client.node',
) as { encodeReply(value: unknown): Promise<string | FormData> };

/** A request for an action as a page sends it, with what it is given. */
export async function actionRequest(id: string, given: readonly unknown[]): Promise<RequestInit> {
  // A list, as the framework sends it: anything else it answers with a fault of its own, before the action is reached.
  const body = await encodeReply(given).catch(() => '[]');
  return {
    method: 'POST',
    headers: {
      'next-action': id,
      accept: 'text/x-component',
      ...(typeof body === 'string' ? { 'content-type': 'text/plain;charset=UTF-8' } : {}),
    },
    body,
    redirect: 'manual',
  };
}
