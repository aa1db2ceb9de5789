import { display, formatQuantity } from '@/core/quantity/format';
import { isPack, type JudgedSubject } from '@/core/judging/subject';
import { Link } from '@/ui/Link';
import { StatusMark } from '@/ui/StatusMark';
import { addressOf } from '@/ui/tokens';
import { firstSaid } from '@/words/packs';
import { NextStep } from '../subject/NextStep';
import { buildText } from '../subject/buildText';
import { capacityText } from '../subject/capacityText';
import { whyOf } from './ShelfTable';

/** One cell or pack beside the map: its duty, why, and its two figures. */
export function SubjectSlip({ subject }: { subject: JudgedSubject }) {
  const { code, standing, duty, resistance } = subject;
  return (
    <section className="sheet lead-ember" aria-label={`${isPack(subject) ? 'Pack' : 'Cell'} ${code}`}>
      <div className="num" style={{ fontSize: '1.8rem', fontWeight: 700 }}>
        <Link href={addressOf(code)} className="text-reset">
          {code}
        </Link>
      </div>
      {isPack(subject) && (
        <p className="soft mb-1">
          {subject.name}, {buildText(subject)}
        </p>
      )}
      <p className="mb-1">
        <b>
          <StatusMark of={standing} atLeast={duty.isAtLeast} named />
        </b>
      </p>
      <p className="soft mb-2">{whyOf(subject)}</p>
      <div className="num">{capacityText(subject) ?? 'no capacity yet'}</div>
      <div className="num">
        {resistance ? formatQuantity(resistance, display.resistance) : 'no resistance yet'}
        {isPack(subject) && subject.weakest && ` in group ${subject.weakest.position}`}
      </div>
      {duty.rateC && <div className="num">{formatQuantity(duty.rateC, display.cRate)} at the sag limit</div>}
      {isPack(subject) && <p className="mb-0">{firstSaid(subject)?.said}</p>}
      <NextStep subject={subject} />
    </section>
  );
}
