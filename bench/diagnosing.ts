import { computeDiagnosis } from '@/http/api/diagnose';
import { seededChance } from '@/core/statistics/random';
import { compareRemedies } from '@/core/packs/remedies';
import { firstNamed, type GroupFinding } from '@/core/packs/diagnosis/diagnose';
import { type PackFault, packFaults } from '@/core/packs/diagnosis/faults';
import { drawFaultyPack, type FaultyPack } from '../truth/faultyPacks';
import { type BenchRow, medianOf, seconds } from './table';

type DiagnosisAnswer = ReturnType<typeof computeDiagnosis>;
const packsOfEach = 500;
const repeats = 9;
/** What is wanted of the first-named fault. */
const wanted = { four: 0.9, one: 0.7 };

/** A tap lies between two groups: either may be named. */
const isThere = ({ faults }: FaultyPack, { fault, position }: GroupFinding): boolean =>
  faults.some(
    (there) =>
      there.fault === fault &&
      (there.position === position ||
        there.position === null ||
        (fault === 'sense-tap' && position === there.position + 1)),
  );

const ofGroups = packFaults.filter((fault) => fault !== 'none' && fault !== 'board-cut-off');

/** Squared difference of what is said of each fault in each group from whether it is there. */
function brierOf({ faults }: FaultyPack, { groups }: DiagnosisAnswer): number {
  const scores = groups.flatMap(({ position, findings }) =>
    ofGroups.map((fault) => {
      const said = findings.find((finding) => finding.fault === fault)?.probability ?? 0;
      const there = faults.some((one) => one.fault === fault && (one.position === position || one.position === null));
      return (said - (there ? 1 : 0)) ** 2;
    }),
  );
  return scores.reduce((a, b) => a + b, 0) / scores.length;
}

interface Diagnosed {
  pack: FaultyPack;
  /** Its first fault, by which the matrix is kept. */
  fault: PackFault;
  named: GroupFinding;
  isRight: boolean;
  /** Its readings show it at all. */
  shows: boolean;
  brier: number;
  asksMore: boolean;
}

function diagnoseAll(isOneRound: boolean): Diagnosed[] {
  const chance = seededChance(isOneRound ? 20_260_917 : 20_260_918);
  return packFaults.flatMap((fault) =>
    Array.from({ length: packsOfEach }, (): Diagnosed => {
      const pack = drawFaultyPack(chance, fault, isOneRound);
      const { chemistry, series, ratedCapacityAh, rounds, showsAtRest } = pack;
      const answer = computeDiagnosis({ chemistry, series, ratedCapacityAh, rounds, reason: 'complaint' });
      const named = firstNamed({ groups: answer.groups, pack: answer.pack.findings });
      return {
        pack,
        fault,
        named,
        isRight: isThere(pack, named),
        shows: !isOneRound || showsAtRest,
        brier: brierOf(pack, answer),
        asksMore: answer.nextMeasurement.what !== 'none',
      };
    }),
  );
}

const fractionOf = <T>(all: readonly T[], is: (one: T) => boolean): number => all.filter(is).length / all.length;
const percent = (fraction: number): string => (Number.isNaN(fraction) ? '–' : `${(100 * fraction).toFixed(1)} %`);
const mean = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0) / values.length;

/** Which fault was named first, of packs with each. */
function matrixOf(all: readonly Diagnosed[]): string {
  const rows = packFaults.map((fault) => {
    const own = all.filter((one) => one.fault === fault);
    const cells = packFaults.map((named) => own.filter((one) => one.named.fault === named).length || '');
    const shown = own.filter(({ shows }) => shows);
    return `| ${fault} | ${cells.join(' | ')} | ${percent(fractionOf(shown, ({ isRight }) => isRight))} |`;
  });
  return [
    `| there ↓ named → | ${packFaults.join(' | ')} | right, where it shows |`,
    `|---|${packFaults.map(() => '---:|').join('')}---:|`,
    ...rows,
  ].join('\n');
}

