import { type Chemistry, chemistries } from '@/core/chemistry/chemistries';
import { duties } from '@/core/grading/duty';
import type { PlainCurve, Rechargeable } from '@/core/chemistry/openCircuit';
import type { MatchCell } from '@/core/matching/match';
import type { Spare } from '@/core/matching/repair';
import { selfDischarge } from '@/core/selfDischarge/selfDischarge';
import { type Leak, leakOf } from '@/core/simulation/cycleDrift';
import type { KnownCell } from '@/core/simulation/predictRun';
import type { CurveBook } from './curveBook';
import { modelName, mostPlentiful } from './models';
import type { JudgedCell } from './judgeCell';
import type { JudgedPack } from './judgePack';

/** What a pack must be, and which cells may be in it. */
export interface PackNeed {
  series: number;
  parallel: number;
  model: string;
  /** Only cells of this duty or better. */
  duty: 'surge' | 'steady' | 'light';
  enoughAh: number | null;
  /** Codes of cells that must not be in it. */
  without: string[];
  /** Codes of cells that must be in it. */
  pins: string[];
  /** The load, its time, and the voltage per group at which it ends, V; null where not given. */
  load: { currentA: number } | { powerW: number } | null;
  minutes: number | null;
  lowestV: number | null;
}

/** Graded cells that no build holds yet and that are safe to use; not those of which only a least capacity is known. */
export const free = (cells: readonly JudgedCell[]): JudgedCell[] =>
  cells.filter(
    (cell) =>
      cell.waits === 'shelf' &&
      cell.duty.duty !== 'retire' &&
      cell.capacity !== null &&
      !cell.capacityIsAtLeast &&
      cell.resistance !== null,
  );

/** Models with free cells, the most plentiful first. */
const modelsOf = (cells: readonly JudgedCell[]): { name: string; count: number }[] =>
  mostPlentiful(cells.map(modelName));

/** What is known of each of these cells, by code, with its uncertainty. */
export const measuredOf = (
  cells: readonly JudgedCell[],
  codes: readonly string[],
  curves: CurveBook,
): Record<string, KnownCell> => {
  const wanted = new Set(codes);
  return Object.fromEntries(
    cells.flatMap((cell) => {
      const { code, capacity, resistance } = cell;
      const isKnown = wanted.has(code) && capacity !== null && resistance !== null;
      return isKnown ? [[code, { capacity, resistance, leak: leakWithin(cell, curves) }]] : [];
    }),
  );
};

/** The open-circuit curve that all of these cells have; null where they have several. */
export function sharedCurve(
  cells: readonly JudgedCell[],
  codes: readonly string[],
  curves: CurveBook,
): PlainCurve | null {
  const wanted = new Set(codes);
  const [curve = null, ...others] = new Set(
    cells.filter(({ code }) => wanted.has(code)).map((cell) => curves.of(cell)?.plain ?? null),
  );
  return others.length === 0 ? curve : null;
}

/** What a cell loses within, by its self-discharge test; null without a result. */
function leakWithin(cell: JudgedCell, curves: CurveBook): Leak | null {
  const { chemistry, held, capacity } = cell;
  const curve = curves.of(cell);
  if (!held?.drift || held.aboutV === null || !capacity || !curve) return null;
  const lost = selfDischarge({ chemistry, drift: held.drift, voltageV: held.aboutV, capacityAh: capacity, curve });
  return lost && leakOf(lost);
}

/** What a need has in the place of a model where groups may be of different ones. */
export const anyModel = (chemistry: Chemistry): string => `any model, ${chemistries[chemistry].name}`;

const isOf = (cell: JudgedCell, model: string): boolean =>
  modelName(cell) === model || anyModel(cell.chemistry) === model;

/** What may be asked for: a model, or any of a chemistry that has several where this many may be in a pack. */
export function choicesOf(cells: readonly JudgedCell[], modelsInPack: number): { name: string; count: number }[] {
  const several = mostPlentiful(cells.map(({ chemistry }) => anyModel(chemistry))).filter(
    ({ name }) => new Set(cells.filter((cell) => isOf(cell, name)).map(modelName)).size > 1,
  );
  return [...modelsOf(cells), ...(modelsInPack > 1 ? several : [])];
}

