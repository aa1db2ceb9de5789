import { writeFileSync } from 'node:fs';
import { ageingPopulations } from './ageing';
import { benchTimePopulations } from './benchTimes';
import { buildPopulations } from './builds';
import { type Coverage, coverageOf } from './coverage';
import { batchPopulations } from './batches';
import { selfDischargePopulations } from './selfDischarge';
import { diagnosisTables } from './diagnoses';
import { dischargePopulations } from './discharges';
import { measuredPopulations } from './measuredCurves';
import { instrumentPopulations } from './instruments';
import { packRunPopulations } from './packRuns';
import { packPopulations } from './packs';
import { pulsePopulations, relaxationPopulations } from './pulses';
import { readingPopulations } from './readings';
import { findings } from './states';

const groups = {
  discharges: dischargePopulations,
  pulses: pulsePopulations,
  relaxation: relaxationPopulations,
  readings: readingPopulations,
  instruments: instrumentPopulations,
  crowds: batchPopulations,
  packs: packPopulations,
  packRuns: packRunPopulations,
  hold: selfDischargePopulations,
  ageing: ageingPopulations,
  learnt: measuredPopulations,
  benchTimes: benchTimePopulations,
  builds: buildPopulations,
};
type Group = keyof typeof groups;

const usualCases = 400;
/** 2 000 histories in a usual run. */
const historiesPerCase = 5;
/** What is quick to simulate is simulated more often. */
const quick: ReadonlySet<string> = new Set(['readings', 'instruments', 'crowds', 'packs', 'hold', 'ageing']);
const quickTimes = 5;
const seed = 20_261_126;

const percent = (value: number, decimals: number): string =>
  Number.isNaN(value) ? '–' : `${(100 * value).toFixed(decimals)} %`;

const rowOf = ({ figure, made, cases, told: estimates, held, bias, errorOverU, relativeU }: Coverage): string =>
  `| ${figure} | ${made} | ${cases} | ${percent(estimates, 0)} | ${percent(held, 1)} | ${percent(bias, 2)} | ` +
  `${Number.isNaN(errorOverU) ? '–' : errorOverU.toFixed(2)} | ${percent(relativeU, 1)} |`;

const heading = '| figure | cases | n | told | held | bias | error / u | u |\n|---|---|---:|---:|---:|---:|---:|---:|';

/**
 * Prints how often the uncertainties hold the truth, and keeps it in docs/truth.md.
 * `npm run coverage -- 100 pulses`: this many cases of these groups alone, printed only; `states` asks for the advice,
 * `diagnoses` for a realistic population of packs.
 */
function main(given: readonly string[]): void {
  const cases = Number(given.find((one) => /^\d+$/.test(one)) ?? usualCases);
  const only = given.filter((one): one is Group => one in groups);
  const isWhole = only.length === 0 && !['states', 'diagnoses'].some((one) => given.includes(one));
  const tables = (Object.entries(groups) as [Group, typeof dischargePopulations][])
    .filter(([name]) => isWhole || only.includes(name))
    .map(([name, populations]) => {
      const rows = populations
        .flatMap((population) => coverageOf(population, quick.has(name) ? quickTimes * cases : cases, seed))
        .filter(({ told: estimates }) => estimates > 0);
      return `## ${titles[name]}\n\n${heading}\n${rows.map(rowOf).join('\n')}`;
    });
  if (isWhole || given.includes('states')) tables.push(stateTable(cases * historiesPerCase));
  if (isWhole || given.includes('diagnoses')) tables.push(diagnosisTables(cases * historiesPerCase, seed));
  console.log(tables.join('\n\n'));
  if (isWhole) writeFileSync('docs/truth.md', `${before}\n\n${tables.join('\n\n')}\n\n${after}\n`);
}

