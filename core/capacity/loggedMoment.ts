/** A moment as logged: seconds from 1970 of the clock it was written by. */
export interface LoggedMoment {
  atS: number;
  /** With its zone; without one it is the clock on the wall where the log was taken. */
  isZoned: boolean;
}

/** The moment itself; a clock on the wall is taken for one in the zone of this machine. */
export function momentOf({ atS, isZoned }: LoggedMoment): Date {
  const wall = new Date(atS * 1000);
  return isZoned
    ? wall
    : new Date(
        wall.getUTCFullYear(),
        wall.getUTCMonth(),
        wall.getUTCDate(),
        wall.getUTCHours(),
        wall.getUTCMinutes(),
        wall.getUTCSeconds(),
        wall.getUTCMilliseconds(),
      );
}
