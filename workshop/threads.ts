import { type Impossible, ImpossibleInput } from '@/core/impossibleInput';

/** Samples live for a moment only: where they have more room, fewer are taken for lasting ones. */
export const threadLimits = { maxYoungGenerationSizeMb: 64 };

/** What goes with an error to another thread: what it refused, and what the database said. */
interface PassedError {
  name: string;
  message: string;
  field?: string;
  why?: Impossible;
  code?: string;
  constraint?: string;
  isNothingStored?: boolean;
}

/** What work on another thread gives back: errors lose their kind and fields on the way, so they come as facts. */
export type Outcome<T> = { ok: true; value: T } | { ok: false; error: PassedError };

/** Makes work report its errors as facts. */
export const settled =
  <Given, Result>(work: (given: Given) => Promise<Result>) =>
  async (given: Given): Promise<Outcome<Result>> => {
    try {
      return { ok: true, value: await work(given) };
    } catch (error) {
      const { name, message, field, why, code, constraint, isNothingStored } = error as PassedError;
      const facts = { field, why, code, constraint, isNothingStored };
      const known = Object.fromEntries(Object.entries(facts).filter(([, value]) => value !== undefined));
      return { ok: false, error: { name, message, ...known } };
    }
  };

/** @throws what the work threw */
export function revived<T>(outcome: Outcome<T>): T {
  if (outcome.ok) return outcome.value;
  const { error } = outcome;
  if (error.why) throw new ImpossibleInput(error.field ?? '', error.why);
  throw Object.assign(new Error(error.message), error);
}
