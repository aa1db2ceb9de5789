import type { HouseRules } from '../chemistry/houseRules';
import { type ServiceTime, serviceTime } from '../planning/serviceTime';
import type { JudgedPack } from './judgePack';
import { knownCapacity } from './knownCapacity';

/** For how long a pack serves at a current, by its present capacity and its weakest group. */
export const serviceTimeOf = (pack: JudgedPack, currentA: number, rules: HouseRules): ServiceTime =>
  serviceTime({
    chemistry: pack.chemistry,
    capacityAh: knownCapacity(pack),
    resistanceOhm: pack.resistance,
    currentA,
    rules,
  });
