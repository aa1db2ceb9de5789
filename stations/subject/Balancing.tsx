import { chemistries } from '@/core/chemistry/chemistries';
import type { Rechargeable } from '@/core/chemistry/openCircuit';
import type { ClinicVerdict } from '@/core/judging/judgeClinic';
import type { JudgedPack } from '@/core/judging/judgePack';
import { usualBalancing } from '@/core/packs/balancing';
import { refuseUnfit, type Uneven, usualDrainA, usualTopUpA } from '@/core/packs/remedies';
import { nothingWanted } from '@/core/planning/sheet';
import { currentsOf } from '@/core/planning/sheetCurrents';
import type { SubjectState } from '@/core/state/subjectState';
import { database } from '@/records/database';
import { type BegunRemedy, newestRemedy } from '@/records/periods';
import { When } from '@/ui/When';
import { hoursText, millivolts } from '@/words/figures';
import { refusalOf } from '@/words/impossible';
import { balancedText, readAllFirst, remedySteps, remedyText } from '@/words/remedies';
import { type ChargerHere, chargersHere } from '@/workshop/chargers';
import { now } from '@/workshop/clock';
import type { Workshop } from '@/workshop/judged';
import { stateNow } from '@/workshop/states';
import { EndRemedy } from './EndRemedy';
import type { JudgedRounds } from './PackGroups';
import { Remedies } from './Remedies';

interface BalancingProps {
  pack: JudgedPack;
  rounds: JudgedRounds;
  workshop: Workshop;
  verdict: ClinicVerdict;
}

/** Balancing a pack: what is under way, what came of the last, and the ways there are. */
export async function Balancing({ pack, rounds: { standing }, workshop, verdict }: BalancingProps) {
  const begun = await newestRemedy(database(), pack.id);
  const state = stateNow(pack, workshop);
  if (begun && begun.endedAt === null) return <UnderWay code={pack.code} begun={begun} state={state} />;
  const { limits } = workshop.rules;
  const atRest = standing.filter(({ state: how }) => how === 'rest');
  const [rested] = atRest;
  const ended = begun?.endedAt ?? null;
  const restedAt = ended && new Date(ended.getTime() + limits.restAfterChargeH * 3_600_000);
  // What was measured before the rest was over says too little. The first after it shows the result.
  const since = restedAt && atRest.findLast(({ takenAt }) => takenAt >= restedAt);
  const restLeftS = restedAt ? (restedAt.getTime() - now().getTime()) / 1000 : 0;
  const outcome = begun && ended && (
    <Outcome begun={begun} endedAt={ended} apartV={since?.judgement.spreadV.value ?? null} restLeftS={restLeftS} />
  );
  const bad = verdict.act === 'repair' ? verdict.positions : [];
  const isAsked = verdict.act === 'balance' || verdict.act === 'downgrade' || verdict.act === 'measure';
  const isUneven = rested !== undefined && rested.judgement.spreadV.value > limits.spreadGoodV;
  // Until its groups are measured again its state is unknown.
  const isWaiting = ended !== null && !since;
  const offers = (bad.length > 0 || (isAsked && isUneven)) && !isWaiting;
  if (!offers && !outcome) return null;
  return (
    <section className="sheet mb-3" aria-label="Balancing" id="remedies">
      <h2>{bad.length > 0 ? 'Repair' : 'Balancing'}</h2>
      {outcome}
      {offers && rested && <Ways pack={pack} state={state} restId={rested.id} workshop={workshop} bad={bad} />}
    </section>
  );
}

interface WaysProps extends Pick<BalancingProps, 'pack' | 'workshop'> {
  state: SubjectState;
  restId: number;
  bad: number[];
}

