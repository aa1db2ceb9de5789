import type { Chemistry } from '@/core/chemistry/chemistries';
import { presetRules } from '@/core/chemistry/houseRules';
import { openCircuitOf } from '@/core/chemistry/openCircuit';
import { selfDischargeTest } from '@/core/selfDischarge/drift';
import { selfDischarge } from '@/core/selfDischarge/selfDischarge';
import { selfDischargeLimits, repeatedU } from '@/core/judging/judgeSelfDischarge';
import { exact, type Quantity } from '@/core/quantity/quantity';
import { selfDischargeWhyText } from '@/words/selfDischarge';
import { mean } from 'simple-statistics';
import type { z } from 'zod';
import type { selfDischargeRequest, selfDischargeResponse } from './schemas';
import { warningsAnswer } from './warningsAnswer';

/** The self-discharge current of a drift, where the capacity is given. */
function lostWithin(
  drift: Quantity | null,
  chemistry: Chemistry,
  subject: z.infer<typeof selfDischargeRequest>['subjects'][number] | undefined,
): { selfDischargeA?: number; standardUncertaintySelfDischargeA?: number } {
  if (!drift || !subject?.ratedCapacityAh || chemistry === 'alkaline') return {};
  const lost = selfDischarge({
    chemistry,
    drift,
    voltageV: mean(subject.readings.map(({ voltageV }) => voltageV)),
    capacityAh: exact(subject.ratedCapacityAh),
    curve: openCircuitOf(chemistry),
  });
  return lost ? { selfDischargeA: lost.value, standardUncertaintySelfDischargeA: lost.u } : {};
}

/** Judges a self-discharge test: who drifts how fast, which are outliers. Nothing is stored. */
export function computeSelfDischarge({
  chemistry,
  subjects,
  voltageUncertaintyV,
}: z.infer<typeof selfDischargeRequest>): z.infer<typeof selfDischargeResponse> {
  const results = selfDischargeTest(
    subjects.map(({ id, readings, chargedAt }) => ({
      id,
      chargedAtS: chargedAt === undefined ? null : new Date(chargedAt).getTime() / 1000,
      readings: readings.map(({ at, voltageV }) => ({
        atS: new Date(at).getTime() / 1000,
        voltageV,
        u: voltageUncertaintyV ?? repeatedU,
      })),
    })),
    chemistry,
    selfDischargeLimits(presetRules('workshop')),
  );
  return {
    subjects: results.map(({ id, drift, outlier, verdict, why }, i) => ({
      id,
      ...lostWithin(drift, chemistry, subjects[i]),
      driftVPerDay: drift?.value ?? null,
      standardUncertaintyVPerDay: drift?.u ?? null,
      outlier,
      verdict,
      why: selfDischargeWhyText(why),
      whyCode: why.code,
    })),
    warnings: warningsAnswer(
      voltageUncertaintyV === undefined ? [{ code: 'reading-uncertainty-assumed', uV: repeatedU }] : [],
    ),
  };
}
