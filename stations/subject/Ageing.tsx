import { isFirstAfterStorage } from '@/core/capacity/afterStorage';
import { Grounds } from '@/stations/Grounds';
import { dischargeArithmetic } from '@/core/capacity/discharge';
import { type Settled, settledBy } from '@/core/capacity/settled';
import { type RateDependence, rateDependence } from '@/core/capacity/rateDependence';
import type { AgedRun, Crossing, Trend } from '@/core/capacity/ageing';
import { chemistries } from '@/core/chemistry/chemistries';
import type { HouseRules } from '@/core/chemistry/houseRules';
import { lowestVoltageV } from '@/core/chemistry/houseRules';
import { type Ageing as Aged, type AsNew, judgeAgeing, judgeRunTimes, type RunTimes } from '@/core/judging/judgeAgeing';
import { notedCapacity } from '@/core/judging/judgePartial';
import type { Body } from '@/core/judging/bodies';
import { isPack, type JudgedSubject } from '@/core/judging/subject';
import { cyclesAt } from '@/core/packs/cycles';
import { display, formatFigure, formatQuantity } from '@/core/quantity/format';
import { database } from '@/records/database';
import type { Filed } from '@/records/ledger';
import { dischargesOf, type Discharged } from '@/records/runs';
import { When } from '@/ui/When';
import { counted } from '@/words/counted';
import { minutesText, percentText } from '@/words/figures';
import { warningText } from '@/words/warnings';
import { now } from '@/workshop/clock';
import { AgeingPicture, type AgeingMark } from './AgeingPicture';
import type { ResistanceCourse } from './resistancesRead';

type FiledOf<Kind extends Body['kind']> = { at: Date; body: Extract<Body, { kind: Kind }> }[];

/** The valid facts of one kind, the oldest first. */
const filedOf = <Kind extends Body['kind']>(filed: readonly Filed[], kind: Kind): FiledOf<Kind> =>
  filed
    .flatMap(({ body, takenAt, voidReason }) =>
      body.kind === kind && voidReason === null ? [{ at: takenAt, body: body as Extract<Body, { kind: Kind }> }] : [],
    )
    .sort((one, other) => one.at.getTime() - other.at.getTime());

interface AgeingProps {
  subject: JudgedSubject;
  filed: readonly Filed[];
  resistances: ResistanceCourse | null;
  rules: HouseRules;
}

/** How a cell or pack ages: its capacity and run times over its years, where that leads, what a cycle costs. */
export async function Ageing({ subject, filed, resistances, rules }: AgeingProps) {
  const cutoffV = lowestVoltageV(subject.chemistry, rules);
  const logged = await dischargesOf(database(), subject.id, cutoffV, dischargeArithmetic);
  const discharged = [...logged, ...notedOf(filed)].sort(
    (one, other) => one.endedAt.getTime() - other.endedAt.getTime(),
  );
  const days = discharged.map(({ endedAt }) => endedAt);
  const settled = discharged.filter(({ endedAt }) => !isFirstAfterStorage(endedAt, days, subject.chemistry));
  const rates = rateDependence(
    logged.map(({ endedAt, meanCurrentA, ...one }) => ({ ...one, atMs: endedAt.getTime(), currentA: meanCurrentA })),
    subject.chemistry,
  );
  const served = filedOf(filed, 'run-time').map(({ at, body }) => ({ at, durationS: body.durationS }));
  if (discharged.length < 2 && served.length < 2) return null;
  const asNew = isPack(subject) ? subject.asNew : null;
  const cyclesBy = cycleCounter(subject, filed);
  const aged =
    settled.length > 0 ? judgeAgeing(runsOf(subject, settled, cyclesBy), asNewOf(subject), asNew?.price ?? null) : null;
  const hasSettled = chemistries[subject.chemistry].family === 'nickel' ? settledBy(discharged) : null;
  const runTimes = judgeRunTimes(served, aged?.overTime ?? null);
  const against = aged?.asNew.capacityAh ?? subject.ratedCapacityAh;
  const read: Omit<AgeingMark, 'cycle'>[] = [
    ...discharged.map(({ endedAt, capacityAh, u }, i) => ({
      kind: 'capacity' as const,
      key: `capacity ${i}`,
      at: endedAt.getTime(),
      share: capacityAh / against,
      u: u / against,
    })),
    ...served.map(({ at, durationS }, i) => ({
      kind: 'run-time' as const,
      key: `served ${i}`,
      at: at.getTime(),
      share: durationS / (served[0]?.durationS ?? durationS),
      u: null,
    })),
    ...(resistances?.read ?? []).map(({ at, ohm }, i) => ({
      kind: 'resistance' as const,
      key: `resistance ${i}`,
      at: at.getTime(),
      share: ohm / (resistances?.read[0]?.ohm ?? ohm),
      u: null,
    })),
  ];
  const marks = read.map((mark): AgeingMark => ({ ...mark, cycle: cyclesBy(new Date(mark.at)) }));
  return (
    <section className="sheet mb-3" aria-label="How it ages" id="ageing">
      <h2>How it ages</h2>
      {aged && <Fades aged={aged} />}
      {runTimes && <Served runTimes={runTimes} />}
      {hasSettled && <p className="mb-1">{settledText(hasSettled)}</p>}
      <AgeingPicture
        marks={marks}
        overTime={(aged?.overTime?.course ?? []).map(({ at, ...one }) => ({ at: at * 1000, ...one }))}
        overCycles={aged?.overCycles?.course ?? []}
        protocol={resistances?.protocol ?? null}
      />
      {rates && <AtRates rates={rates} ratedAh={subject.ratedCapacityAh} />}
      {aged && (
        <ul className="soft mb-0 mt-2">
          <li>{asNewTexts[aged.asNew.is]}</li>
          {settled.length < discharged.length && (
            <li>
              {counted(discharged.length - settled.length, 'first discharge')} after storage left out. It shows storage,
              not health.
            </li>
          )}
          {aged.warnings
            .filter(({ code }) => code !== 'first-run-taken-as-new')
            .map((warning) => (
              <li key={warning.code}>
                {warningText(warning)} <Grounds code={warning.code} />
              </li>
            ))}
        </ul>
      )}
    </section>
  );
}

