import { type OpenCircuitCurve, openCircuitCurve } from '@/core/chemistry/openCircuit';

/** A curve as plain data, so that a browser can read charge by it. */
export interface CurvePoints {
  points: [soc: number, voltageV: number][];
  doubtV: number;
  source: OpenCircuitCurve['source'];
}

const steps = 80;

export const curvePoints = ({ voltageAt, doubtV, source }: OpenCircuitCurve): CurvePoints => ({
  points: Array.from({ length: steps + 1 }, (_, i) => [i / steps, voltageAt(i / steps)]),
  doubtV,
  source,
});

export const curveThrough = ({ points, doubtV, source }: CurvePoints): OpenCircuitCurve =>
  openCircuitCurve(points, doubtV, source);
