import { chemistries } from '@/core/chemistry/chemistries';
import { openCircuitOf } from '@/core/chemistry/openCircuit';
import { diagnosePack, firstNamed, type PackDiagnosis } from '@/core/packs/diagnosis/diagnose';
import { groupFaults, type PackFault } from '@/core/packs/diagnosis/faults';
import { type Measurement, measurements, nextMeasurement } from '@/core/packs/diagnosis/nextMeasurement';
import { type Diagnosed, type DiagnosedRound, nothingKnown, type VisitReason } from '@/core/packs/diagnosis/visit';
import { type Chance, seededChance } from '@/core/statistics/random';
import { drawFaultyPack, type FaultyPack, type TakenRound } from './faultyPacks';
import { between } from './trueCell';

/*
 * A realistic population of packs at a routine check: most are sound, many were used since they were full, and some
 * rounds are noted wrongly.
 */

/** A dead or empty group needs no weighing. */
const faults: readonly PackFault[] = groupFaults.filter((fault) => fault !== 'dead' && fault !== 'over-discharged');
const soundFraction = 0.6;

interface Visited {
  pack: FaultyPack;
  asked: Diagnosed;
  diagnosis: PackDiagnosis;
}

interface Noted {
  terminals?: boolean;
  /** Of the first round. */
  sinceChargeS?: number | null;
}

function diagnose(
  pack: FaultyPack,
  reason: VisitReason = 'routine',
  { terminals = true, sinceChargeS = null }: Noted = {},
): Visited {
  const { chemistry, series, ratedCapacityAh, rounds } = pack;
  const fromMs = new Date(rounds[0]?.at ?? 0).getTime();
  const asked: Diagnosed = {
    curve: openCircuitOf(chemistry),
    series,
    ratedCapacityAh,
    beforehand: { ...nothingKnown, reason },
    floorV: chemistries[chemistry].lowestV,
    groupResistancesOhm: null,
    rounds: rounds.map(
      ({ state, at, currentA = 0, groupVoltagesV, terminalVoltageV, instrument }, r): DiagnosedRound => ({
        state,
        atS: (new Date(at).getTime() - fromMs) / 1000,
        currentA,
        groupVoltagesV,
        digitV: 0.001,
        instrument,
        sinceChargeS: r === 0 ? sinceChargeS : null,
        terminalV: terminals ? { value: terminalVoltageV, digitV: 0.01 } : null,
      }),
    ),
  };
  return { pack, asked, diagnosis: diagnosePack(asked) };
}

const drawUsed = (chance: Chance): number => (chance.uniform() < 0.5 ? 0 : between(chance, 0.15, 0.6));

function visitAsItComes(chance: Chance): Visited {
  const isSound = chance.uniform() < soundFraction;
  const fault = isSound ? 'none' : (faults[Math.floor(faults.length * chance.uniform())] as PackFault);
  return diagnose(drawFaultyPack(chance, fault, chance.uniform() < 0.3, drawUsed(chance)));
}

const percent = (count: number, of: number): string => (of === 0 ? '–' : `${((100 * count) / of).toFixed(1)} %`);
const noneOf = ({ diagnosis }: Visited): number =>
  diagnosis.pack.find(({ fault }) => fault === 'none')?.probability ?? 0;
const isSound = ({ pack }: Visited): boolean => pack.faults.every(({ fault }) => fault === 'none');

/** Whether the finding named first is there; of a tap either group beside it is right. */
function isNamed({ pack, diagnosis }: Visited): boolean {
  const first = firstNamed(diagnosis);
  return pack.faults.some(
    ({ fault, position }) =>
      fault === first.fault &&
      (position === first.position || (fault === 'sense-tap' && first.position === (position ?? 0) + 1)),
  );
}

/** How often a pack is sound, or the cause that is named is there, where that has this much probability. */
function calibrationRows(visits: readonly Visited[]): string[] {
  const tenthOf = (probability: number): number => Math.min(9, Math.floor(10 * probability));
  const named = visits.map((visit) => {
    const { fault, probability } = firstNamed(visit.diagnosis);
    return { probability, isRight: isNamed(visit), isCause: fault !== 'none' };
  });
  return Array.from({ length: 10 }, (_, tenth) => {
    const sound = visits.filter((visit) => tenthOf(noneOf(visit)) === tenth);
    const causes = named.filter(({ probability, isCause }) => isCause && tenthOf(probability) === tenth);
    const areSound = percent(sound.filter(isSound).length, sound.length);
    const areThere = percent(causes.filter(({ isRight }) => isRight).length, causes.length);
    return `| ${tenth / 10}–${(tenth + 1) / 10} | ${sound.length} | ${areSound} | ${causes.length} | ${areThere} |`;
  });
}