/** The size that was noted of cells of a model; empty where none was. */
export const sizeNoted = (cells: readonly JudgedCell[], model: string): string =>
  cells.find((cell) => isOf(cell, model) && cell.size !== null)?.size ?? '';

/** What cells of a model are; null where there are none, or where they are never charged. */
export function chemistryOf(cells: readonly JudgedCell[], model: string): Rechargeable | null {
  const chemistry = cells.find((cell) => isOf(cell, model))?.chemistry;
  return chemistry === undefined || chemistry === 'alkaline' ? null : chemistry;
}

/** A cell that must not be in it, or that is welded to one. */
const isBarred = ({ code, weldedTo }: JudgedCell, without: readonly string[]): boolean =>
  [code, ...weldedTo].some((one) => without.includes(one));

/**
 * The cells a match may choose from: free, of that model, of that duty or better. Welded cells stay together as far as
 * they are free.
 */
export function candidatesOf(
  cells: readonly JudgedCell[],
  need: Pick<PackNeed, 'model' | 'duty' | 'without'>,
): MatchCell[] {
  const allowed = duties.slice(0, duties.indexOf(need.duty) + 1);
  const chosen = free(cells).filter(
    (cell) =>
      !isBarred(cell, need.without) &&
      isOf(cell, need.model) &&
      cell.duty.duty !== null &&
      allowed.includes(cell.duty.duty),
  );
  return chosen.map((cell) => ({
    id: cell.code,
    capacityAh: cell.capacity?.value ?? 0,
    capacityU: cell.capacity?.u ?? 0,
    resistanceOhm: cell.resistance?.value ?? 0,
    model: modelName(cell),
    ...(cell.bond === null ? {} : { bond: cell.bond }),
  }));
}

/** Why cells of a model and duty cannot be chosen, and how many. */
export interface NotYet {
  /** Neither is taken as 0. */
  withoutCapacity: number;
  withoutResistance: number;
  /** Another build holds them. */
  held: number;
}

/** What would make the choice larger. */
export function notYet(cells: readonly JudgedCell[], { model }: Pick<PackNeed, 'model'>): NotYet {
  const usable = cells.filter((cell) => isOf(cell, model) && cell.intake.class === 'usable');
  const waiting = usable.filter(({ waits }) => waits !== 'build');
  return {
    withoutCapacity: waiting.filter(({ capacity, capacityIsAtLeast }) => capacity === null || capacityIsAtLeast).length,
    withoutResistance: waiting.filter(({ resistance }) => resistance === null).length,
    held: usable.length - waiting.length,
  };
}

/**
 * The rated capacity of a pack of these groups, Ah: of its weakest group, as its cells may be of several models.
 *
 * @param groups the cells of each
 */
export const ratedTogetherAh = (groups: readonly (readonly Pick<JudgedCell, 'ratedCapacityAh'>[])[]): number =>
  Math.min(...groups.map((cells) => cells.reduce((sum, { ratedCapacityAh }) => sum + ratedCapacityAh, 0)));

/** Cells of one size are rated as near to each other as this, a share. Own rule. */
const sameRated = 0.15;

/**
 * Free cells of a pack's chemistry that are rated as the cells of the group are, or as the pack is where they are not
 * known.
 *
 * @param own the cells of the group that is mended
 */
export function sparesFor(
  { chemistry, ratedCapacityAh, parallel }: Pick<JudgedPack, 'chemistry' | 'ratedCapacityAh' | 'parallel'>,
  cells: readonly JudgedCell[],
  own: readonly Pick<JudgedCell, 'ratedCapacityAh'>[] = [],
): Spare[] {
  const ratedAh = own.length > 0 ? ratedTogetherAh([own]) / own.length : ratedCapacityAh / parallel;
  return free(cells).flatMap(({ code, capacity, resistance, voltageV, bond, ...cell }) =>
    cell.chemistry === chemistry && Math.abs(cell.ratedCapacityAh / ratedAh - 1) <= sameRated && capacity && resistance
      ? [{ id: code, capacity, resistance, voltageV, bond: bond ?? undefined }]
      : [],
  );
}
