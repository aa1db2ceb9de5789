import type { StoredResistance } from '@/records/readings';
import type { RoundReading } from './entry';

/** A stored reading in the form in which it was typed. */
export function rawReading({ facts, temperatureC }: StoredResistance): RoundReading {
  switch (facts.kind) {
    case 'load-step': {
      const { kind, openV, loadedV, afterV, currentA, step, currentStep } = facts;
      return { kind, temperatureC, openV, loadedV, afterV, currentA, step, currentStep };
    }
    case 'pulse':
      return { kind: 'pulse', temperatureC, runId: 0, atS: facts.edge?.atS ?? 0 };
    case 'resistance': {
      const { kind, resistanceOhm, step, openV } = facts;
      return { kind, temperatureC, resistanceOhm, step, openV };
    }
    case 'two-current':
      return { ...facts, temperatureC };
  }
}
