import type { Chemistry } from '@/core/chemistry/chemistries';
import { judgeReading, type ResistanceFacts, type ResistanceResult } from '@/core/resistance/judgeReading';
import { trapsOf } from '@/core/resistance/traps';
import type { Warning } from '@/core/warning';
import type { Protocol } from '@/records/protocols';
import type { StoredResistance } from '@/records/readings';
import type { InstrumentBook } from '@/workshop/book';

/** What it takes to judge a stored resistance. */
export interface Bench {
  instruments: InstrumentBook;
  /** By id. */
  protocols: ReadonlyMap<number, Protocol>;
}

export interface JudgedResistance {
  /** Null for a confirmed reading that gives no resistance. */
  result: ResistanceResult | null;
  warnings: Warning[];
  /** Why it may neither be compared nor grade its cell, not taken as its protocol asks; null where it may. */
  leftOut: string | null;
}

/** A stored reading with what it shows, corrected, and the traps it may have stepped into. */
export function judgeStored(stored: StoredResistance, cell: { chemistry: Chemistry; board: boolean } | null, { instruments, protocols }: Bench): JudgedResistance {
  const { facts, method, takenAt, temperatureC, disturbedAt } = stored;
  const protocol = protocols.get(stored.protocolId);
  const result = judgeReading(facts, instruments.toolsOf(stored));
  const restedS = disturbedAt && (takenAt.getTime() - disturbedAt.getTime()) / 1000;
  const traps = trapsOf({ method, chemistry: cell?.chemistry ?? 'li-ion', openV: openV(facts), temperatureC, restedS, board: cell?.board ?? false }, protocol ?? anyWindow);
  return { result, warnings: [...(result?.warnings ?? []), ...traps.warnings], leftOut: traps.leftOut };
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
