import type { HouseRules } from '@/core/chemistry/houseRules';
import { endOfLife } from '@/core/judging/endOfLife';
import type { ClinicVerdict } from '@/core/judging/judgeClinic';
import { isPack, type JudgedSubject } from '@/core/judging/subject';
import { database } from '@/records/database';
import { newestRemedy } from '@/records/periods';
import { Grounds } from '@/stations/Grounds';
import { Link } from '@/ui/Link';
import { ageSignText, endOfLifeText, signMark } from '@/words/retiring';
import type { JudgedRounds } from './PackGroups';

interface EndOfLifeProps {
  subject: JudgedSubject;
  /** Of a pack. */
  rounds: JudgedRounds | null;
  verdict: ClinicVerdict | null;
  rules: HouseRules;
}

const hourMs = 3_600_000;

/** What speaks for the end of it, weighed; nothing where nothing does. */
export async function EndOfLife({ subject, rounds, verdict: clinic, rules }: EndOfLifeProps) {
  const pack = isPack(subject) ? subject : null;
  const remedy = pack && (await newestRemedy(database(), pack.id));
  const asNewAh = pack?.asNew?.capacityAh ?? null;
  const { signs, verdict } = endOfLife(
    {
      findings: subject.findings,
      capacity: subject.capacity,
      capacityIsAtLeast: subject.capacityIsAtLeast,
      asNewAh: asNewAh ?? subject.ratedCapacityAh,
      isNewMeasured: asNewAh !== null,
      amongGroups: pack?.amongGroups ?? null,
      held: subject.held,
      rescues: subject.rescues,
      imbalancesV: (rounds?.standing ?? [])
        .filter(({ state, judgement }) => (state === 'rest' || state === 'charge-end') && judgement.groups.length > 1)
        .map(({ judgement }) => judgement.spreadV.value),
      balancedH: remedy?.endedAt ? (remedy.endedAt.getTime() - remedy.beganAt.getTime()) / hourMs : null,
      servedS: (pack?.uses ?? []).flatMap(({ durationS }) => durationS ?? []),
      isRepairable: clinic?.act === 'repair',
    },
    rules,
  );
  if (signs.length === 0) return null;
  return (
    <section className="sheet mb-3" aria-label="Signs of age">
      <h2>Signs of age</h2>
      <p className={verdict === 'retire' ? 'hot' : ''} style={{ fontSize: '1.3rem', fontWeight: 700 }}>
        {endOfLifeText[verdict]}
      </p>
      <ul className="reasons mb-2">
        {signs.map((sign) => (
          <li key={JSON.stringify(sign)}>
            <b className={sign.weight === 'end' ? 'hot' : ''}>{signMark[sign.weight]}</b> {ageSignText(sign)}{' '}
            {/* That rise is shown above already, with its rule. */}
            {sign.code !== 'risen' && <Grounds rule={sign.rule} code={sign.code} />}
          </li>
        ))}
      </ul>
      <p className="mb-0">
        {verdict === 'light-duty' && 'It can still serve as a bench or test battery, marked as such. '}
        <Link href={`/retire/${subject.code}`}>Retire it, step by step</Link>
      </p>
    </section>
  );
}
