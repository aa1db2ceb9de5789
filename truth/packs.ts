import { rectangular } from '@/core/quantity/quantity';
import { readingU } from '@/core/instruments/instrument';
import { presetRules } from '@/core/chemistry/houseRules';
import type { StoredResistance } from '@/core/judging/facts';
import { bareBench } from '@/core/judging/equipment';
import { judgeResistance } from '@/core/judging/judgeResistance';
import { weakestGroup } from '@/core/judging/gradePack';
import type { PackResistances } from '@/core/judging/judgePack';
import { type GroupResistancesRead, judgeGroupResistances } from '@/core/packs/groupResistances';
import type { MethodKey } from '@/core/resistance/methods';
import { groupFigures, type MeasuredCell, packFigures } from '@/core/matching/groupFigures';
import type { Chance } from '@/core/statistics/random';
import type { Population, TrueCase } from './coverage';
import { answerOhm, between, drawCell, drawTool, shown, type TrueTool } from './trueCell';

/** A cell as it is, and as a load and a meter show it. */
interface ReadCell {
  capacityAh: number;
  ohm: number;
  measured: MeasuredCell;
}

const capacityRange = { resolution: 0.001, accuracyShare: 0.01, accuracyCounts: 0 };
const ohmRange = { resolution: 0.0001, accuracyShare: 0.005, accuracyCounts: 3 };

function readCell(chance: Chance, load: TrueTool, meter: TrueTool): ReadCell {
  const [capacityAh, ohm] = [between(chance, 1.7, 2.6), between(chance, 0.015, 0.06)];
  const [ah, milli] = [shown(capacityAh, load, chance), shown(ohm, meter, chance)];
  return {
    capacityAh,
    ohm,
    measured: {
      capacity: { value: ah, u: readingU(ah, capacityRange) },
      resistance: { value: milli, u: readingU(milli, ohmRange) },
    },
  };
}

/** Groups of three cells in series, all discharged with one load and read with one meter. */
function packCase(chance: Chance, series: number): TrueCase[] {
  const load = drawTool(chance, { share: capacityRange.accuracyShare, fixed: 0 }, 0.001, capacityRange.resolution);
  const meter = drawTool(
    chance,
    { share: ohmRange.accuracyShare, fixed: ohmRange.accuracyCounts * ohmRange.resolution },
    0.00005,
    ohmRange.resolution,
  );
  const groups = Array.from({ length: series }, () => Array.from({ length: 3 }, () => readCell(chance, load, meter)));
  const trueAh = groups.map((cells) => cells.reduce((sum, { capacityAh }) => sum + capacityAh, 0));
  const trueOhm = groups.map((cells) => 1 / cells.reduce((sum, { ohm }) => sum + 1 / ohm, 0));
  const figures = groups.map((cells) => groupFigures(cells.map(({ measured }) => measured)));
  const [first] = figures as [(typeof figures)[number]];
  const pack = packFigures(figures);
  return [
    { told: first.capacity, truth: trueAh[0] as number },
    { told: first.resistance, truth: trueOhm[0] as number },
    { told: pack.capacity, truth: Math.min(...trueAh) },
    { told: pack.resistance, truth: trueOhm.reduce((sum, ohm) => sum + ohm, 0) },
  ];
}

/** What a round over packs keeps of one resistance of a group. */
const ofGroup = (method: MethodKey, resistanceOhm: number, leadOhm: number | null): StoredResistance => ({
  together: 1,
  position: 2,
  roundId: 1,
  protocolId: 1,
  method,
  takenAt: new Date(0),
  temperatureC: null,
  instrumentId: null,
  channel: null,
  ammeterId: null,
  disturbedAt: null,
  leadOhm,
  facts: { kind: 'resistance', resistanceOhm, step: 0.0001, openV: null, zeroTaken: null },
});
const pouch = { chemistry: 'lipo', board: false, series: 4 } as const;

/** Four groups as reported by one charger of unknown error: of one group, and of all together. */
function reportedCase(chance: Chance): TrueCase[] {
  const charger = drawTool(chance, { share: 0.05, fixed: 0.0001 }, 0.00005, 0.0001);
  const truths = Array.from({ length: 4 }, () => between(chance, 0.003, 0.03));
  const groups = truths.map((truth, i) => ({
    position: i + 1,
    resistance: judgeResistance(ofGroup('told', shown(truth, charger, chance), null), pouch, bareBench).result
      ?.resistance ?? { value: NaN, u: NaN },
  }));
  const rules = presetRules('workshop');
  const { sum } = judgeGroupResistances({ groups, series: 4, whole: null, first: new Map(), asNewOhm: null }, rules);
  return [
    { told: groups[1]?.resistance ?? null, truth: truths[1] as number },
    { told: sum, truth: truths.reduce((total, truth) => total + truth, 0) },
  ];
}

