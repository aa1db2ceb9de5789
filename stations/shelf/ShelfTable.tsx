import { dutyReasonText } from '@/words/duty';
import { intakeReasonText } from '@/words/intake';
import { statuses } from '@/core/grading/status';
import { display, formatQuantity } from '@/core/quantity/format';
import { isPack, type JudgedSubject } from '@/core/judging/subject';
import { Link } from '@/ui/Link';
import { addressOf } from '@/ui/tokens';
import { buildText } from '../subject/buildText';
import { capacityText } from '../subject/capacityText';
import { StatusMark } from '@/ui/StatusMark';

const sorters = {
  code: (a: JudgedSubject, b: JudgedSubject) => (a.code < b.code ? -1 : 1),
  duty: (a: JudgedSubject, b: JudgedSubject) => rank(a) - rank(b),
  capacity: (a: JudgedSubject, b: JudgedSubject) => (b.capacity?.value ?? -1) - (a.capacity?.value ?? -1),
  health: (a: JudgedSubject, b: JudgedSubject) => (b.duty.health?.value ?? -1) - (a.duty.health?.value ?? -1),
  resistance: (a: JudgedSubject, b: JudgedSubject) =>
    (a.resistance?.value ?? Infinity) - (b.resistance?.value ?? Infinity),
  rate: (a: JudgedSubject, b: JudgedSubject) => (b.duty.rateC?.value ?? -1) - (a.duty.rateC?.value ?? -1),
} as const;

export type SortKey = keyof typeof sorters;

const rank = ({ standing }: JudgedSubject): number => statuses.indexOf(standing);

export const sortSubjects = (subjects: readonly JudgedSubject[], by: SortKey): JudgedSubject[] =>
  subjects.toSorted(sorters[by]);

/** The order that an address asks for; by code where it names none. */
export const sortKeyOf = (text: string | undefined): SortKey =>
  (Object.keys(sorters) as SortKey[]).find((key) => key === text) ?? 'code';

/** Sorted with the largest first. */
const descending: SortKey[] = ['capacity', 'health', 'rate'];
const directionOf = (key: SortKey) => (descending.includes(key) ? 'descending' : 'ascending');

const columns: [SortKey, string, boolean][] = [
  ['code', 'Cell or pack', false],
  ['duty', 'Duty, and why', false],
  ['capacity', 'Capacity', true],
  ['health', 'Health', true],
  ['resistance', '10-second resistance', true],
  ['rate', 'Rate at sag', true],
];

/** The shelf as rows; every heading sorts. */
export function ShelfTable({
  subjects,
  href,
  sort,
}: {
  subjects: JudgedSubject[];
  href(sort: SortKey): string;
  sort: SortKey;
}) {
  return (
    <div className="table-scroll" tabIndex={0}>
      <table className="table">
        <thead>
          <tr>
            {columns.map(([key, title, figures]) => (
              <th key={key} className={figures ? 'num' : ''} aria-sort={key === sort ? directionOf(key) : undefined}>
                <Link href={href(key)}>
                  {title}
                  {key === sort && (descending.includes(key) ? ' ▾' : ' ▴')}
                </Link>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {subjects.map((one) => (
            <tr key={one.code}>
              <td>
                <Link className="num fw-bold" href={addressOf(one.code)}>
                  {one.code}
                </Link>
                {isPack(one) && (
                  <>
                    <br />
                    <span className="soft">{buildText(one)}</span>
                  </>
                )}
              </td>
              <td style={{ minWidth: '16rem' }}>
                <StatusMark of={one.standing} atLeast={one.duty.isAtLeast} named />
                <br />
                <span className="soft">{whyOf(one)}</span>
              </td>
              <td className="num">{capacityText(one) ?? '–'}</td>
              <td className="num">
                {one.duty.health
                  ? `${one.capacityIsAtLeast ? 'at least ' : ''}${formatQuantity(one.duty.health, display.share)}`
                  : '–'}
              </td>
              <td className="num">{one.resistance ? formatQuantity(one.resistance, display.resistance) : '–'}</td>
              <td className="num">{one.duty.rateC ? formatQuantity(one.duty.rateC, display.cRate) : '–'}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** The one reason that decides: of the intake for what is out or to be rescued, else of the duty. */
export const whyOf = ({ intake, duty }: JudgedSubject): string =>
  intake.class === 'usable' ? dutyReasonText(duty.because) : intake.reasons.slice(0, 1).map(intakeReasonText).join('');