/** What it gives at different rates; health is compared at one of them. */
const AtRates = ({ rates: { byRate, peukert }, ratedAh }: { rates: RateDependence; ratedAh: number }) => (
  <p className="mb-0 mt-2">
    At different rates:{' '}
    <span className="num">
      {byRate
        .map(
          ({ capacityAh, u, currentA }) =>
            `${formatQuantity({ value: capacityAh, u }, display.capacity)} at ` +
            formatFigure(currentA / ratedAh, display.cRate),
        )
        .join(' · ')}
    </span>
    .{peukert && ` Peukert's exponent ${formatQuantity(peukert, { unit: '', factor: 1, decimals: 2 }).trim()}.`}
  </p>
);

/** Whether another cycle is worth it. */
function settledText({ code, lastAh, beforeAh }: Settled): string {
  const gave = `${formatFigure(beforeAh, display.capacity, 2)}, then ${formatFigure(lastAh, display.capacity, 2)}`;
  if (code === 'settled') return `Its capacity has settled: it gave ${gave}. Further cycles gain nothing.`;
  return code === 'rising'
    ? `Not settled yet: it gave ${gave}. Cycle it once more.`
    : `It gave ${gave}, less than before: let it cool and rest, and cycle it once more before it is judged.`;
}

const asNewTexts: Record<AsNew['is'], string> = {
  measured: 'Health is relative to the capacity noted when new.',
  rated: 'Health is relative to the rated capacity. No capacity was noted when new.',
  first: 'Health is relative to the first capacity test.',
};

function asNewOf(subject: JudgedSubject): AsNew {
  const asNew = isPack(subject) ? subject.asNew : null;
  const atS = asNew?.at ? asNew.at.getTime() / 1000 : undefined;
  const measured = asNew?.capacityAh ?? null;
  return measured === null
    ? { capacityAh: subject.ratedCapacityAh, is: 'rated', atS }
    : { capacityAh: measured, is: 'measured', atS };
}

/** A capacity as it was measured; what a person noted has no rate. */
type Measured = Omit<Discharged, 'runId' | 'meanCurrentA'> & { meanCurrentA: number | null };

const notedOf = (filed: readonly Filed[]): Measured[] =>
  filedOf(filed, 'capacity-noted').map(({ at, body }) => {
    const { value, u } = notedCapacity({ takenAt: at, ...body });
    return { endedAt: at, capacityAh: value, u, meanCurrentA: null };
  });

/** How many cycles it had by a day; null where no count of them was ever noted. */
function cycleCounter(subject: JudgedSubject, filed: readonly Filed[]): (day: Date) => number | null {
  const newOn = isPack(subject) ? subject.asNew?.at : undefined;
  const noted = filedOf(filed, 'cycles').map(({ at, body: { count } }) => ({ at, count }));
  const counts = newOn && noted.length > 0 ? [{ at: newOn, count: 0 }, ...noted] : noted;
  const chargeEnds = isPack(subject) ? subject.chargeEnds : [];
  return (day) => (noted.length > 0 ? cyclesAt(counts, chargeEnds, day) : null);
}

