import type { Equipment } from './equipment';
import type { StoredResistance } from './facts';
import { judgeReading, type ResistanceFacts, type ResistanceResult, type Tools } from '@/core/resistance/judgeReading';
import { quadrature, type Quantity } from '@/core/quantity/quantity';
import { meanOfRepeats, repeatsOf, taughtNoise } from '@/core/resistance/repeats';
import { trapsOf } from '@/core/resistance/traps';
import type { Warning } from '@/core/warning';
import type { CurveOf } from './curveBook';
import type { InstrumentBook } from './instrumentBook';

export interface JudgedResistance {
  /** Null for a confirmed reading that gives no resistance. */
  result: ResistanceResult | null;
  /** The value of the cell or group by this reading and its repeats in the round; null as above. */
  figure: Quantity | null;
  warnings: Warning[];
  /** Why it may neither be compared nor grade its cell, not taken as its protocol asks; null where it may. */
  leftOut: Warning | null;
}

/** The cell or pack that was read; null where it is not known. */
export type JudgedFor =
  | (CurveOf & {
      /** Between its terminals lies a protection board. */
      board: boolean;
    })
  | null;

/** A stored reading with what it shows, corrected, and the traps it may have stepped into. */
export function judgeResistance(
  stored: StoredResistance,
  subject: JudgedFor,
  { instruments, protocols, curves }: Equipment,
  noiseOhm: number | null = null,
): JudgedResistance {
  const { facts, method, takenAt, temperatureC, disturbedAt, position } = stored;
  const protocol = protocols.get(stored.protocolId);
  const tools = toolsAt(stored, subject, instruments);
  const read = judgeReading(facts, tools, noiseOhm === null ? null : noiseOhm / stored.together);
  const result = eachOf(stored.together, behindLeads(stored, read));
  const restedS = disturbedAt && (takenAt.getTime() - disturbedAt.getTime()) / 1000;
  const traps = trapsOf(
    {
      method,
      chemistry: subject?.chemistry ?? 'li-ion',
      curve: curves.of(subject ?? { chemistry: 'li-ion' }),
      openV: openVOfOne(facts, position === 0 ? (subject?.series ?? 1) : 1),
      temperatureC,
      restedS,
      board: (subject?.board ?? false) && (position === 0 || subject?.series === undefined),
    },
    protocol ?? anyWindow,
  );
  return {
    result,
    figure: result && result.resistance,
    warnings: [...(result?.warnings ?? []), ...traps.warnings],
    leftOut: traps.leftOut,
  };
}

/** A reported resistance of a group is right to about this fraction, unless better known. From memory. */
const chargerFraction = 0.05;

/** A charger senses the groups of a pack behind the wires that carry its current: those are not in its figure. */
function toolsAt(stored: StoredResistance, subject: JudgedFor, instruments: InstrumentBook): Tools {
  const tools = instruments.toolsOf(stored);
  const { facts, method } = stored;
  if (method !== 'told' || subject?.series === undefined || facts.kind !== 'resistance') return tools;
  const assumed = { resolution: facts.step, accuracyShare: chargerFraction, accuracyCounts: 1 };
  return { ...tools, resistance: tools.resistance ?? assumed, wires: null, leads: null };
}

/** Wires of a connector are known to about this much, with their pins. From memory. */
const connectorU = 0.15;

/** What a group has, read through a balance connector: without its wires. A charger's own figure has none of them. */
function behindLeads({ leadOhm, method }: StoredResistance, result: ResistanceResult | null): ResistanceResult | null {
  if (result === null || leadOhm === null || method === 'told') return result;
  const resistance = {
    value: result.resistance.value - leadOhm,
    u: quadrature(result.resistance.u, connectorU * leadOhm),
  };
  if (!(resistance.value > 0)) return null;
  const budget = [...result.budget, { input: 'wires of the connector', u: connectorU * leadOhm }];
  return { ...result, resistance, budget: budget.sort((a, b) => b.u - a.u) };
}

/**
 * What a reading of welded cells shows of each: in parallel they have a share of the resistance that one has, taken as
 * alike.
 */
function eachOf(together: number, result: ResistanceResult | null): ResistanceResult | null {
  if (result === null || together === 1) return result;
  const { resistance, budget, randomU, ...rest } = result;
  return {
    ...rest,
    resistance: { value: together * resistance.value, u: together * resistance.u },
    budget: budget.map((fraction) => ({ ...fraction, u: together * fraction.u })),
    randomU: together * randomU,
  };
}

/**
 * The stored readings of one cell or pack, newest first: within a round, repeats of the same group teach the noise of
 * its readings, unless they differ by more than a contact should. Its figure is the mean of the repeats; where they
 * differ too much, the newest, as uncertain as they differ.
 */
export function judgePresses(
  presses: readonly StoredResistance[],
  subject: JudgedFor,
  equipment: Equipment,
): JudgedResistance[] {
  const judged = presses.map((one) => judgeResistance(one, subject, equipment));
  const pressed = ({ roundId, position }: StoredResistance) => `${roundId} ${position}`;
  const alike = new Map<string, JudgedResistance[]>();
  presses.forEach((one, i) =>
    alike.set(pressed(one), [...(alike.get(pressed(one)) ?? []), judged[i] as JudgedResistance]),
  );
  return presses.map((one, i) => {
    const own = (alike.get(pressed(one)) ?? []).flatMap(({ result, leftOut }) =>
      result && leftOut === null ? [result] : [],
    );
    const first = judged[i] as JudgedResistance;
    const [newest] = own;
    if (own.length < 2 || !newest || first.leftOut !== null || first.result === null) return first;
    const values = own.map(({ resistance }) => resistance.value);
    const repeats = repeatsOf(values, newest.randomU);
    if (repeats?.differ) {
      const u = quadrature(newest.resistance.u, repeats.range / Math.sqrt(12));
      return { ...first, figure: { value: newest.resistance.value, u } };
    }
    const noiseOhm = taughtNoise(values);
    const taught = noiseOhm === null ? first : judgeResistance(one, subject, equipment, noiseOhm);
    return {
      ...taught,
      figure: meanOfRepeats(values, { u: newest.resistance.u, randomU: newest.randomU }),
    };
  });
}

const anyWindow = { charge: null, temperature: null, restS: 0 };

/** The open voltage of one of this many in series, as their mean. */
function openVOfOne(facts: ResistanceFacts, series: number): number | null {
  const openV = openVOf(facts);
  return openV && openV / series;
}

function openVOf(facts: ResistanceFacts): number | null {
  switch (facts.kind) {
    case 'load-step':
    case 'resistance':
      return facts.openV;
    case 'pulse':
      return facts.edge?.fromV ?? null;
    case 'two-current':
      return null;
  }
}
