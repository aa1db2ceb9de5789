import type { HouseRules } from '../chemistry/houseRules';
import { type ServiceTime, serviceTime } from '../planning/serviceTime';
import type { JudgedPack } from './judgePack';

/** Nobody measured it: its label is good to this share (standard). From memory. */
const ratedU = 0.1;

/** For how long a pack serves at a current, by its present capacity and its weakest group. */
export const serviceTimeOf = (
  { chemistry, capacity, ratedCapacityAh, resistance }: JudgedPack,
  currentA: number,
  rules: HouseRules,
): ServiceTime =>
  serviceTime({
    chemistry,
    capacityAh: capacity ?? { value: ratedCapacityAh, u: ratedU * ratedCapacityAh },
    resistanceOhm: resistance,
    currentA,
    rules,
  });
