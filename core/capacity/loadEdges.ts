import type { Sample } from './logReader';

/** One step of current found in a log, with the resistance it shows 1 s and 10 s later. */
export interface LoadEdge {
  atS: number;
  deltaCurrentA: number;
  resistanceOhm: { '1s'?: number; '10s'?: number };
}

const horizonsS = { '1s': 1, '10s': 10 } as const;
const mostEdges = 200;
/** A change of current counts from this size on, and from this share of the larger current. */
const leastStepA = 0.05;
const leastShare = 0.2;

/**
 * Finds steps of a measured current between neighbouring samples and reads R = −ΔV/ΔI at 1 s and 10 s after each, by
 * interpolation. A figure is left out where the current did not hold that long or the log is too coarse.
 * `currentA` must be positive on discharge. Source: common practice.
 */
export function createEdgeFinder() {
  const edges: LoadEdge[] = [];
  let open: { edge: LoadEdge; voltageBeforeV: number; currentA: number } | null = null;
  let previous: Sample | null = null;

  return {
    push(sample: Sample, currentA: number, previousCurrentA: number | null): void {
      if (previous && previousCurrentA !== null) {
        if (open && Math.abs(currentA - open.currentA) > leastShare * Math.abs(open.edge.deltaCurrentA)) open = null;
        if (open) readHorizons(open, previous, sample);
        const delta = currentA - previousCurrentA;
        const isStep = Math.abs(delta) > leastStepA && Math.abs(delta) > leastShare * Math.max(Math.abs(currentA), Math.abs(previousCurrentA));
        if (isStep && sample.timeS - previous.timeS <= 2 && edges.length < mostEdges) {
          const edge: LoadEdge = { atS: sample.timeS, deltaCurrentA: delta, resistanceOhm: {} };
          edges.push(edge);
          open = { edge, voltageBeforeV: previous.voltageV, currentA };
        }
      }
      previous = sample;
    },
    edges: () => edges,
  };
}

function readHorizons(open: { edge: LoadEdge; voltageBeforeV: number }, before: Sample, after: Sample): void {
  for (const [name, horizonS] of Object.entries(horizonsS) as [keyof typeof horizonsS, number][]) {
    const at = open.edge.atS + horizonS;
    if (open.edge.resistanceOhm[name] !== undefined || after.timeS < at || before.timeS > at) continue;
    const share = (at - before.timeS) / (after.timeS - before.timeS);
    const voltageV = before.voltageV + share * (after.voltageV - before.voltageV);
    open.edge.resistanceOhm[name] = (open.voltageBeforeV - voltageV) / open.edge.deltaCurrentA;
  }
}
