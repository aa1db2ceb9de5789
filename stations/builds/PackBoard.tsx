'use client';

import type { PackNeed } from '@/core/judging/candidates';
import type { BuiltOtherwise } from '@/core/matching/compare';
import { groupFigures, packFigures } from '@/core/matching/groupFigures';
import { groupWarnings, type Match, type MatchCell, type MatchLimits } from '@/core/matching/match';
import { type CellPlaces, swapped } from '@/core/matching/swap';
import type { KnownCell } from '@/core/simulation/predictRun';
import type { PlainCurve, Rechargeable } from '@/core/chemistry/openCircuit';
import { display, formatFigure } from '@/core/quantity/format';
import { Grounds } from '@/stations/Grounds';
import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { PlusMinus } from '@/ui/PlusMinus';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { warningText } from '@/words/warnings';
import { type ReactNode, useMemo, useState } from 'react';
import Button from 'react-bootstrap/Button';
import { saveBuildAction } from './actions';
import { swapRefusalText } from './buildWords';
import { PackCapacity } from './PackCapacity';
import { PackColumns } from './PackColumns';
import { Drift } from './Drift';
import { Prediction } from './Prediction';

/** What the pack is taken to carry where not noted. */
export interface Usual {
  chemistry: Rechargeable;
  lowestV: number;
  /** That all cells share; null where their models differ. */
  curve: PlainCurve | null;
}

interface PackBoardProps {
  match: Match;
  isStopped: boolean;
  otherwise: BuiltOtherwise | null;
  need: PackNeed;
  measured: Record<string, KnownCell>;
  limits: MatchLimits;
  /** Null of cells that are never charged. */
  usual: Usual | null;
  /** What is shown beside the answer. */
  children: ReactNode;
}

const idsOf = (cells: readonly { id: string }[]): string[] => cells.map(({ id }) => id);

/** A match as the pack it makes; cells change place by hand, and every figure follows. */
export function PackBoard(props: PackBoardProps) {
  const { match, isStopped, otherwise, need, measured, limits, usual, children } = props;
  const start: CellPlaces = {
    groups: match.groups.map(({ cells }) => idsOf(cells)),
    left: idsOf([...match.left].sort((a, b) => b.capacityAh - a.capacityAh)),
  };
  const [steps, setSteps] = useState<readonly CellPlaces[]>([start]);
  const [refused, setRefused] = useState<string | null>(null);
  const placed = steps.at(-1) ?? start;
  const cells = useMemo(
    () => new Map([...match.groups.flatMap((group) => group.cells), ...match.left].map((cell) => [cell.id, cell])),
    [match],
  );
  const known = (code: string): KnownCell | undefined => measured[code];
  const models = (codes: readonly string[]): string[] => [
    ...new Set(codes.flatMap((code) => cells.get(code)?.model ?? [])),
  ];
  const isOfSeveral = models(placed.groups.flat()).length > 1;
  const groups = placed.groups.map((codes) => ({
    codes: [...codes],
    ...(isOfSeveral && { model: models(codes).join(' and ') }),
    ...groupFigures(codes.map((code) => known(code) ?? { capacity: null, resistance: null })),
  }));
  const capacity = packFigures(groups).capacity?.value ?? null;
  const warnings = groupWarnings(
    placed.groups.map((codes) => codes.flatMap((code): MatchCell | [] => cells.get(code) ?? [])),
    limits,
  );

  const change = (one: string, other: string): void => {
    const bonds = new Map(
      [...cells.values()].flatMap(({ id, bond }) => (bond === undefined ? [] : [[id, bond] as const])),
    );
    const next = swapped(placed, one, other, bonds);
    if ('code' in next) setRefused(swapRefusalText(next));
    else {
      setRefused(null);
      setSteps([...steps, next]);
    }
  };
  const takeBack = (): void => {
    setRefused(null);
    if (steps.length > 1) setSteps(steps.slice(0, -1));
  };

  return (
    <>
      <div className="cols">
        <div className="stack">
          <section className="sheet lead-ember" aria-label="Pack capacity">
            <div className="soft">Capacity of the pack, set by its weakest group</div>
            <PackCapacity groups={groups} />
            <p className="mb-2">
              {proofText(match, isStopped, need.enoughAh)} {chasedText(match)}
            </p>
            {steps.length > 1 && (
              <p className="mb-2" role="status">
                Changed by hand {steps.length - 1} ×: {differenceText((capacity ?? 0) - match.packCapacityAh)} the
                match.{' '}
                <Button variant="quiet" onClick={takeBack}>
                  Take back
                </Button>
              </p>
            )}
            {otherwise && <Otherwise match={match} otherwise={otherwise} />}
          </section>
          {warnings.length > 0 && (
            <section className="sheet" aria-label="To see to">
              {warnings.map((warning) => (
                <p key={warningText(warning)} className="ask mb-1">
                  {warningText(warning)} <Grounds code={warning.code} />
                </p>
              ))}
            </section>
          )}
        </div>
        <div className="stack">
          {children}
          <section className="sheet" aria-label="What counts">
            <h2>What counts, in this order</h2>
            <ol className="mb-0 ps-3">
              {whatCounts(need).map((what) => (
                <li key={what}>{what}</li>
              ))}
            </ol>
          </section>
        </div>
      </div>
      {refused && (
        <p className="hot" role="alert">
          ◆ {refused}
        </p>
      )}
      <PackColumns groups={groups} left={placed.left} known={known} need={need} change={change} takeBack={takeBack} />
      <p className="soft">Before joining cells in parallel, bring their voltages together. Measure each one now.</p>
      {usual && <Prediction need={need} usual={usual} groups={placed.groups} known={known} />}
      {usual && <Drift groups={placed.groups} known={known} />}
      <PlusMinus />
      <SaveForm need={need} placed={placed} />
    </>
  );
}

