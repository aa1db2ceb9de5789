import { ageingTrend, type AgedRun, atOneRate, type Crossing, type Trend } from '@/core/capacity/ageing';
import type { Warning } from '@/core/warning';
import type { z } from 'zod';
import type { ageingRequest, ageingResponse } from './schemas';
import { told } from './told';

const yearS = 365.25 * 86_400;
const dateOf = (atS: number): string => new Date(atS * 1000).toISOString();
/** Further beyond what was seen than this share of it, a trend is a guess. */
const farBeyond = 1;

type Told = z.infer<typeof ageingResponse>;

/** How a cell or pack ages, where it crosses 80 and 70 %, and what a cycle costs. Nothing is stored. */
export function computeAgeing({ asNewCapacityAh, runs, price }: z.infer<typeof ageingRequest>): Told {
  const all: AgedRun[] = runs.map(({ cycle, at, capacityAh, standardUncertaintyAh: u, rateC }) => ({
    cycle,
    atS: at === undefined ? undefined : new Date(at).getTime() / 1000,
    capacityAh,
    u,
    rateC,
  }));
  const compared = atOneRate(all);
  const asNewAh = asNewCapacityAh ?? compared[0]?.capacityAh ?? NaN;
  const overCycles = ageingTrend(compared, ({ cycle }) => cycle, asNewAh);
  const overTime = ageingTrend(compared, ({ atS }) => atS, asNewAh);
  const trend = overCycles ?? overTime;
  const lastAh = compared.at(-1)?.capacityAh ?? NaN;
  const lastCycle = compared.reduce<number | undefined>(
    (most, { cycle }) => Math.max(most ?? 0, cycle ?? 0),
    undefined,
  );
  const leaves = overCycles?.crossings.find(({ health }) => health === 0.7)?.at;
  return {
    healthNow: trend?.healthNow.value ?? lastAh / asNewAh,
    standardUncertaintyHealth: trend?.healthNow.u ?? null,
    trend: {
      ...(overCycles && { perCycle: overCycles.slope.value, standardUncertaintyPerCycle: overCycles.slope.u }),
      ...(overTime && {
        perYear: overTime.slope.value * yearS,
        standardUncertaintyPerYear: overTime.slope.u * yearS,
      }),
    },
    crossings: crossingsOf(overCycles, overTime),
    ...costOf(price, lastCycle, leaves),
    warnings: told(warningsOf(asNewCapacityAh === undefined, all.length - compared.length, trend)),
  };
}

/** In cycles where these are known, with the date beside; else in dates. */
function crossingsOf(overCycles: Trend | null, overTime: Trend | null): Told['crossings'] {
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

function costOf(
  price: number | undefined,
  cyclesSoFar: number | undefined,
  leaves: number | undefined,
): Pick<Told, 'costPerCycle' | 'costPerCycleSoFar'> {
  if (price === undefined) return {};
  return {
    ...(leaves !== undefined && leaves > 0 && { costPerCycle: price / leaves }),
    ...(cyclesSoFar !== undefined && cyclesSoFar > 0 && { costPerCycleSoFar: price / cyclesSoFar }),
  };
}

function warningsOf(firstIsNew: boolean, otherRates: number, trend: Trend | null): Warning[] {
  const warnings: Warning[] = [];
  if (firstIsNew) warnings.push({ code: 'first-run-taken-as-new' });
  if (otherRates > 0) warnings.push({ code: 'other-rates-left-out', count: otherRates });
  if (!trend) warnings.push({ code: 'no-trend' });
  else if (trend.crossings.length === 0) warnings.push({ code: 'no-fade-seen' });
  else if (trend.beyond > farBeyond) warnings.push({ code: 'far-beyond-seen', times: trend.beyond });
  return warnings;
}
