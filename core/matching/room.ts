/** A round cell, mm. */
export interface CellSize {
  diameterMm: number;
  lengthMm: number;
}

/** Usual names of round cells, mm. Source: IEC 60086-2, from memory. */
const named: Record<string, CellSize> = {
  AAA: { diameterMm: 10.5, lengthMm: 44.5 },
  AA: { diameterMm: 14.5, lengthMm: 50.5 },
  C: { diameterMm: 26.2, lengthMm: 50 },
  D: { diameterMm: 34.2, lengthMm: 61.5 },
};

/** Sleeves, glue and what a cell is over its size, mm. Own rule. */
const aroundMm = 0.6;
/** Tabs and insulation at both ends of a layer of cells, mm. Own rule. */
const endsMm = 2;
/** Insulation along every wall, mm. Own rule. */
const wallMm = 1;

/**
 * How large a round cell of that name is: two digits of its diameter in mm, then its length in tenths of one; null of
 * any other name. Source: IEC 61960-3, from memory.
 */
export function sizeOf(name: string): CellSize | null {
  const usual = named[name.trim().toUpperCase()];
  if (usual) return usual;
  const [, diameter, length] = /^\s*(\d{2})(\d{3})\b/.exec(name) ?? [];
  return diameter && length ? { diameterMm: Number(diameter), lengthMm: Number(length) / 10 } : null;
}

/**
 * How many cells lie in a box: standing along any of its sides, in rows side by side or set off by half a cell, in as
 * many layers as there is room for, with sleeves, tabs and insulation. Source: own rule.
 *
 * @param sidesMm of the box within, in any order
 */
export function cellsIn(sidesMm: readonly [number, number, number], { diameterMm, lengthMm }: CellSize): number {
  const [a, b, c] = sidesMm.map((side) => Math.max(0, side - 2 * wallMm)) as [number, number, number];
  const pitchMm = diameterMm + aroundMm;
  const stood = (widthMm: number, depthMm: number, heightMm: number): number =>
    Math.floor(heightMm / (lengthMm + endsMm)) *
    Math.max(inRows(widthMm, depthMm, pitchMm), setOff(widthMm, depthMm, pitchMm), setOff(depthMm, widthMm, pitchMm));
  return Math.max(stood(a, b, c), stood(a, c, b), stood(b, c, a));
}

const inRows = (widthMm: number, depthMm: number, pitchMm: number): number =>
  Math.floor(widthMm / pitchMm) * Math.floor(depthMm / pitchMm);

/** Every second row lies in the gaps of the one before. */
function setOff(widthMm: number, depthMm: number, pitchMm: number): number {
  if (depthMm < pitchMm) return 0;
  const rows = Math.floor((depthMm - pitchMm) / (pitchMm * Math.sqrt(0.75))) + 1;
  const [even, odd] = [Math.floor(widthMm / pitchMm), Math.floor(Math.max(0, widthMm - pitchMm / 2) / pitchMm)];
  return Math.ceil(rows / 2) * even + Math.floor(rows / 2) * odd;
}
