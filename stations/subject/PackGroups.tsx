import type { PackRound } from '@/core/judging/facts';
import type { JudgedDiagnosis, ReadRound } from '@/core/judging/judgeDiagnosis';
import { type JudgedPack, judgePackRound } from '@/core/judging/judgePack';
import { decimalsOfStep, type Display, display, formatFigure, quantityParts } from '@/core/quantity/format';
import { type PackJudgement, type PackState, packStates } from '@/core/packs/groupVoltages';
import type { Quantity } from '@/core/quantity/quantity';
import { Link } from '@/ui/Link';
import { Pages } from '@/ui/Pages';
import { When } from '@/ui/When';
import { packSayingText, stateTexts, sumAloneText, sumText, urgentOf } from '@/words/packs';
import type { Workshop } from '@/workshop/judged';
import { RuleLink } from '../RuleLink';
import { VoidEntry } from '../VoidEntry';
import { GroupPicture } from './GroupPicture';
import { GroupsOverTime } from './GroupsOverTime';

/** Every round of a pack's voltages, the newest first; valid ones with what the house rules say of them. */
export interface JudgedRounds {
  standing: (PackRound & { judgement: PackJudgement })[];
  voided: PackRound[];
}

/** The groups, from the negative terminal, whose readings in a round the causes that were named rest on. */
export type RestsOn = (round: ReadRound) => number[];

export const restsOnIn =
  (diagnosis: JudgedDiagnosis | null): RestsOn =>
  (round) => {
    const at = diagnosis?.rounds.indexOf(round) ?? -1;
    return diagnosis?.groups.flatMap(({ position, restsOn }) => (restsOn.includes(at) ? [position] : [])) ?? [];
  };

export const judgedRounds = (pack: JudgedPack, rounds: readonly PackRound[], workshop: Workshop): JudgedRounds => ({
  standing: rounds
    .filter((round) => round.voidReason === null)
    .map((round) => ({
      ...round,
      judgement: judgePackRound(pack, round, workshop.rules.limits, workshop),
    })),
  voided: rounds.filter((round) => round.voidReason !== null),
});

interface PackGroupsProps {
  pack: JudgedPack;
  rounds: JudgedRounds;
  /** Of the house rules in force. */
  rulesName: string;
  /** The group that its diagnosis names, from the negative terminal: hot for it alone. */
  named: number | null;
  restsOn: RestsOn;
}

/** A pack's groups against each other, the sum against the terminals, what the house rules say. */
export function PackGroups({ pack, rounds: { standing }, rulesName, named, restsOn }: PackGroupsProps) {
  const [latest, before] = standing;
  if (!latest) return null;
  const said = urgentOf(pack)?.said;
  const says = latest.judgement.says.map(packSayingText).filter((one) => one !== said);
  return (
    <section className="sheet" aria-label="Groups">
      <div className="d-flex justify-content-between flex-wrap">
        <h2>Groups, from the negative terminal</h2>
        <span className="soft">
          {stateTexts[latest.state]} · <When at={latest.takenAt} as="d MMM HH:mm" />
          {latest.instrument && ` · ${latest.instrument}`}
        </span>
      </div>
      <GroupPicture
        series={pack.series}
        groups={latest.judgement.groups.map((group) =>
          named === null ? group : { ...group, odd: group.position === named },
        )}
        medianV={latest.judgement.medianV}
        ringed={restsOn(latest)}
        before={before?.state === latest.state ? { groups: before.judgement.groups, at: before.takenAt } : null}
      />
      {says.map((one) => (
        <p key={one} className="mb-2">
          {one}
        </p>
      ))}
      <p className={`mb-2 ${latest.judgement.sumCheck?.agrees === false ? 'hot' : 'soft'}`}>
        {latest.judgement.sumCheck ? sumText(latest.judgement) : sumAloneText(latest.judgement.sum)}
      </p>
      <p className="soft mb-0">
        By <RuleLink rule={latest.judgement.levelRule} /> of <Link href="/rules">{rulesName}</Link>.
      </p>
    </section>
  );
}

/** How each group moved against the median, over the rounds of one state. */
export function GroupsInPast({
  pack,
  rounds: { standing },
  named,
}: Pick<PackGroupsProps, 'pack' | 'rounds' | 'named'>) {
  const [latest] = standing;
  const past = pastOf(standing);
  if (!latest || past.length < 2) return null;
  return (
    <section className="sheet mb-3" aria-label="Groups over time">
      <GroupsOverTime
        series={pack.series}
        times={past.map(({ takenAt, judgement }) => ({
          at: takenAt.getTime(),
          values: judgement.groups.map(({ position, deviationV }) => ({ position, value: deviationV * 1000 })),
        }))}
        unit="mV"
        decimals={0}
        caption={`Each group relative to the median over time, ${stateTexts[past[0]?.state ?? 'rest']}`}
        failing={
          named === null ? latest.judgement.groups.flatMap(({ position, odd }) => (odd ? position : [])) : [named]
        }
      />
    </section>
  );
}