/** A way in which a visit is noted wrongly; null: as it was. */
const slips: readonly [name: string, slip: ((rounds: TakenRound[]) => TakenRound[]) | null][] = [
  ['nothing', null],
  [
    'the load noted as a rest',
    ([rest, load, ...more]) => (rest && load ? [rest, { ...noCurrent(load), state: 'rest' }, ...more] : []),
  ],
  [
    'rest and load swapped',
    ([rest, load, ...more]) =>
      rest && load
        ? [
            { ...rest, groupVoltagesV: load.groupVoltagesV, terminalVoltageV: load.terminalVoltageV },
            { ...load, groupVoltagesV: rest.groupVoltagesV, terminalVoltageV: rest.terminalVoltageV },
            ...more,
          ]
        : [],
  ],
];
/** The groups of the second rest from the wrong end. */
const turned = (rounds: TakenRound[]): TakenRound[] => {
  const second = rounds.findIndex(({ state }, r) => r > 0 && state === 'rest');
  return second < 0
    ? []
    : rounds.map((round, r) =>
        r === second ? { ...round, groupVoltagesV: round.groupVoltagesV.toReversed() } : round,
      );
};
const noCurrent = ({ currentA: _, ...round }: TakenRound): TakenRound => round;

const slipRow = (name: string, visits: readonly Visited[]): string => {
  const asked = visits.filter(({ diagnosis }) => diagnosis.questions.length > 0);
  const accused = visits.filter((visit) => noneOf(visit) < 0.5);
  const unasked = accused.filter(({ diagnosis }) => diagnosis.questions.length === 0);
  const of = (some: readonly Visited[]): string => percent(some.length, visits.length);
  return `| ${name} | ${visits.length} | ${of(asked)} | ${of(accused)} | ${of(unasked)} |`;
};

/** Of sound packs whose visit was noted so: those that are asked about, and those named faulty. */
function slipRows(chance: Chance, packs: number): string[] {
  const sound = (change: (pack: FaultyPack) => FaultyPack = (pack) => pack, sinceChargeS: number | null = null) =>
    Array.from({ length: packs }, () =>
      diagnose(change(drawFaultyPack(chance, 'none', false, drawUsed(chance))), 'routine', { sinceChargeS }),
    );
  const settling = (pack: FaultyPack): FaultyPack => ({ ...pack, rounds: settlingAtFirst(chance, pack.rounds) });
  return [
    ...slips.map(([name, slip]) =>
      slipRow(
        name,
        sound((pack) => ({ ...pack, rounds: slip ? slip(pack.rounds) : pack.rounds })),
      ),
    ),
    slipRow('5 to 25 min after a charge, noted', sound(settling, 900)),
    slipRow('5 to 25 min after a charge, not noted', sound(settling)),
  ];
}

/** The first round while the groups still settle: each is a little higher, by as much as its slow branch differs. */
function settlingAtFirst(chance: Chance, [first, ...more]: TakenRound[]): TakenRound[] {
  if (!first) return [];
  const aboveV = between(chance, 0.005, 0.04);
  const settles = (v: number | null): number | null =>
    v && Math.round((v + aboveV * Math.exp(chance.normal(0, 0.15))) * 1000) / 1000;
  return [{ ...first, groupVoltagesV: first.groupVoltagesV.map(settles) }, ...more];
}

/** Packs with one fault whose groups were noted from the wrong end in the second rest: whether the fault is named. */
function turnedRows(chance: Chance, packs: number): string[] {
  const faulty = Array.from({ length: packs }, () =>
    drawFaultyPack(chance, faults[Math.floor(faults.length * chance.uniform())] as PackFault, false, drawUsed(chance)),
  ).filter(({ rounds }) => turned(rounds).length > 0);
  const row = (name: string, visits: readonly Visited[]): string => {
    const asked = visits.filter(({ diagnosis }) =>
      diagnosis.questions.some(({ code }) => code === 'from-positive-end'),
    );
    const right = visits.filter(isNamed);
    const of = (some: readonly Visited[]): string => percent(some.length, visits.length);
    return `| ${name} | ${visits.length} | ${of(asked)} | ${of(right)} |`;
  };
  return [
    row(
      'as it was',
      faulty.map((pack) => diagnose(pack)),
    ),
    row(
      'turned',
      faulty.map((pack) => diagnose({ ...pack, rounds: turned(pack.rounds) })),
    ),
  ];
}

