import { chemistries } from '@/core/chemistry/chemistries';
import { openCircuitOf, type Rechargeable } from '@/core/chemistry/openCircuit';
import type { ClinicVerdict } from '@/core/judging/judgeClinic';
import type { JudgedPack } from '@/core/judging/judgePack';
import { usualBalancing } from '@/core/packs/balancing';
import { refuseUnfit, usualDrainA, usualTopUpA } from '@/core/packs/remedies';
import { database } from '@/records/database';
import { type BegunRemedy, newestRemedy } from '@/records/periods';
import { When } from '@/ui/When';
import { hoursText, millivolts } from '@/words/figures';
import { refusalOf } from '@/words/impossible';
import { evenedText, readAllFirst, remedyText } from '@/words/remedies';
import type { Workshop } from '@/workshop/judged';
import { EndRemedy } from './EndRemedy';
import type { JudgedRounds } from './PackGroups';
import { Remedies } from './Remedies';

interface EvenOutProps {
  pack: JudgedPack;
  rounds: JudgedRounds;
  workshop: Workshop;
  verdict: ClinicVerdict;
}

/** A charger nobody said anything of: half the capacity an hour, a small bleed, two hours of timer. */
const usualCharger = (chemistry: Rechargeable, capacityAh: number) => ({
  ...usualBalancing(chemistry),
  currentA: Number(Math.min(2, capacityAh / 2).toPrecision(1)),
  bleedA: 0.1,
  timerS: 7200,
});
/** Points of a learnt curve that go to the browser. */
const curvePoints = 100;

/** Evening a pack out: what is under way, what came of the last, and the ways there are. */
export async function EvenOut({ pack, rounds: { standing }, workshop, verdict }: EvenOutProps) {
  const begun = await newestRemedy(database(), pack.id);
  if (begun && begun.endedAt === null) return <UnderWay code={pack.code} begun={begun} />;
  const atRest = standing.filter(({ state }) => state === 'rest');
  const [rested] = atRest;
  const ended = begun?.endedAt ?? null;
  // The newest comes first: what was read first after it tells what came of it.
  const since = ended && atRest.findLast(({ takenAt }) => takenAt > ended);
  const outcome = begun && ended && (
    <Outcome begun={begun} endedAt={ended} spreadV={since?.judgement.spreadV.value ?? null} />
  );
  const bad = verdict.act === 'repair' ? verdict.positions : [];
  const isAsked = verdict.act === 'balance' || verdict.act === 'downgrade' || verdict.act === 'measure';
  const isUneven = rested !== undefined && rested.judgement.spreadV.value > workshop.rules.limits.spreadGoodV;
  // Until its groups are read again nobody knows how it stands.
  const isWaiting = ended !== null && !since;
  const offers = (bad.length > 0 || (isAsked && isUneven)) && !isWaiting;
  if (!offers && !outcome) return null;
  return (
    <section className="sheet mb-3" aria-label="Evening it out" id="remedies">
      <h2>{bad.length > 0 ? 'Mending it' : 'Evening it out'}</h2>
      {outcome}
      {offers && rested && <Ways pack={pack} rested={rested} workshop={workshop} bad={bad} />}
    </section>
  );
}

function Ways({
  pack,
  rested,
  workshop,
  bad,
}: Pick<EvenOutProps, 'pack' | 'workshop'> & { rested: JudgedRounds['standing'][number]; bad: number[] }) {
  if (pack.chemistry === 'alkaline') return null;
  const { chemistry } = pack;
  const volts = rested.judgement.groups.map(({ voltageV }) => voltageV);
  // What is replaced may stand anywhere.
  const kept = rested.groupVoltagesV.map((voltageV, i) => (bad.includes(i + 1) ? null : voltageV));
  const refused = refusalOf(() => refuseUnfit(chemistry, kept));
  if (volts.length < pack.series) return <p className="mb-0">{readAllFirst}</p>;
  if (refused) return <p className="hot mb-0">◆ {refused}</p>;
  const learnt = workshop.curves.learntOf(pack)?.curve ?? null;
  const curve = learnt ?? openCircuitOf(chemistry);
  const capacityAh = pack.capacity?.value ?? pack.ratedCapacityAh;
  const isNickel = chemistries[chemistry].family === 'nickel';
  return (
    <>
      {isNickel && (
        <p className="ask">
          Nickel is evened out by its own slow charge: a tenth of its capacity for sixteen hours, watched for warmth.
          What follows is for single groups at their leads.
        </p>
      )}
      <Remedies
        key={rested.id}
        code={pack.code}
        pack={{
          chemistry,
          curve:
            learnt &&
            Array.from(
              { length: curvePoints + 1 },
              (_, k) => [k / curvePoints, learnt.voltageAt(k / curvePoints)] as const,
            ),
          groups: rested.judgement.groups.map(({ voltageV, position }) => ({
            soc: curve.socAt({ value: voltageV, u: 0.002 }),
            capacityAh,
            resistanceOhm: pack.amongGroups?.groups.find((one) => one.position === position)?.resistance.value ?? null,
          })),
          combined: true,
          bad,
        }}
        usual={{ charger: usualCharger(chemistry, capacityAh), topUpCurrentA: usualTopUpA, drainCurrentA: usualDrainA }}
      />
    </>
  );
}

const UnderWay = ({ code, begun: { entry, beganAt, told } }: { code: string; begun: BegunRemedy }) => (
  <section className="sheet lead-ember mb-3" aria-label="Evening it out" id="remedies">
    <h2>{remedyText(told.way)}</h2>
    <p style={{ fontSize: '1.3rem', fontWeight: 700 }} className="mb-1">
      Until about <When at={beganAt.getTime() + told.hours * 3_600_000} as="HH:mm, d MMM" />
    </p>
    <p className="ask">
      Begun <When at={beganAt} as="HH:mm, d MMM" />; foretold {hoursText(told.hours * 3600)}, and groups within{' '}
      {millivolts(told.spreadV)} afterwards. Stay with it; stop when anything gets warm.
    </p>
    <EndRemedy code={code} entry={entry} />
  </section>
);

/** What came of it, beside what was foretold. */
const Outcome = ({ begun, endedAt, spreadV }: { begun: BegunRemedy; endedAt: Date; spreadV: number | null }) => {
  const tookS = (endedAt.getTime() - begun.beganAt.getTime()) / 1000;
  return (
    <p className={spreadV === null ? 'ask' : 'mb-2'}>
      <When at={endedAt} as="d MMM" />: {evenedText(begun.told, tookS, spreadV)}
    </p>
  );
};