/** The oldest first, of the state that was read most often: only like states compare. */
function pastOf<Round extends { state: PackState }>(standing: readonly Round[]): Round[] {
  const inState = (state: PackState) => standing.filter((round) => round.state === state);
  const [most = []] = packStates.map(inState).sort((one, other) => other.length - one.length);
  return most.toReversed();
}

/** A figure over its uncertainty, under a heading that has the unit. */
function Measured({ quantity, as }: { quantity: Quantity | null; as: Display }) {
  if (!quantity) return <td className="num">–</td>;
  const { figure, uncertainty } = quantityParts(quantity, as);
  return (
    <td className="num text-nowrap">
      {figure}
      <br />
      <span className="soft">± {uncertainty}</span>
    </td>
  );
}

const pageSize = 50;
/** Up to this many are open. */
const fewRounds = 6;

interface PackRoundsProps {
  pack: JudgedPack;
  rounds: JudgedRounds;
  restsOn: RestsOn;
  page: number;
}

/** Every round of a pack's voltages, the newest first. */
export function PackRounds({ pack, rounds, restsOn, page }: PackRoundsProps) {
  const { standing, voided } = rounds;
  const count = standing.length + voided.length;
  if (count === 0) return null;
  const tellsCharge = standing[0]?.judgement.groups.some((group) => group.soc) ?? false;
  return (
    <section className="sheet mb-3" aria-label="Rounds">
      <details open={count <= fewRounds}>
        <summary>Every reading of its groups ({count})</summary>
        <div className="table-scroll" tabIndex={0}>
          <table className="table">
            <thead>
              <tr>
                <th>Read</th>
                {Array.from({ length: pack.series }, (_, i) => (
                  <th key={i} className="num">
                    {i + 1}
                  </th>
                ))}
                <th className="num">Sum, V</th>
                <th className="num">Terminals, V</th>
                <th className="num">Imbalance, mV</th>
                {tellsCharge && <th className="num">Lowest, %</th>}
              </tr>
            </thead>
            <tbody>
              {standing.slice((page - 1) * pageSize, page * pageSize).map((round) => {
                const socs = round.judgement.groups.flatMap((group) => group.soc ?? []);
                const ringed = restsOn(round);
                const lowest = socs.length > 0 ? socs.reduce((a, b) => (b.value < a.value ? b : a)) : null;
                return (
                  <tr key={round.id}>
                    <td className="text-nowrap">
                      <span className="num">
                        <When at={round.takenAt} as="d MMM yyyy HH:mm" />
                      </span>
                      <br />
                      <span className="soft">
                        {stateTexts[round.state]}
                        {round.currentA != null && `, ${formatFigure(round.currentA, display.current)}`}
                        {round.temperatureC != null && `, ${round.temperatureC} °C`}
                      </span>
                      <br />
                      <VoidEntry entry={round.entry} name="the round" />
                    </td>
                    {round.groupVoltagesV.map((_, i) => {
                      const group = round.judgement.groups.find(({ position }) => position === i + 1);
                      return (
                        <td key={i} className={`num ${group?.odd ? 'hot fw-bold' : ''}`}>
                          {group?.odd && '◆'}
                          <span className={ringed.includes(i + 1) ? 'ringed' : ''}>
                            {group ? group.voltageV.toFixed(decimalsOfStep(group.stepV)) : '–'}
                          </span>
                        </td>
                      );
                    })}
                    <Measured quantity={round.judgement.sum} as={display.voltage} />
                    <Measured quantity={round.judgement.terminal} as={display.voltage} />
                    <Measured quantity={round.judgement.spreadV} as={display.milliVolt} />
                    {tellsCharge && <Measured quantity={lowest} as={display.charge} />}
                  </tr>
                );
              })}
              {voided.slice((page - 1) * pageSize, page * pageSize).map((round) => (
                <tr key={round.id} className="soft">
                  <td className="num text-nowrap">
                    <When at={round.takenAt} as="d MMM yyyy HH:mm" />
                  </td>
                  <td colSpan={pack.series + 4}>
                    <s className="num">
                      {round.groupVoltagesV
                        .map((v, i) => v?.toFixed(decimalsOfStep(round.groupStepsV[i] ?? 0.001)) ?? '–')
                        .join(' ')}
                    </s>{' '}
                    void: {round.voidReason}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
        <Pages
          page={page}
          total={Math.max(standing.length, voided.length)}
          size={pageSize}
          href={(to) => `/clinic/${pack.code}?page=${to}`}
        />
      </details>
    </section>
  );
}
