import type { AgedRun, Crossing, Trend } from '@/core/capacity/ageing';
import { judgeAgeing } from '@/core/judging/judgeAgeing';
import type { z } from 'zod';
import type { ageingRequest, ageingResponse } from './schemas';
import { warningsAnswer } from './warningsAnswer';

const yearS = 365.25 * 86_400;
const dateOf = (atS: number): string => new Date(atS * 1000).toISOString();

type AgeingAnswer = z.infer<typeof ageingResponse>;

/** How a cell or pack ages, where it crosses 80 and 70 %, and what a cycle costs. Nothing is stored. */
export function computeAgeing({ asNewCapacityAh, runs, price }: z.infer<typeof ageingRequest>): AgeingAnswer {
  const all: AgedRun[] = runs.map(({ cycle, at, capacityAh, standardUncertaintyAh: u, rateC, temperatureC, endV }) => ({
    cycle,
    atS: at === undefined ? undefined : new Date(at).getTime() / 1000,
    capacityAh,
    u,
    rateC,
    temperatureC,
    endV,
  }));
  const asNew = asNewCapacityAh === undefined ? null : ({ capacityAh: asNewCapacityAh, is: 'measured' } as const);
  const { healthNow, overCycles, overTime, costSoFar, costUntilEnd, warnings } = judgeAgeing(all, asNew, price ?? null);
  return {
    healthNow: healthNow.value,
    standardUncertaintyHealth: (overCycles ?? overTime) ? healthNow.u : null,
    trend: {
      ...((overCycles ?? overTime) && { bend: (overCycles ?? overTime)?.bend }),
      ...(overCycles && { perCycle: overCycles.slope.value, standardUncertaintyPerCycle: overCycles.slope.u }),
      ...(overTime && {
        perYear: overTime.slope.value * yearS,
        standardUncertaintyPerYear: overTime.slope.u * yearS,
      }),
    },
    crossings: crossingsOf(overCycles, overTime),
    ...(costUntilEnd !== null && {
      costPerCycle: costUntilEnd.value,
      costPerCycle95: [costUntilEnd.from95, costUntilEnd.to95] as [number, number],
    }),
    ...(costSoFar !== null && { costPerCycleSoFar: costSoFar }),
    warnings: warningsAnswer(warnings),
  };
}

/** In cycles where these are known, with the date beside; else in dates. */
function crossingsOf(overCycles: Trend | null, overTime: Trend | null): AgeingAnswer['crossings'] {
  const dated = (health: number): Crossing | undefined => overTime?.crossings.find((one) => one.health === health);
  if (overCycles)
    return overCycles.crossings.map(({ health, at, from95, to95 }) => {
      const date = dated(health);
      return { health, cycle: at, ...(date && { at: dateOf(date.at) }), from95, to95 };
    });
  return (overTime?.crossings ?? []).map(({ health, at, from95, to95 }) => ({
    health,
    at: dateOf(at),
    from95: dateOf(from95),
    to95: to95 === null ? null : dateOf(to95),
  }));
}
