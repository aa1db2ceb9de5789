import type { RunCell } from './packState';

/** Straight lines that replace a curve. */
const lines = 200;

/**
 * A pack under a steady current as a circuit for ngspice, for the simulation to be compared with: each cell a capacitor
 * that counts its charge, a source that follows its curve, an ohmic part and its branches. The voltages of the groups
 * go to out.txt, every `everyS` seconds until `untilS`.
 */
export function packCircuit(
  groups: readonly (readonly RunCell[])[],
  currentA: number,
  { untilS, everyS }: { untilS: number; everyS: number },
): string {
  const top = groups.length;
  const nodeOf = (g: number): string => (g === 0 ? '0' : `p${g}`);
  const cells = groups.flatMap((group, g) =>
    group.map((cell, k) => cellLines(cell, `${g}x${k}`, nodeOf(g), `p${g + 1}`)),
  );
  const read = groups.map((_, g) => `v(g${g})`).join(' ');
  return [
    'cells in parallel groups in series',
    ...cells.flat(),
    ...groups.map((_, g) => `Bgroup${g} g${g} 0 V = V(p${g + 1}) - V(${nodeOf(g)})`),
    `Iload p${top} 0 DC ${currentA}`,
    '.options reltol=1e-5 abstol=1e-7 vntol=1e-7 method=gear',
    `.tran ${everyS} ${untilS} 0 ${everyS} UIC`,
    '.control',
    'run',
    `linearize ${read}`,
    `wrdata out.txt ${read}`,
    '.endc',
    '.end',
    '',
  ].join('\n');
}

function cellLines({ curve, capacityAh, soc, ohmicOhm, branches }: RunCell, name: string, low: string, high: string) {
  const points = Array.from({ length: lines + 1 }, (_, i) => `${i / lines},${curve.voltageAt(i / lines).toFixed(6)}`);
  return [
    `Bcount${name} s${name} 0 I = I(Vsense${name}) / ${3600 * capacityAh}`,
    `Ccount${name} s${name} 0 1 IC=${soc}`,
    `Bopen${name} e${name} ${low} V = pwl(V(s${name}), ${points.join(', ')})`,
    `Vsense${name} e${name} b${name}x0 0`,
    ...branches.flatMap(({ resistanceOhm, timeConstantS }, b) => [
      `R${name}x${b} b${name}x${b} b${name}x${b + 1} ${resistanceOhm}`,
      `C${name}x${b} b${name}x${b} b${name}x${b + 1} ${timeConstantS / resistanceOhm} IC=0`,
    ]),
    `Rohmic${name} b${name}x${branches.length} ${high} ${ohmicOhm}`,
  ];
}

/** What ngspice wrote: of each time the voltages of the groups. */
export function readCircuit(text: string, groups: number): { atS: number; groupsV: number[] }[] {
  return text
    .trim()
    .split('\n')
    .map((line) => line.trim().split(/\s+/).map(Number))
    .map((row) => ({ atS: row[0] ?? NaN, groupsV: Array.from({ length: groups }, (_, g) => row[2 * g + 1] ?? NaN) }));
}
