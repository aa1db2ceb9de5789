import 'server-only';
import type { ChargerLimits } from '@/core/planning/sheet';
import type { Workshop } from './judged';

/** A charger that is at hand. */
export interface ChargerHere {
  code: string;
  name: string;
  limits: ChargerLimits;
}

/** Where it is not noted what a charger can do: a small one of the trade. From memory. */
const plainCharger: ChargerHere = {
  code: 'small',
  name: 'a small one, 5 A and 50 W',
  limits: { maxA: 5, maxW: 50, dischargeMaxW: 5, stepA: 0.1, bleedA: 0.1 },
};

/** The chargers of the workshop, those for sheets, remedies and plans alike; a usual one where none is noted. */
export function chargersHere({ instruments }: Workshop): [ChargerHere, ...ChargerHere[]] {
  const [first, ...others] = instruments.all.flatMap(({ code, name, charging, archivedAt }): ChargerHere[] => {
    if (!charging || archivedAt !== null) return [];
    return [{ code, name, limits: charging }];
  });
  return first ? [first, ...others] : [plainCharger];
}
