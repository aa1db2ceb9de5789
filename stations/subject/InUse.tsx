import { chemistries } from '@/core/chemistry/chemistries';
import type { HouseRules } from '@/core/chemistry/houseRules';
import type { JudgedCell } from '@/core/judging/judgeCell';
import type { JudgedPack } from '@/core/judging/judgePack';
import { isPack, type JudgedSubject } from '@/core/judging/subject';
import { serviceTimeOf } from '@/core/judging/serviceTimeOf';
import { alarmOf } from '@/core/planning/serviceTime';
import { display, formatFigure, formatQuantity } from '@/core/quantity/format';
import type { Quantity } from '@/core/quantity/quantity';
import { comparableOhmAh, heatW, highestCurrentA, sagV } from '@/core/resistance/uses';
import { acrossSizes } from '@/ui/displays';
import { alarmText, serviceTimeText } from '@/words/use';
import { AtCurrent } from '../AtCurrent';
import { Grounds } from '@/stations/Grounds';
import { RuleLink } from '../RuleLink';

/** Through what a current flows, and where it gives in first. */
interface Flowing {
  whole: Quantity;
  /** How the figure was come by. */
  known: string;
  /** The group that gives in first; null of a cell, or where groups were not read. */
  weakest: { position: number; resistance: Quantity } | null;
  /** What the house's sag is asked of, and its name. */
  limiting: Quantity | null;
  limits: string;
}

const ofCell = ({ resistance }: JudgedCell): Flowing | null =>
  resistance && { whole: resistance, known: 'after 10 s', weakest: null, limiting: resistance, limits: 'It' };

function ofPack({ resistanceTimes, series, weakest: graded }: JudgedPack): Flowing | null {
  const newest = resistanceTimes.find(({ whole, sum }) => whole ?? sum);
  const whole = newest?.whole ?? newest?.sum;
  if (!newest || !whole) return null;
  const among = newest.groups.toSorted((a, b) => b.resistance.value - a.resistance.value);
  const known = among.length > 1 ? among[0] : graded;
  const weakest = series > 1 ? (known ?? null) : null;
  // Without figures of the groups each is taken to have its share.
  const mean = series > 1 ? 'A group' : 'It';
  return {
    whole,
    known: 'from end to end by its newest figure',
    weakest,
    limiting: weakest?.resistance ?? newest.perGroup,
    limits: weakest ? 'That group' : mean,
  };
}

const watts = { unit: 'W', factor: 1, decimals: 2 };

interface InUseProps {
  subject: JudgedSubject;
  amps: number;
  rules: HouseRules;
}

/** What the resistance of a cell or pack means in use, at a current one chooses. */
export function InUse({ subject, amps, rules }: InUseProps) {
  const flowing = isPack(subject) ? ofPack(subject) : ofCell(subject);
  if (!flowing && !isPack(subject)) return null;
  return (
    <section className="sheet mb-3" aria-label="In use">
      <AtCurrent amps={amps} />
      {isPack(subject) && <Serves pack={subject} amps={amps} rules={rules} />}
      {flowing && <Flows subject={subject} flowing={flowing} amps={amps} rules={rules} />}
    </section>
  );
}

/** For how long a pack serves, full, and at what its alarm is set. */
function Serves({ pack, amps, rules }: { pack: JudgedPack; amps: number; rules: HouseRules }) {
  const alarm = alarmOf(pack.chemistry, rules);
  const time = serviceTimeOf(pack, amps, rules);
  return (
    <>
      <p className="mb-0 mt-2" style={{ fontSize: '1.3rem', fontWeight: 700 }}>
        {serviceTimeText(time, amps)} <Grounds code={time.code} />
      </p>
      <p className="mb-0">
        {time.code === 'serves' && (
          <>
            By its present capacity, full{time.sagV === null ? '; nobody read how far it sags' : ''}.{' '}
            <RuleLink rule="reserveShare" />{' '}
          </>
        )}
        {alarm && (
          <>
            {alarmText(alarm)} {alarm.rule && <RuleLink rule={alarm.rule} />}
          </>
        )}
      </p>
    </>
  );
}

/** What its resistance means at that current. */
function Flows({ subject, flowing, amps, rules }: InUseProps & { flowing: Flowing }) {
  const { whole, known, weakest, limiting, limits } = flowing;
  const sagLimitV = rules.sagShare * chemistries[subject.chemistry].nominalV;
  const sagged = isPack(subject) && subject.series > 1 ? display.voltage : display.milliVolt;
  return (
    <p className="mb-0 mt-2">
      {formatQuantity(whole, display.resistance)} {known}: at {amps} A it sags{' '}
      {formatQuantity(sagV(amps, whole), sagged)} and turns {formatQuantity(heatW(amps, whole), watts)} into heat.{' '}
      {weakest &&
        `Group ${weakest.position} gives in first: of that it sags ` +
          `${formatQuantity(sagV(amps, weakest.resistance), display.milliVolt)} and gets ` +
          `${formatQuantity(heatW(amps, weakest.resistance), watts)}. `}
      {limiting &&
        `${limits} sags by ${Math.round(rules.sagShare * 100)} % ` +
          `(${formatFigure(sagLimitV, display.milliVolt)}) at ` +
          `${formatQuantity(highestCurrentA(sagLimitV, limiting), display.current)}.`}{' '}
      <RuleLink rule="sagShare" />{' '}
      {isPack(subject)
        ? 'A figure told by a charger holds for its own rate and minute; a load of ten seconds may show more.'
        : cellBesideOthers(subject)}
    </p>
  );
}

/** A cell beside cells of other sizes, and beside itself when new. */
function cellBesideOthers({ resistance, capacity, capacityIsAtLeast, asNewOhm }: JudgedCell): string {
  if (!resistance) return '';
  const across =
    capacity && !capacityIsAtLeast
      ? `Across sizes: ${formatQuantity(comparableOhmAh(resistance, capacity.value), acrossSizes)}. `
      : '';
  const since =
    asNewOhm === null
      ? ''
      : `New it had ${formatFigure(asNewOhm, display.resistance)}: now ` +
        `${(resistance.value / asNewOhm).toFixed(2)} times that.`;
  return across + since;
}
