import type { StoredResistance } from '@/core/judging/facts';
import type { RoundReading } from './roundLine';

/** A stored reading in the form in which it was typed. */
export function rawReading({ facts, temperatureC }: StoredResistance): RoundReading {
  switch (facts.kind) {
    case 'load-step': {
      const { kind, openV, loadedV, afterV, currentA, step, loadedStep, afterStep, currentStep } = facts;
      return { kind, temperatureC, openV, loadedV, afterV, currentA, step, loadedStep, afterStep, currentStep };
    }
    case 'pulse':
      return { kind: 'pulse', temperatureC, runId: 0, atS: facts.edge?.atS ?? 0 };
    case 'resistance': {
      const { kind, resistanceOhm, step, openV, openStep } = facts;
      return { kind, temperatureC, resistanceOhm, step, openV, openStep };
    }
    case 'two-current':
      return { ...facts, temperatureC };
  }
}
