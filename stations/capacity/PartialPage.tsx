import { chemistries } from '@/core/chemistry/chemistries';
import { dischargeArithmetic } from '@/core/capacity/discharge';
import { lowestVoltageV } from '@/core/chemistry/houseRules';
import { voltmeters } from '@/core/judging/instrumentBook';
import { isPack, type JudgedSubject } from '@/core/judging/subject';
import { display, formatFigure, formatQuantity } from '@/core/quantity/format';
import { database } from '@/records/database';
import { resultOf, runsOfSubject } from '@/records/runs';
import { Link } from '@/ui/Link';
import { PlusMinus } from '@/ui/PlusMinus';
import { addressOf } from '@/ui/tokens';
import { When } from '@/ui/When';
import { curveBasisText } from '@/words/chemistry';
import { counted } from '@/words/counted';
import { subjectNamed, type Workshop } from '@/workshop/judged';
import { notFound } from 'next/navigation';
import { GoBar } from '../frame/GoBar';
import { PartialForm } from './PartialForm';

/** Where to stop the slow discharge: what one should leave in a pack, and low enough to show a capacity. */
const startSoc = 0.2;
const slowRate = 0.1;
const mostLogs = 20;

/** A capacity without running flat: what to set, the rested start, the charge put in, and what that gives. */
export async function PartialPage({ code: asked }: { code: string }) {
  const code = asked.toUpperCase();
  const { subject, workshop } = await subjectNamed(code);
  if (!subject) notFound();
  const { family } = chemistries[subject.chemistry];
  return (
    <>
      <div className="head">
        <h1>
          <Link href="/capacity">Capacity</Link> · partial charge · <Link href={addressOf(code)}>{code}</Link>
        </h1>
        <span className="soft">A capacity without running it flat.</span>
      </div>
      {family === 'lithium' ? <Guide subject={subject} workshop={workshop} /> : <NotFor family={family} />}
      <GoBar placeholder="S1-014 opens a cell" />
    </>
  );
}

const whyNot: Record<'nickel' | 'lead' | 'primary', string> = {
  nickel:
    'A nickel cell takes more charge than it gives: sixteen hours at a tenth of its capacity put in 160 %, a quick ' +
    'charge may end at 115 %. The charge put in does not show the capacity. Log a discharge to 1.0 V a cell.',
  lead:
    'A lead-acid battery gasses as it gets full: what goes in is more than what it holds. Log a discharge at a ' +
    'twentieth of its capacity.',
  primary: 'It is never charged.',
};

const NotFor = ({ family }: { family: keyof typeof whyNot }) => (
  <section className="sheet" aria-label="Not for this chemistry">
    <p className="mb-0">{whyNot[family]}</p>
  </section>
);

async function Guide({ subject, workshop }: { subject: JudgedSubject; workshop: Workshop }) {
  const { code, ratedCapacityAh } = subject;
  const series = isPack(subject) ? subject.series : 1;
  const together = isPack(subject) ? 1 : 1 + subject.weldedTo.length;
  const curve = workshop.curves.of(subject);
  const basis = workshop.curves.basisOf(subject);
  if (!curve) return null;
  const startV = curve.voltageAt(startSoc);
  const { partial } = subject;
  return (
    <>
      {partial && (
        <p>
          Last partial charge on <When at={partial.takenAt} as="d MMM yyyy" />:{' '}
          <b className="num">{formatQuantity(partial.capacityAh, display.capacity)}</b>.
        </p>
      )}
      {partial && <PlusMinus />}
      <div className="cols">
        <div className="stack">
          <section className="sheet lead-ink" aria-label="Before">
            <h2>1 · Bring it down, slowly</h2>
            <p className="mb-2">
              Discharge it with{' '}
              <b className="num">{formatFigure(slowRate * ratedCapacityAh * together, display.current)}</b> or less,
              watching {series > 1 ? 'every group' : 'it'}, until{' '}
              {series > 1 ? 'the lowest group rests at about' : 'it rests at about'}{' '}
              <b className="num">{formatFigure(startV, display.voltage, 2)}</b>
              {series > 1 && ` (${formatFigure(series * startV, display.voltage, 1)} in all)`}: 20 %, which is also the
              least to leave in it. Then let it rest half an hour.
            </p>
            <p className="soft mb-0">
              Not between 35 and 40 %: there the voltage hardly depends on the charge. The charge comes from{' '}
              {curveBasisText(basis)}.{' '}
              {basis.by === 'learnt' ? (
                <Link href={`/capacity/${basis.runId}`}>Open test {basis.runId}</Link>
              ) : (
                'The curve is the largest uncertainty here. A logged discharge over twenty hours measures the curve ' +
                'of this model.'
              )}
            </p>
          </section>
          <PartialForm
            code={code}
            series={series}
            curve={curve.plain}
            nominalAh={(isPack(subject) ? subject.asNew?.capacityAh : null) ?? ratedCapacityAh}
            together={together}
            settings={settingsOf(subject, series, together)}
            meters={voltmeters(workshop.instruments)}
            logs={await chargesLogged(subject, workshop)}
            isExplained={partial !== null}
          />
        </div>
        <section className="sheet" aria-label="Cautions">
          <p className="mb-2">
            Check count, chemistry and polarity before the charge begins. Stay with it, on a surface that does not burn;
            a swollen, hot or leaking one is not charged at all.
          </p>
          <p className="soft mb-0">
            Charge in / (1 − charge at the start) is what it holds. Read every group, not the mean: where they differ,
            the weakest decides.
          </p>
        </section>
      </div>
    </>
  );
}

/** What to set for the charge, in the trade's terms. */
function settingsOf({ chemistry, ratedCapacityAh }: JudgedSubject, series: number, together: number): string {
  const { name, nominalV, fullV } = chemistries[chemistry];
  const volts = (perGroupV: number, decimals: number) => formatFigure(series * perGroupV, display.voltage, decimals);
  return (
    `${name}, ${counted(series, 'cell')} in series (${volts(nominalV, 1)}), up to ${volts(fullV, 2)}, ` +
    `${formatFigure(ratedCapacityAh * together, display.current, 1)} or less`
  );
}

/** What logs of it say was charged: the last charge of each, the newest first. */
async function chargesLogged(
  { id, chemistry }: JudgedSubject,
  { rules }: Workshop,
): Promise<{ runId: number; chargeAh: number }[]> {
  const db = database();
  const runs = (await runsOfSubject(db, id)).filter(({ voidReason }) => voidReason === null).slice(0, mostLogs);
  const cutoffV = lowestVoltageV(chemistry, rules.limits);
  const results = await Promise.all(runs.map(({ layoutId }) => resultOf(db, layoutId, cutoffV, dischargeArithmetic)));
  return runs.flatMap(({ id: runId }, i) => {
    const segments = results[i]?.segments ?? [];
    const begin = segments.findLastIndex(({ kind }) => kind === 'discharge') + 1;
    const chargeAh = segments
      .slice(begin)
      .reduce((sum, segment) => sum + (segment.kind === 'charge' ? segment.chargeAh : 0), 0);
    return chargeAh > 0 ? [{ runId, chargeAh }] : [];
  });
}
