/** How much charge lies at a voltage: dQ/dV. */
export interface IncrementalPoint {
  voltageV: number;
  ahPerV: number;
}

/**
 * Incremental capacity: the charge that flowed while the voltage crossed each bin of `widthV`, over that width, then
 * the mean of each bin and its neighbours. The charge between two points is spread evenly over the voltages between
 * them; where the voltage turned back it counts as having flowed there as well, so that the area is the whole charge.
 * Source: common practice.
 *
 * @param points in the order of time
 * @param widthV of a bin, V
 * @param smoothed this many bins to either side are averaged
 */
export function incrementalCapacity(
  points: readonly { chargeAh: number; voltageV: number }[],
  widthV: number,
  smoothed = 1,
): IncrementalPoint[] {
  if (points.length < 2) return [];
  const volts = points.map(({ voltageV }) => voltageV);
  const lowestBin = Math.floor(Math.min(...volts) / widthV);
  const bins = new Array<number>(Math.floor(Math.max(...volts) / widthV) - lowestBin + 1).fill(0);
  points.slice(1).forEach((to, i) => {
    const from = points[i] as (typeof points)[number];
    const ah = to.chargeAh - from.chargeAh;
    const [low, high] = [Math.min(from.voltageV, to.voltageV), Math.max(from.voltageV, to.voltageV)];
    const [first, last] = [Math.floor(low / widthV), Math.floor(high / widthV)];
    for (let bin = first; bin <= last; bin++) {
      const fraction =
        first === last ? 1 : (Math.min(high, (bin + 1) * widthV) - Math.max(low, bin * widthV)) / (high - low);
      bins[bin - lowestBin] = (bins[bin - lowestBin] ?? 0) + ah * fraction;
    }
  });
  return bins.map((_, i) => {
    const around = bins.slice(Math.max(0, i - smoothed), i + smoothed + 1);
    return {
      voltageV: (lowestBin + i + 0.5) * widthV,
      ahPerV: around.reduce((a, b) => a + b, 0) / (2 * smoothed + 1) / widthV,
    };
  });
}