function Ways({ pack, state, restId, workshop, bad }: WaysProps) {
  if (pack.chemistry === 'alkaline') return null;
  const { chemistry } = pack;
  // A group that is replaced may be at any voltage.
  const kept = state.groups.map(({ restV, position }) => (bad.includes(position) ? null : (restV?.value ?? null)));
  const refused = refusalOf(() => refuseUnfit(chemistry, kept));
  if (!state.isGroupsRead) return <p className="mb-0">{readAllFirst}</p>;
  if (refused) return <p className="hot mb-0">◆ {refused}</p>;
  const isNickel = chemistries[chemistry].family === 'nickel';
  const [charger] = chargersHere(workshop);
  return (
    <>
      {isNickel && (
        <p className="ask">
          Nickel is balanced by its own slow charge: a tenth of its capacity for sixteen hours, watched for warmth. What
          follows is for single groups at their leads.
        </p>
      )}
      <Remedies
        key={restId}
        code={pack.code}
        pack={unevenOf(state, chemistry, bad)}
        usual={{
          charger: { ...usualBalancing(chemistry), ...chargerFor(charger, state, workshop), timerS: null },
          topUpCurrentA: usualTopUpA,
          drainCurrentA: usualDrainA,
        }}
      />
    </>
  );
}

/** The groups as the state has them. */
const unevenOf = (state: SubjectState, chemistry: Rechargeable, bad: number[]) => ({
  chemistry,
  curve: state.curve,
  groups: state.groups.map(({ soc, capacity, resistance }) => ({
    soc: soc ?? { value: 0.5, u: 0.3 },
    capacityAh: capacity.value,
    resistanceOhm: resistance.value,
  })),
  connector: connectorOf(state),
  floorV: state.limits.floorV,
  combined: true,
  bad,
});

/** Where no connector is noted, its steps do not name one. */
const connectorOf = ({ connector }: SubjectState): Uneven['connector'] =>
  connector === 'balance' ? 'balance' : 'none';

/** The same current as on the charger sheet. */
function chargerFor({ limits }: ChargerHere, state: SubjectState, workshop: Workshop) {
  const measured = { measuredV: null, groupsV: null, isCounted: true, isLabelRead: true };
  const rules = workshop.rules.limits;
  const request = {
    state,
    measured,
    charger: limits,
    goal: 'balance' as const,
    wanted: nothingWanted,
    rules,
    loadOhm: null,
  };
  const currents = currentsOf(request);
  return { currentA: 'code' in currents ? limits.stepA : currents.charge.currentA, bleedA: limits.bleedA };
}

function UnderWay({ code, begun, state }: { code: string; begun: BegunRemedy; state: SubjectState }) {
  const { entry, beganAt, told } = begun;
  const steps = told.connector
    ? remedySteps(
        {
          kind: told.way,
          moves: (told.movePositions ?? []).map((position, i) => ({
            position,
            chargeAh: told.moveAh?.[i] ?? 0,
            stopV: told.moveStopV?.[i] ?? 0,
          })),
          timerChance: 0,
          packV: told.packV ?? 0,
        },
        {
          connector: told.connector,
          chemistry: state.chemistry as Rechargeable,
          topUpCurrentA: told.topUpA,
          drainCurrentA: told.drainA,
          series: state.series,
          capacityAh: Infinity,
          charger: { currentA: told.chargeA, bleedA: told.bleedA, timerS: told.timerS },
        },
      )
    : [];
  return (
    <section className="sheet lead-ember mb-3" aria-label="Balancing" id="remedies">
      <h2>{remedyText(told.way)}</h2>
      <p style={{ fontSize: '1.3rem', fontWeight: 700 }} className="mb-1">
        Until about <When at={beganAt.getTime() + told.hours * 3_600_000} as="HH:mm, d MMM" />
      </p>
      {steps.length > 0 && (
        <ol className="ps-3 mb-2">
          {steps.map((step) => (
            <li key={step}>{step}</li>
          ))}
        </ol>
      )}
      <p className="ask">
        Started <When at={beganAt} as="HH:mm, d MMM" />; forecast {hoursText(told.hours * 3600)}, then groups within{' '}
        {millivolts(told.spreadV)}. Stay with it; stop when anything gets warm.
      </p>
      <EndRemedy code={code} entry={entry} />
    </section>
  );
}

interface OutcomeProps {
  begun: BegunRemedy;
  endedAt: Date;
  apartV: number | null;
  restLeftS: number;
}

/** What came of it, beside its forecast. */
const Outcome = ({ begun, endedAt, apartV, restLeftS }: OutcomeProps) => (
  <p className={apartV === null ? 'ask' : 'mb-2'}>
    <When at={endedAt} as="d MMM" />:{' '}
    {balancedText(begun.told, (endedAt.getTime() - begun.beganAt.getTime()) / 1000, apartV, restLeftS)}
  </p>
);
