import type { Chance } from '@/core/statistics/random';

/**
 * A cell as it really is, for asking whether what the house says of it is true. It is no model of the house: three
 * relaxing branches, a resistance that grows towards empty, a curve of its own drawn by other formulas.
 */
export interface TrueCell {
  capacityAh: number;
  /** Open-circuit voltage at a state of charge, V; collapses below empty. */
  curve(soc: number): number;
  ohmicOhm: number;
  branches: readonly { ohm: number; tauS: number }[];
  /** By how much every resistance is larger when empty. */
  growth: number;
}

const between = (chance: Chance, least: number, most: number): number => least + (most - least) * chance.uniform();

/** Curves of three families with parameters drawn for each cell: layered oxide, iron phosphate, and a sloping one. */
function drawCurve(chance: Chance): (soc: number) => number {
  const kind = chance.uniform();
  const tailV = between(chance, 0.35, 0.6);
  const tail = between(chance, 0.025, 0.06);
  if (kind < 0.6) {
    const [base, slope, bend, at] = [
      between(chance, 3.38, 3.46),
      between(chance, 0.55, 0.72),
      between(chance, 0.02, 0.07),
      between(chance, 0.45, 0.65),
    ];
    return (s) => base + slope * s + bend * Math.tanh((s - at) / 0.1) - tailV * Math.exp(-s / tail);
  }
  if (kind < 0.8) {
    const [plateau, slope, top] = [
      between(chance, 3.26, 3.3),
      between(chance, 0.03, 0.06),
      between(chance, 0.05, 0.12),
    ];
    return (s) => plateau + slope * s + top * Math.exp((s - 1) / 0.02) - tailV * Math.exp(-s / tail);
  }
  const [low, span] = [between(chance, 3.35, 3.45), between(chance, 0.7, 0.8)];
  return (s) => low + span * Math.sign(s) * Math.abs(s) ** 1.2 - tailV * Math.exp(-s / tail);
}

export function drawCell(chance: Chance, branches = 3): TrueCell {
  const capacityAh = between(chance, 0.8, 3.4);
  // Small cells have more resistance by nature.
  const ohmicOhm = between(chance, 0.03, 0.1) / capacityAh;
  return {
    capacityAh,
    curve: drawCurve(chance),
    ohmicOhm,
    branches: [
      { ohm: ohmicOhm * between(chance, 0.15, 0.4), tauS: between(chance, 0.3, 1.5) },
      { ohm: ohmicOhm * between(chance, 0.15, 0.4), tauS: between(chance, 4, 20) },
      { ohm: ohmicOhm * between(chance, 0.1, 0.4), tauS: between(chance, 60, 400) },
    ].slice(branches === 1 ? 1 : 0, branches === 1 ? 2 : branches),
    growth: between(chance, 0.2, 1),
  };
}

export interface TrueState {
  soc: number;
  branchV: number[];
}

export const rested = (cell: TrueCell, soc: number): TrueState => ({ soc, branchV: cell.branches.map(() => 0) });

const grown = ({ growth }: TrueCell, soc: number): number => 1 + growth * Math.exp(-Math.max(0, soc) / 0.15);

export const voltageOf = (cell: TrueCell, { soc, branchV }: TrueState, currentA: number): number =>
  cell.curve(soc) - currentA * cell.ohmicOhm * grown(cell, soc) - branchV.reduce((sum, v) => sum + v, 0);

/** Moves the state on in place by a time short against the change of the current. */
export function moveOn(cell: TrueCell, state: TrueState, currentA: number, stepS: number): void {
  const more = grown(cell, state.soc);
  cell.branches.forEach(({ ohm, tauS }, i) => {
    const target = currentA * ohm * more;
    state.branchV[i] = target + ((state.branchV[i] as number) - target) * Math.exp(-stepS / tauS);
  });
  state.soc -= (currentA * stepS) / 3600 / cell.capacityAh;
}

/** What the answer to a step of one ampere is that long after it, Ω, the charge it costs aside. */
export const answerOhm = (cell: TrueCell, soc: number, afterS: number): number =>
  grown(cell, soc) *
  (cell.ohmicOhm + cell.branches.reduce((sum, { ohm, tauS }) => sum + ohm * (1 - Math.exp(-afterS / tauS)), 0));

/** A tool drawn from what its maker promises: gain and offset anywhere within the limits, noise, digits. */
export interface TrueTool {
  gain: number;
  offset: number;
  noise: number;
  digit: number;
}

export const drawTool = (
  chance: Chance,
  limits: { share: number; fixed: number },
  noise: number,
  digit: number,
): TrueTool => ({
  gain: 1 + between(chance, -limits.share, limits.share),
  offset: between(chance, -limits.fixed, limits.fixed),
  noise,
  digit,
});

export const shown = (value: number, { gain, offset, noise, digit }: TrueTool, chance: Chance): number =>
  Number((Math.round((value * gain + offset + (noise > 0 ? chance.normal(0, noise) : 0)) / digit) * digit).toFixed(6));

export { between };
