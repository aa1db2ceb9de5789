import { lowestVoltageV, presetRules } from '@/core/chemistry/houseRules';
import { openCircuitOf } from '@/core/chemistry/openCircuit';
import { usualBalancing } from '@/core/packs/balancing';
import { refuseUnfit, type remediesAlone, type RemedyKind, usualDrainA, usualTopUpA } from '@/core/packs/remedies';
import { impossibleText, remedyCautions, remedySteps, setupOf, whyRecommended } from '@/words/remedies';
import { inBackground } from '@/workshop/pool';
import type { z } from 'zod';
import type { rebalanceRequest, rebalanceResponse } from './schemas';

const limitMs = 10_000;

/** Combined ways are not asked for here. */
const alone = (kind: RemedyKind) => kind as (typeof remediesAlone)[number];

/** What evens out a pack, by the table of its chemistry. Nothing is stored. */
export async function computeRemedies(
  { chemistry, groups, charger, topUpCurrentA, drainCurrentA, connector }: z.infer<typeof rebalanceRequest>,
  signal: AbortSignal,
): Promise<z.infer<typeof rebalanceResponse>> {
  refuseUnfit(
    chemistry,
    groups.map(({ restVoltageV }) => restVoltageV ?? null),
  );
  const curve = openCircuitOf(chemistry);
  const pack = {
    chemistry,
    curve: null,
    groups: groups.map(({ stateOfCharge, restVoltageV, capacityAh, resistanceOhm }) => ({
      soc:
        restVoltageV === undefined ? { value: stateOfCharge ?? 0, u: 0 } : curve.socAt({ value: restVoltageV, u: 0 }),
      capacityAh,
      resistanceOhm: resistanceOhm ?? null,
    })),
    connector: connector ?? ('balance' as const),
    floorV: lowestVoltageV(chemistry, presetRules('workshop')),
    charger: { ...usualBalancing(chemistry), ...charger, timerS: charger.timerS ?? null },
    topUpCurrentA: topUpCurrentA ?? usualTopUpA,
    drainCurrentA: drainCurrentA ?? usualDrainA,
    combined: false,
    bad: [],
  };
  const found = await inBackground('remedies', pack, { crew: 'asked', signal, limitMs });
  return {
    remedies: found.remedies.map((remedy) => ({
      kind: alone(remedy.kind),
      hours: remedy.hours,
      attendedHours: remedy.attendedHours,
      movedAh: remedy.movedAh,
      possible: remedy.impossible === null,
      why: remedy.impossible ? impossibleText(remedy.impossible) : '',
      highestGroupV: remedy.highestV,
      lowestGroupV: remedy.lowestV,
      lowestStateOfCharge: remedy.lowestSoc,
      timerEndsIt: remedy.timerChance > 0.5,
      steps: remedySteps(remedy, setupOf(pack)),
      cautions: remedyCautions(remedy, pack),
    })),
    recommended: found.recommended === null ? 'none' : alone(found.recommended),
    why: whyRecommended(found),
  };
}