/** A weak group of a pack that was used since it was full, by one round at rest: neither cause may be ruled out. */
function weakGroupRow(chance: Chance, packs: number): string {
  const visits = Array.from({ length: packs }, () =>
    diagnose(drawFaultyPack(chance, 'low-capacity', true, between(chance, 0.25, 0.6)), 'complaint'),
  );
  const of = ({ pack, diagnosis }: Visited, fault: PackFault): number => {
    const position = pack.faults[0]?.position;
    const group = diagnosis.groups.find((one) => one.position === position);
    return group?.findings.find((finding) => finding.fault === fault)?.probability ?? 0;
  };
  const shifted = visits.filter((visit) => of(visit, 'charge-shifted') > 0.8).length;
  const open = visits.filter((visit) => of(visit, 'low-capacity') >= 0.2).length;
  return `| ${packs} | ${percent(open, packs)} | ${percent(shifted, packs)} |`;
}

/** A pack of a complaint, measured once at rest, and again as suggested; null where nothing is suggested. */
function measuredAgain(seed: number, choose: (visit: Visited, chance: Chance) => Measurement | null) {
  const chance = seededChance(seed);
  const isSound = chance.uniform() < 0.15;
  const fault = isSound ? 'none' : (faults[Math.floor(faults.length * chance.uniform())] as PackFault);
  const pack = drawFaultyPack(chance, fault, true, drawUsed(chance));
  const terminals = chance.uniform() < 0.5;
  const before = diagnose(pack, 'complaint', { terminals });
  const what = choose(before, chance);
  if (what === null) return null;
  const rounds = [...pack.rounds, pack.further(what)];
  const after = diagnose({ ...pack, rounds }, 'complaint', { terminals: terminals || what === 'terminals' });
  return { what, before: isNamed(before), after: isNamed(after) };
}

/** How often the fault named first is right before and after one more measurement: as suggested, and by chance. */
function nextRows(packs: number, seed: number): string[] {
  const again = (choose: Parameters<typeof measuredAgain>[1]) =>
    Array.from({ length: packs }, (_, i) => measuredAgain(seed + i, choose)).filter((one) => one !== null);
  const suggestedBy = ({ diagnosis, asked }: Visited): Measurement | null =>
    nextMeasurement(diagnosis, asked)?.what ?? null;
  const suggested = again(suggestedBy);
  const byChance = again((visit, chance) =>
    suggestedBy(visit) === null ? null : (measurements[Math.floor(measurements.length * chance.uniform())] ?? null),
  );
  const row = (name: string, of: typeof suggested): string =>
    `| ${name} | ${of.length} | ${percent(of.filter(({ before }) => before).length, of.length)} | ` +
    `${percent(of.filter(({ after }) => after).length, of.length)} |`;
  const kinds = (of: typeof suggested, word: string): string[] =>
    measurements.map((kind) =>
      row(
        `${kind}, ${word}`,
        of.filter(({ what }) => what === kind),
      ),
    );
  return [
    row('all, as suggested', suggested),
    row('all, by chance', byChance),
    ...kinds(suggested, 'as suggested'),
    ...kinds(byChance, 'by chance'),
  ];
}

/** The tables of docs/truth.md on diagnoses. */
export function diagnosisTables(packs: number, seed: number): string {
  const chance = seededChance(seed);
  const visits = Array.from({ length: packs }, () => visitAsItComes(chance));
  return [
    '## Diagnoses of a realistic population of packs',
    '',
    `${packs} packs for a routine check: 60 % are sound, half were used since they were full, a third were measured`,
    'once.',
    'A probability is true where as many packs are as it says.',
    '',
    '| probability | packs said to be sound so | are sound | causes named so | are there |',
    '|---|---:|---:|---:|---:|',
    ...calibrationRows(visits),
    '',
    'Sound packs whose visit was noted wrongly:',
    '',
    '| noted wrongly | packs | asked about | named faulty | named faulty without a question |',
    '|---|---:|---:|---:|---:|',
    ...slipRows(chance, Math.round(packs / 10)),
    '',
    'Packs with a fault whose groups were noted from the positive end in the second rest: the fault named first is',
    'right',
    '',
    '| noted | packs | asked about | right |',
    '|---|---:|---:|---:|',
    ...turnedRows(chance, Math.round(packs / 10)),
    '',
    'A group of low capacity in a pack that was used since it was full, measured once at rest:',
    '',
    '| packs | low capacity stays open (20 % and more) | called charge-shifted (over 80 %) |',
    '|---:|---:|---:|',
    weakGroupRow(chance, Math.round(packs / 10)),
    '',
    'Packs of a complaint, measured once at rest, and once more: the fault named first is right',
    '',
    '| measured | packs | before | after |',
    '|---|---:|---:|---:|',
    ...nextRows(packs, seed),
  ].join('\n');
}