/** Each discharge with its rate and its cycles. */
const runsOf = (
  subject: JudgedSubject,
  discharged: readonly Measured[],
  cyclesBy: (day: Date) => number | null,
): AgedRun[] =>
  discharged.map(({ endedAt, capacityAh, u, meanCurrentA }) => ({
    atS: endedAt.getTime() / 1000,
    cycle: cyclesBy(endedAt) ?? undefined,
    capacityAh,
    u,
    rateC: meanCurrentA === null ? undefined : meanCurrentA / subject.ratedCapacityAh,
  }));

const yearS = 365.25 * 86_400;

/** Health, its trend, where the trend leads, and what a cycle costs. */
function Fades({ aged }: { aged: Aged }) {
  const { healthNow, overCycles, overTime, costSoFar, costUntilEnd } = aged;
  const leaves = overTime?.crossings.find(({ health }) => health === 0.7);
  const leftS = leaves && leaves.at - now().getTime() / 1000;
  const bend = (overTime ?? overCycles)?.bend ?? 'straight';
  return (
    <>
      <p className="mb-1">
        <b className="fs-3 num">{formatQuantity(healthNow, display.share)}</b> of its capacity when new
        {overTime &&
          `, ${overTime.slope.value <= 0 ? 'losing' : 'gaining'} ${formatQuantity(
            { value: Math.abs(overTime.slope.value * yearS), u: overTime.slope.u * yearS },
            display.share,
          )} a year`}
        {overCycles && `, ${perHundred(overCycles)} in 100 cycles`}.
      </p>
      {bend !== 'straight' && <p className="mb-1">{bendTexts[bend]}</p>}
      {overTime?.crossings.map((crossing) => (
        <Crosses key={crossing.health} crossing={crossing} over={overCycles} />
      ))}
      {leaves && leftS !== undefined && (
        <p className="mb-1">
          <b>{leftS > 0 ? `${seasonsText(leftS / yearS)} left` : 'Its service is over'}</b>
          {leftS > 0 &&
            ` if it goes on like this${
              leaves.to95 === null
                ? `, at least ${seasonsOf(leaves.from95)}`
                : `, between ${seasonsOf(leaves.from95)} and ${seasonsOf(leaves.to95)}`
            }`}
          .
        </p>
      )}
      {costSoFar !== null && (
        <p className="mb-1">
          A cycle has cost <b className="num">{costSoFar.toFixed(2)}</b> so far
          {costUntilEnd !== null && (
            <>
              , and <b className="num">{costUntilEnd.value.toFixed(2)}</b> over its whole service{' '}
              <span className="soft num">
                ({costUntilEnd.from95.toFixed(2)} to {costUntilEnd.to95.toFixed(2)})
              </span>
            </>
          )}
          , in the currency of its price.
        </p>
      )}
    </>
  );
}

const bendTexts: Record<Exclude<Trend['bend'], 'straight'>, string> = {
  'speeds-up': 'Its fade is speeding up: test its capacity more often.',
  'slows-down': 'Its fade is slowing down.',
};

const perHundred = ({ slope }: Trend): string =>
  formatQuantity({ value: Math.abs(slope.value * 100), u: slope.u * 100 }, display.share);

const seasonsText = (years: number): string => {
  const shown = Math.max(0, years).toFixed(1);
  return `${shown} season${shown === '1.0' ? '' : 's'}`;
};
const seasonsOf = (atS: number): string => Math.max(0, (atS - now().getTime() / 1000) / yearS).toFixed(1);

/** When the trend crosses a health, and after how many cycles. */
function Crosses({ crossing: { health, at, from95, to95 }, over }: { crossing: Crossing; over: Trend | null }) {
  const cycles = over?.crossings.find((one) => one.health === health);
  const isPast = at * 1000 < now().getTime();
  return (
    <p className="mb-1">
      {isPast
        ? `It crossed ${percentText(health)} about`
        : `If it goes on like this, it crosses ${percentText(health)} about`}{' '}
      <b>
        <When at={at * 1000} as="MMM yyyy" />
      </b>{' '}
      <span className="soft">
        ({to95 === null ? 'from' : 'between'} <When at={from95 * 1000} as="MMM yyyy" />
        {to95 === null ? ' on, perhaps never' : ' and '}
        {to95 !== null && <When at={to95 * 1000} as="MMM yyyy" />})
      </span>
      {cycles && `, after ${Math.round(cycles.at)} cycles`}.
    </p>
  );
}

/** What run times say beside the capacity. */
function Served({ runTimes: { first, last, share: fraction, beyondCapacity } }: { runTimes: RunTimes }) {
  return (
    <p className="mb-1" style={beyondCapacity ? { fontWeight: 700 } : undefined}>
      Its run time went from {minutesText(first.durationS)} to {minutesText(last.durationS)}: {percentText(fraction)} of
      its first.{' '}
      {beyondCapacity &&
        'That is more than its capacity lost: look at its resistance and its joints, or it is used harder than before.'}
    </p>
  );
}
