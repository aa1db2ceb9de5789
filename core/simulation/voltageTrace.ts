/** Voltages of all groups over time. */
export interface VoltageTrace {
  atS: number[];
  /** By group from the negative terminal, V. */
  groupsV: number[][];
}

/** A course is thinned to no more moments than this. */
const mostMoments = 600;

/** Moments of a course, every second one dropped whenever they become too many. */
export class Thinned {
  private every = 1;
  private seen = 0;
  private readonly atS: number[] = [];
  private readonly groupsV: number[][];

  constructor(groups: number) {
    this.groupsV = Array.from({ length: groups }, () => []);
  }

  push(t: number, volts: Float64Array): void {
    const isWanted = this.seen % this.every === 0;
    this.seen += 1;
    if (!isWanted) return;
    this.atS.push(t);
    this.groupsV.forEach((list, i) => list.push(volts[i] as number));
    if (this.atS.length <= mostMoments) return;
    this.every *= 2;
    for (const list of [this.atS, ...this.groupsV]) {
      list.forEach((value, k) => {
        if (k % 2 === 0) list[k / 2] = value;
      });
      list.length = Math.ceil(list.length / 2);
    }
  }

  done(): VoltageTrace {
    return { atS: this.atS, groupsV: this.groupsV };
  }
}