/** Whether all places agree, and whether no advice moves a group beyond its limits. */
function stateTable(histories: number): string {
  const { contradictions, carried, beyond, within } = findings(histories, seed);
  const fraction = (held: number, of: number): string => percent(held / of, 1);
  return [
    '## Advice from one state',
    '',
    `${histories} packs were drawn with a history each: of any chemistry, even or not, partly measured, used since.`,
    'Every place was asked for advice, and each charge, storage and discharge sheet of a pack whose groups were',
    'measured was carried out on the pack as it really is.',
    '',
    '| what | found |',
    '|---|---:|',
    `| contradictions between sheet, plan, upkeep, use and next step | ${contradictions.length} |`,
    `| sheets carried out | ${carried} |`,
    `| that took a group beyond its limits (1 of 100 is allowed) | ${beyond.length} |`,
    `| time within its interval (95 of 100 are meant) | ${fraction(within.minutes.held, within.minutes.of)} |`,
    `| charge within its interval (95 of 100 are meant) | ${fraction(within.charge.held, within.charge.of)} |`,
  ].join('\n');
}

const titles: Record<Group, string> = {
  discharges: 'Capacities of logged discharges',
  pulses: 'Resistances of steps in a log',
  relaxation: 'What comes at once, and later',
  readings: 'Typed resistances',
  instruments: 'Instruments',
  crowds: 'Crowds, two methods, partial charges',
  packs: 'Groups and packs',
  packRuns: 'Discharges of packs',
  hold: 'Self-discharge tests',
  ageing: 'Ageing',
  learnt: 'Learnt curves, and logs that end early',
  benchTimes: 'How long a job takes at a charger',
  builds: 'How long a build serves',
};

const before = `# Are the figures true?

Made by \`npm run coverage\`. Every figure comes with its standard uncertainty u, and that is a claim: value ± 1.96 u
holds the truth about nineteen times of twenty. Here it is compared with simulated cases whose truth is known. They are
made by a model that is not the one under test: cells with one, two or three relaxing branches and curves of their own
formulas, tools whose gain and offset lie anywhere within what their makers promise, noise, digits, and steps anywhere
between two samples.

*told*: share of the cases that have the figure at all; the others are lower bounds or left out, and the
screen says so. *held*: share of the told ones that hold the truth; 93 to 97 % is meant, and more where a limit
(rectangular) outweighs the rest, since a limit is never exceeded. *bias*: median of the relative error. *error / u*:
median of the error over the uncertainty (0.67 for a normal one). *u*: median relative uncertainty. Figures
that no case of a population has are left out.`;

const after = `## What is not covered, and why

- Groups measured from the positive end show only against an earlier round whose groups differ; one round alone looks
  the same both ways.
- A load that changes between two samples of a coarse log: nothing in the log shows it.
- A load that ended within a long silence of the log, where the voltage after it shows no recovery: the silence is
  counted as loaded.
- A logger without a column of current, in steps of 20 mV, that began at rest under a load so light that the voltage
  jumps by less than two steps: where the load came on is not seen.
- Cells whose resistance or temperature changes during the pulse; contacts that change during a log.
- Time constants are told with 14 % of doubt at least, since a cell has more of them than can be told apart; they are
  left out wherever the log does not show one or two and no more.
- Where charge is read by the table of a chemistry, makes differ from it within a limit: an interval that rests on that
  limit alone holds more often than nineteen times of twenty.
- A capacity that somebody noted without a log: nobody knows what measured it, 5 % either way is taken.
- A fade along a straight line holds more often than nineteen times of twenty: a knee may always still come, and the
  interval leaves room for it.
- A charger that did not balance leaves open whether a low group is weak or was left behind: the capacity lies in one
  of two places, and the interval holds both.
- The whole of a pack measured at its terminals holds its leads and joints: the value of the weakest group is a little
  too high.
- A cylindrical cell of unknown make may be of mixed oxide, cobalt or manganese: its interval includes all three and
  holds more often than nineteen times of twenty. Logs without a rest before the load show the make badly, since the
  voltage that the load costs is not measured.
- Pouch cells and other chemistries have one table each: a make beyond its limit is not expected.
- Which of two welded cells is the weaker: both count as half of the pair.
- Groups of cells that were measured with different tools: their uncertainties are added as if all leaned the same
  way, so that the interval is wider than it need be.
- Resistances told by a charger are its own kind of figure: only its last digit and its maker's promise are in the
  uncertainty. Of a group of a pack ± 5 % is taken where nobody noted that promise.`;

main(process.argv.slice(2));
