import { impossibleText } from '@/words/impossible';
import { ImpossibleInput } from '@/core/impossibleInput';
import { isDatabaseAway, isDiskFull, refusedBy, wasNothingStored } from '@/records/database';
import { Busy, TookTooLong } from '@/workshop/pool';
import { z } from 'zod';

/** A refusal with its HTTP status and a code that programs may rely on. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly issues: { path: string; message: string }[] = [],
    /** When to come back, s. */
    readonly againInS?: number,
  ) {
    super(message);
  }
}

export const errorSchema = z.object({
  error: z.object({
    code: z.string(),
    message: z.string(),
    issues: z.array(z.object({ path: z.string(), message: z.string() })),
  }),
});

function refusalOf(error: unknown): Refusal {
  if (error instanceof Refusal) return error;
  if (error instanceof z.ZodError) {
    const issues = error.issues.flatMap((issue) =>
      issue.code === 'unrecognized_keys'
        ? issue.keys.map((key) => ({ path: [...issue.path, key].join('.'), message: 'There is no such field.' }))
        : [{ path: issue.path.join('.'), message: issue.message }],
    );
    return new Refusal(
      400,
      'invalid',
      issues.map((issue) => (issue.path ? `${issue.path}: ${issue.message}` : issue.message)).join('; '),
      issues,
    );
  }
  if (error instanceof ImpossibleInput) {
    const message = impossibleText(error);
    return new Refusal(400, 'impossible', message, [{ path: error.field, message }]);
  }
  if (error instanceof Busy) return new Refusal(429, 'busy', error.message, [], error.againInS);
  if (error instanceof TookTooLong) return new Refusal(503, 'time-limit', error.message);
  // The second is the framework's own name for it.
  if (error instanceof Error && ['AbortError', 'ResponseAborted'].includes(error.name))
    return new Refusal(499, 'left', 'The client closed the connection.');
  if (error instanceof SyntaxError) return new Refusal(400, 'not-json', 'The body is not JSON.');
  const stored = wasNothingStored(error) ? 'nothing was stored' : 'whether it was stored is not known';
  if (isDiskFull(error))
    return new Refusal(507, 'disk-full', `The server's disk is full; ${stored}. Make room, then try again.`);
  if (isDatabaseAway(error)) {
    return new Refusal(503, 'database-away', `The database cannot be reached; ${stored}. Try again once it is back.`);
  }
  if (refusedBy(error))
    return new Refusal(
      400,
      'refused',
      'The records cannot keep this; nothing was stored. Look at each figure and text once more.',
    );
  console.error(error);
  return new Refusal(500, 'fault', `A fault of the server; ${stored}.`);
}

/** True where every number within is one. */
const isFinite = (value: unknown): boolean =>
  typeof value === 'number'
    ? Number.isFinite(value)
    : typeof value !== 'object' || value === null || Object.values(value).every(isFinite);

/** Answers with what `work` gives, or with the error shape of the API. Never a stack trace. */
export const respond = (work: () => Promise<unknown>, status = 200): Promise<Response> =>
  respondWith(async () => {
    const answer = await work();
    if (!isFinite(answer))
      throw new Refusal(
        400,
        'overflow',
        'These figures lead beyond what can be computed with; look at them once more.',
      );
    return Response.json(answer, { status });
  });

/** Answers as `work` does, or with the error shape of the API. */
export async function respondWith(work: () => Promise<Response>): Promise<Response> {
  try {
    return await work();
  } catch (error) {
    const refusal = refusalOf(error);
    return Response.json(
      { error: { code: refusal.code, message: refusal.message, issues: refusal.issues } },
      {
        status: refusal.status,
        headers: refusal.againInS === undefined ? {} : { 'Retry-After': String(refusal.againInS) },
      },
    );
  }
}