/** How often it is right where it says this much, to the nearest tenth. */
function calibrationOf(all: readonly Diagnosed[]): string {
  const rows = Array.from({ length: 11 }, (_, tenths) => {
    const own = all.filter(({ named }) => Math.round(10 * named.probability) === tenths);
    const said = percent(mean(own.map(({ named }) => named.probability)));
    return own.length === 0
      ? null
      : `| ${said} | ${percent(fractionOf(own, ({ isRight }) => isRight))} | ${own.length} |`;
  });
  return ['| said | right | packs |', '|---:|---:|---:|', ...rows.filter((row) => row !== null)].join('\n');
}

/** A diagnosis of twenty groups in ten rounds. */
function timeOfLarge(): number {
  const rounds = Array.from({ length: 10 }, (_, r) => ({
    state: r % 4 === 1 ? ('load' as const) : ('rest' as const),
    ...(r % 4 === 1 && { currentA: 3 }),
    at: new Date(Date.UTC(2026, 1, 1 + r)).toISOString(),
    groupVoltagesV: Array.from({ length: 20 }, (_, i) =>
      Number((4.1 - 0.01 * r - (r % 4 === 1 ? 0.1 : 0) + ((i * 7) % 5) / 1000 - (i === 4 ? 0.08 : 0)).toFixed(3)),
    ),
  }));
  return medianOf(
    Array.from({ length: repeats }, () => {
      const began = performance.now();
      computeDiagnosis({ chemistry: 'li-ion', series: 20, ratedCapacityAh: 5, rounds, reason: 'routine' });
      return performance.now() - began;
    }),
  );
}

/** Every remedy of fourteen groups, charged second by second for up to a hundred hours. */
function timeOfRemedies(): number {
  const groups = Array.from({ length: 14 }, (_, i) => ({
    soc: { value: i === 4 ? 0.2 : 0.8, u: 0.01 },
    capacityAh: 5,
    resistanceOhm: 0.03,
  }));
  return medianOf(
    Array.from({ length: repeats }, () => {
      const began = performance.now();
      compareRemedies({
        chemistry: 'li-ion',
        curve: null,
        groups,
        charger: { currentA: 2, bleedA: 0.03, bleedFromV: 4.1, overshootV: 0.01, timerS: null },
        topUpCurrentA: 0.5,
        drainCurrentA: 0.1,
        connector: 'balance' as const,
        floorV: 2.8,
        combined: true,
        bad: [],
      });
      return performance.now() - began;
    }),
  );
}

/** Diagnoses compared with packs whose faults are known, made by another model. */
export function benchDiagnosing(): { rows: BenchRow[]; report: string } {
  const [four, one] = [diagnoseAll(false), diagnoseAll(true)];
  const rowOf = (all: readonly Diagnosed[], name: string, least: number): BenchRow => {
    const right = fractionOf(
      all.filter(({ shows }) => shows),
      ({ isRight }) => isRight,
    );
    return {
      what: `diagnosis by ${name}: the fault named first is right`,
      ours: percent(right),
      reference: `wanted ${percent(least)}`,
      ratio: (right / least).toFixed(2),
    };
  };
  const ms = timeOfLarge();
  const remediesMs = timeOfRemedies();
  const answer = (all: readonly Diagnosed[]): string =>
    `Brier score ${mean(all.map(({ brier }) => brier)).toFixed(4)}; another measurement is asked for in ` +
    `${percent(fractionOf(all, ({ asksMore }) => asksMore))}.`;
  return {
    rows: [
      rowOf(four, 'four rounds', wanted.four),
      rowOf(one, 'one round at rest', wanted.one),
      {
        what: 'diagnosis of 20 groups in 10 rounds (limit 100 ms)',
        ours: seconds(ms),
        reference: 'limit 100 ms',
        ratio: (ms / 100).toFixed(2),
      },
      {
        what: 'remedies for 14 groups over 100 h, second by second (limit 2 s for 24 h)',
        ours: seconds(remediesMs),
        reference: 'limit 2 s',
        ratio: (remediesMs / 2000).toFixed(2),
      },
    ],
    report: [
      '## Diagnoses',
      `${packsOfEach} packs of each fault, three to ten groups, a fifth of them with a second fault; made by a model ` +
        'that was written before the estimator.',
      '### Four rounds: at rest, under load, at rest a week later, at the end of a discharge',
      matrixOf(four),
      answer(four),
      calibrationOf(four),
      '### One round at rest',
      matrixOf(one),
      answer(one),
      calibrationOf(one),
    ].join('\n\n'),
  };
}
