import { chemistries } from '@/core/chemistry/chemistries';
import type { HouseRules } from '@/core/chemistry/houseRules';
import type { JudgedCell } from '@/core/judging/judgeCell';
import { isPack, type JudgedSubject } from '@/core/judging/subject';
import { alarmOf, serviceTime } from '@/core/planning/serviceTime';
import { display, formatFigure, formatQuantity } from '@/core/quantity/format';
import { quadrature, type Quantity } from '@/core/quantity/quantity';
import { comparableOhmAh, heatW, highestCurrentA, sagV } from '@/core/resistance/uses';
import type { KnownSource } from '@/core/state/known';
import type { GroupState, SubjectState } from '@/core/state/subjectState';
import { acrossSizes } from '@/ui/displays';
import { alarmText, serviceTimeText } from '@/words/use';
import { AtCurrent, type Drawn } from '../AtCurrent';
import { Grounds } from '@/stations/Grounds';
import { RuleLink } from '../RuleLink';

const watts = { unit: 'W', factor: 1, decimals: 2 };

/** How the resistance of a state is known: by the worst of its groups. */
const sourceTexts: Record<KnownSource, string> = {
  measured: 'measured under load',
  reported: 'estimated from a charger’s own figure',
  estimated: 'estimated',
  rated: 'by its label',
  usual: 'usual for its size, not measured',
};

interface InUseProps {
  subject: JudgedSubject;
  state: SubjectState;
  drawn: Drawn;
  rules: HouseRules;
}

/** What a cell or pack does in use, at a current one chooses: all by the one state. */
export function InUse({ subject, state, drawn, rules }: InUseProps) {
  if (subject.chemistry === 'alkaline') return null;
  const isMeasured = state.groups.some(({ resistance }) => resistance.source !== 'usual');
  if (!isMeasured && !isPack(subject)) return null;
  return (
    <section className="sheet mb-3" aria-label="In use">
      <AtCurrent drawn={drawn} />
      {isPack(subject) && <Serves state={state} drawn={drawn} rules={rules} />}
      {isMeasured && <Flows subject={subject} state={state} drawn={drawn} rules={rules} />}
    </section>
  );
}

/** For how long a pack serves, full and now, and at what its alarm is set. */
function Serves({ state, drawn: { amps, peakA }, rules }: Omit<InUseProps, 'subject'>) {
  const alarm = alarmOf(state.chemistry, rules);
  const full = serviceTime({ state, from: 'full', currentA: amps, peakA, rules });
  const now = serviceTime({ state, from: 'now', currentA: amps, peakA, rules });
  return (
    <>
      <p className="mb-0 mt-2" style={{ fontSize: '1.3rem', fontWeight: 700 }}>
        {serviceTimeText(full, amps)} <Grounds code={full.code} />
      </p>
      {full.code === 'serves' && <p className="mb-0">That is full. Now: {serviceTimeText(now, amps)}.</p>}
      <p className="mb-0">
        {full.code === 'serves' && (
          <>
            Group {full.position} ends it{full.sagV === null ? '; voltage sag not measured' : ''}.{' '}
            <RuleLink rule={state.chemistry === 'sla' ? 'leadReserve' : 'reserveShare'} />{' '}
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

/** From end to end: their uncertainties lean the same way. */
const wholeOf = (groups: readonly GroupState[]): Quantity => ({
  value: groups.reduce((sum, { resistance }) => sum + resistance.value, 0),
  u: quadrature(...groups.map(({ resistance }) => resistance.u)),
});

/** What its resistance means at that current. */
function Flows({ subject, state, drawn: { amps }, rules }: InUseProps) {
  const { groups, series, chemistry } = state;
  const whole = wholeOf(groups);
  const highest = groups.reduce((one, other) => (other.resistance.value > one.resistance.value ? other : one));
  const { resistance, position } = highest;
  const sagLimitV = rules.sagShare * chemistries[chemistry].nominalV;
  const sagged = series > 1 ? display.voltage : display.milliVolt;
  return (
    <p className="mb-0 mt-2">
      {formatQuantity(whole, display.resistance)} after 10 s, {sourceTexts[resistance.source]}: at {amps} A it sags{' '}
      {formatQuantity(sagV(amps, whole), sagged)} and turns {formatQuantity(heatW(amps, whole), watts)} into heat.{' '}
      {series > 1 &&
        `Group ${position} sags most: ${formatQuantity(sagV(amps, resistance), display.milliVolt)}, and gets ` +
          `${formatQuantity(heatW(amps, resistance), watts)}. `}
      {series > 1 ? 'That group' : 'It'} sags by {Math.round(rules.sagShare * 100)} % (
      {formatFigure(sagLimitV, display.milliVolt)}) at{' '}
      {formatQuantity(highestCurrentA(sagLimitV, resistance), display.current)}. <RuleLink rule="sagShare" />{' '}
      {!isPack(subject) && cellBesideOthers(subject)}
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
