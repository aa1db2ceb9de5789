import { presetRules } from '@/core/chemistry/houseRules';
import { holdTest } from '@/core/hold/drift';
import { holdLimits, repeatedU } from '@/core/judging/judgeHold';
import { holdWhyText } from '@/words/hold';
import type { z } from 'zod';
import type { holdRequest, holdResponse } from './schemas';
import { told } from './told';

/** Judges a hold test: who drifts how fast, who falls out of the crowd. Nothing is stored. */
export function computeHold({
  chemistry,
  subjects,
  voltageUncertaintyV,
}: z.infer<typeof holdRequest>): z.infer<typeof holdResponse> {
  const results = holdTest(
    subjects.map(({ id, readings }) => ({
      id,
      readings: readings.map(({ at, voltageV }) => ({
        atS: new Date(at).getTime() / 1000,
        voltageV,
        u: voltageUncertaintyV ?? repeatedU,
      })),
    })),
    chemistry,
    holdLimits(presetRules('workshop')),
  );
  return {
    subjects: results.map(({ id, drift, outlier, verdict, why }) => ({
      id,
      driftVPerDay: drift?.value ?? null,
      standardUncertaintyVPerDay: drift?.u ?? null,
      outlier,
      verdict,
      why: holdWhyText(why),
      whyCode: why.code,
    })),
    warnings: told(voltageUncertaintyV === undefined ? [{ code: 'reading-uncertainty-assumed', uV: repeatedU }] : []),
  };
}
