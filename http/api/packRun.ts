import { exact } from '@/core/quantity/quantity';
import { cycleDrift } from '@/core/simulation/cycleDrift';
import { runWarnings } from '@/core/simulation/plainRun';
import type { Warning } from '@/core/warning';
import { inBackground } from '@/workshop/pool';
import type { z } from 'zod';
import { warningsAnswer } from './warningsAnswer';
import type { packRunRequest, packRunResponse } from './schemas';

const limitMs = 10_000;

/** How a pack behaves under a load, by the table of its chemistry. Nothing is stored. */
export async function computePackRun(
  { chemistry, groups, load, cutoffPerGroupV, stepS, cycles }: z.infer<typeof packRunRequest>,
  signal: AbortSignal,
): Promise<z.infer<typeof packRunResponse>> {
  const plain = groups.map((group) =>
    group.map(({ capacityAh, stateOfCharge: soc = 1, resistanceOhm, ohmicOhm, branches }) =>
      ohmicOhm !== undefined && branches !== undefined
        ? { capacityAh, soc, ohmicOhm, branches }
        : { capacityAh, soc, resistanceOhm: resistanceOhm ?? NaN },
    ),
  );
  const run = await inBackground(
    'packRun',
    { chemistry, curve: null, groups: plain, load, cutoffPerGroupV, stepS },
    { crew: 'asked', signal, limitMs },
  );
  const assumed: Warning[] = [];
  if (groups.flat().some(({ stateOfCharge }) => stateOfCharge === undefined)) assumed.push({ code: 'taken-as-full' });
  if (groups.flat().some(({ branches }) => branches === undefined)) assumed.push({ code: 'ten-seconds-split' });
  const { course, soc, ...figures } = run;
  return {
    ...figures,
    ...(cycles && { drift: driftOf(groups, cycles) }),
    groupVoltagesV: { atS: course.atS, byGroup: course.groupsV },
    stateOfChargeLeft: soc,
    warnings: warningsAnswer([...runWarnings(run), ...assumed]),
  };
}

type PackRunRequest = z.infer<typeof packRunRequest>;

function driftOf(
  groups: PackRunRequest['groups'],
  { count, daysPerCycle }: NonNullable<PackRunRequest['cycles']>,
): z.infer<typeof packRunResponse>['drift'] {
  const known = groups.map((group) =>
    group.map(({ capacityAh, selfDischargeA }) => ({
      capacityAh,
      leak: selfDischargeA === undefined ? null : { currentA: exact(selfDischargeA), ownU: 0 },
    })),
  );
  const drift = cycleDrift({ groups: known, cycles: count, daysPerCycle });
  return drift && { byGroup: drift.byGroup.map(({ value }) => value), bledAh: drift.bledAh.value };
}