function proofText({ proven, gap, possibleAh }: Match, isStopped: boolean, enoughAh: number | null): string {
  if (enoughAh !== null && possibleAh >= enoughAh)
    return `As large as asked for, ${formatFigure(enoughAh, display.capacity, 2)}; the better cells are spared.`;
  if (proven) return 'No other arrangement of these cells is better.';
  const within = gap < 1e-4 ? 'a ten-thousandth' : formatFigure(gap, { ...display.share, decimals: 2 });
  return `${isStopped ? 'Stopped: no' : 'No'} arrangement of these cells is better by more than ${within}.`;
}

/** Nothing where the capacity was not given up for anything. */
function chasedText({ possibleAh, packCapacityAh }: Match): string {
  const givenUp = possibleAh - packCapacityAh;
  return givenUp < 5e-4
    ? ''
    : `Its weakest group could be ${formatFigure(givenUp, display.milliCapacity)} stronger. ` +
        'That is within the uncertainty, so the match equalised the resistances instead.';
}

const whatCounts = ({ enoughAh, pins, without }: PackNeed): string[] => [
  `Welded cells stay together${pins.length + without.length > 0 ? ', and cells that must or must not be in it' : ''}.`,
  `The weakest group is as large as ${enoughAh === null ? 'can be' : formatFigure(enoughAh, display.capacity, 2)}.`,
  'Groups are equal.',
  'Resistances within a group are alike, and those of the groups.',
  'Cells that are not needed stay on the shelf, the better ones first.',
];

const differenceText = (ah: number): string => {
  const rounded = Math.round(ah * 1000);
  if (rounded === 0) return 'as good as';
  return `${formatFigure(Math.abs(ah), display.milliCapacity)} ${rounded < 0 ? 'below' : 'above'}`;
};

function Otherwise({ match, otherwise }: { match: Match; otherwise: BuiltOtherwise }) {
  const { labelOrderAh, randomAh, betterCell } = otherwise;
  const rows: [what: string, ah: number | null][] = [
    ['In the order of their labels', labelOrderAh],
    ['At random, median of 200', randomAh],
    [`With one more cell of ${formatFigure(betterCell.capacityAh, display.capacity, 2)}`, betterCell.packAh],
  ];
  return (
    <table className="table mb-0" aria-label="Built otherwise">
      <tbody>
        {rows.map(([what, ah]) => (
          <tr key={what}>
            <td>{what}</td>
            <td className="num">{ah === null ? 'welded cells do not fall so' : formatFigure(ah, display.capacity)}</td>
            <td className="num soft">{ah !== null && differenceText(ah - match.possibleAh)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function SaveForm({ need, placed }: { need: PackNeed; placed: CellPlaces }) {
  const { answer, pending, form } = useFormAnswer('save build', saveBuildAction);
  return (
    <form className="sheet" {...form} aria-label="Save this build">
      <input type="hidden" name="series" value={need.series} />
      <input type="hidden" name="parallel" value={need.parallel} />
      <input type="hidden" name="groups" value={JSON.stringify(placed.groups)} />
      <Field
        name="name"
        label="Name of the pack"
        error={answer?.ok === false ? answer.fields.name : undefined}
        hint="Where it will serve"
      />
      <FormEnd
        refused={answer?.ok === false ? answer.said : null}
        pending={pending}
        label="Save and set the cells aside"
        busy="Saving …"
      />
    </form>
  );
}