/** A group read at the plug of its connector, whose wires are calculated from their gauge and length. */
function connectorCase(chance: Chance): TrueCase[] {
  const meter = drawTool(chance, { share: 0, fixed: 0 }, 0.00005, 0.0001);
  const [truth, wires] = [between(chance, 0.008, 0.06), between(chance, 0.01, 0.04)];
  // Warmth and strands either way, and pins that add their own.
  const trueWires = wires * (1 + between(chance, -0.2, 0.2)) + between(chance, -0.001, 0.001);
  const readOhm = shown(truth + trueWires, meter, chance);
  return [
    { told: judgeResistance(ofGroup('ac-meter', readOhm, wires), pouch, bareBench).result?.resistance ?? null, truth },
  ];
}

/** Ammeter and voltmeter over the terminals show the whole to this share (standard). */
const wholeU = 0.012;

interface Weakest {
  /** By how much the groups differ either way, and the slow and quick parts of one, as fractions. */
  differ: number;
  partsDiffer: number;
  /** Last digit of the charger, Ω. */
  digitOhm: number;
  /** Leads and joints of the whole, a fraction. */
  leads: [number, number];
}

/**
 * Four groups reported by a charger after a minute, with a factor of its own and some noise, and the whole loaded for
 * ten seconds: each group's slow and quick parts differ a little.
 */
function weakestCase(chance: Chance, { differ, partsDiffer, digitOhm, leads }: Weakest): TrueCase[] {
  const cell = drawCell(chance);
  const cells = Array.from({ length: 4 }, () => {
    const ohm = 1 + between(chance, -differ, 1.6 * differ);
    const branches = cell.branches.map((one) => ({
      ...one,
      ohm: one.ohm * ohm * (1 + between(chance, -partsDiffer, partsDiffer)),
    }));
    return { ...cell, ohmicOhm: cell.ohmicOhm * ohm, branches };
  });
  const charger = drawTool(chance, { share: 0.2, fixed: 0 }, 0, digitOhm);
  const groups = cells.map((group, i) => {
    const shownOhm = shown(answerOhm(group, 0.6, 60) * (1 + chance.normal(0, 0.01)), charger, chance);
    const resistance = judgeResistance(ofGroup('told', shownOhm, null), pouch, bareBench).result?.resistance;
    return { position: i + 1, resistance: resistance ?? { value: NaN, u: NaN }, digitU: rectangular(digitOhm) };
  });
  const truths = cells.map((group) => answerOhm(group, 0.6, 10));
  const sum = truths.reduce((total, truth) => total + truth, 0) / (1 - between(chance, ...leads));
  const whole = { value: sum * (1 + chance.normal(0, wholeU)), u: sum * wholeU };
  const rules = presetRules('workshop');
  const time = (protocolId: number, read: Pick<GroupResistancesRead, 'groups' | 'whole'>): PackResistances => ({
    ...judgeGroupResistances({ ...read, series: 4, first: new Map(), asNewOhm: null }, rules),
    roundId: protocolId,
    protocolId,
    takenAt: new Date(0),
    temperatureC: null,
    leftOut: null,
  });
  const protocols = new Map([
    [1, { method: 'told' as const, holdS: 60 }],
    [2, { method: 'ammeter' as const, holdS: 10 }],
  ]);
  const weakest = weakestGroup([time(2, { groups: [], whole }), time(1, { groups, whole: null })], 4, protocols);
  return [{ told: weakest?.resistance ?? null, truth: Math.max(...truths) }];
}

const weakestPopulations: [made: string, of: Weakest][] = [
  ['groups that differ by 15 to 25 %', { differ: 0.15, partsDiffer: 0.4, digitOhm: 0.0001, leads: [0, 0] }],
  ['leads of up to 4 %', { differ: 0.15, partsDiffer: 0.2, digitOhm: 0.0001, leads: [0, 0.04] }],
  ['alike groups, leads of up to 4 %', { differ: 0.03, partsDiffer: 0.1, digitOhm: 0.0001, leads: [0, 0.04] }],
  ['in steps of 1 mΩ, leads of up to 4 %', { differ: 0.1, partsDiffer: 0.2, digitOhm: 0.001, leads: [0, 0.04] }],
];

export const packPopulations: Population[] = [
  ...weakestPopulations.map(([made, of]): Population => ({
    figures: ['resistance of the weakest group'],
    made: `the whole loaded for ten seconds, shared out as a charger reports four groups after a minute, ${made}`,
    draw: (chance) => weakestCase(chance, of),
  })),
  {
    figures: ['resistance of a group, told', 'sum of told resistances'],
    made: 'four groups told by one charger ± 5 % that nobody noted',
    draw: reportedCase,
  },
  {
    figures: ['resistance of a group, probed'],
    made: 'read through a connector, its wires computed to ± 20 % and pins ± 1 mΩ',
    draw: connectorCase,
  },
  {
    figures: ['capacity of a group', 'resistance of a group', 'capacity of a pack', 'resistance of a pack'],
    made: 'four groups of three cells, all discharged with one load ± 1 % and read with one meter ± 0.5 % ± 3 counts',
    draw: (chance) => packCase(chance, 4),
  },
];
