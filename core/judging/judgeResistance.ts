import type { Protocol, StoredResistance } from './facts';
import type { Chemistry } from '@/core/chemistry/chemistries';
import { judgeReading, type ResistanceFacts, type ResistanceResult } from '@/core/resistance/judgeReading';
import { repeatsOf, taughtNoise } from '@/core/resistance/repeats';
import { trapsOf } from '@/core/resistance/traps';
import type { Warning } from '@/core/warning';
import type { InstrumentBook } from './instrumentBook';

/** What it takes to judge a stored resistance. */
export interface Equipment {
  instruments: InstrumentBook;
  /** By id. */
  protocols: ReadonlyMap<number, Protocol>;
}

export interface JudgedResistance {
  /** Null for a confirmed reading that gives no resistance. */
  result: ResistanceResult | null;
  warnings: Warning[];
  /** Why it may neither be compared nor grade its cell, not taken as its protocol asks; null where it may. */
  leftOut: Warning | null;
}

/** The cell that was read; null where it is not known. */
type JudgedFor = { chemistry: Chemistry; board: boolean } | null;

/** A stored reading with what it shows, corrected, and the traps it may have stepped into. */
export function judgeResistance(
  stored: StoredResistance,
  cell: JudgedFor,
  { instruments, protocols }: Equipment,
  noiseOhm: number | null = null,
): JudgedResistance {
  const { facts, method, takenAt, temperatureC, disturbedAt } = stored;
  const protocol = protocols.get(stored.protocolId);
  const result = eachOf(
    stored.together,
    judgeReading(facts, instruments.toolsOf(stored), noiseOhm === null ? null : noiseOhm / stored.together),
  );
  const restedS = disturbedAt && (takenAt.getTime() - disturbedAt.getTime()) / 1000;
  const traps = trapsOf(
    {
      method,
      chemistry: cell?.chemistry ?? 'li-ion',
      openV: openV(facts),
      temperatureC,
      restedS,
      board: cell?.board ?? false,
    },
    protocol ?? anyWindow,
  );
  return { result, warnings: [...(result?.warnings ?? []), ...traps.warnings], leftOut: traps.leftOut };
}

/**
 * What a reading of welded cells shows of each: in parallel they have a share of the resistance that one has, taken as
 * alike.
 */
function eachOf(together: number, result: ResistanceResult | null): ResistanceResult | null {
  if (result === null || together === 1) return result;
  const { resistance, budget, randomU, ...rest } = result;
  return {
    ...rest,
    resistance: { value: together * resistance.value, u: together * resistance.u },
    budget: budget.map((share) => ({ ...share, u: together * share.u })),
    randomU: together * randomU,
  };
}

/**
 * The stored readings of one cell, newest first: within a round, pressing again teaches the noise of its readings,
 * unless the presses differ by more than a contact should.
 */
export function judgePresses(
  presses: readonly StoredResistance[],
  cell: JudgedFor,
  equipment: Equipment,
): JudgedResistance[] {
  const judged = presses.map((one) => judgeResistance(one, cell, equipment));
  const byRound = new Map<number, JudgedResistance[]>();
  presses.forEach(({ roundId }, i) =>
    byRound.set(roundId, [...(byRound.get(roundId) ?? []), judged[i] as JudgedResistance]),
  );
  const noiseOf = (roundId: number): number | null => {
    const own = (byRound.get(roundId) ?? []).flatMap(({ result, leftOut }) =>
      result && leftOut === null ? [result] : [],
    );
    const values = own.map(({ resistance }) => resistance.value);
    return own[0] && !repeatsOf(values, own[0].randomU)?.differ ? taughtNoise(values) : null;
  };
  return presses.map((one, i) => {
    const noiseOhm = noiseOf(one.roundId);
    return noiseOhm === null ? (judged[i] as JudgedResistance) : judgeResistance(one, cell, equipment, noiseOhm);
  });
}

const anyWindow = { charge: null, temperature: null, restS: 0 };

function openV(facts: ResistanceFacts): number | null {
  switch (facts.kind) {
    case 'load-step':
    case 'resistance':
      return facts.openV;
    case 'pulse':
      return facts.edge?.fromV ?? null;
    case 'two-current':
      return null;
  }
}
