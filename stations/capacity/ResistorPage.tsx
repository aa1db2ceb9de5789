import { lowestVoltageV } from '@/core/chemistry/houseRules';
import { isPack, type JudgedSubject } from '@/core/judging/subject';
import { display, formatFigure } from '@/core/quantity/format';
import { Link } from '@/ui/Link';
import { addressOf } from '@/ui/tokens';
import { subjectNamed, type Workshop } from '@/workshop/judged';
import { stateNow } from '@/workshop/states';
import { GoBar } from '../frame/GoBar';
import { CodeForm } from './CodeForm';
import { ResistorForm } from './ResistorForm';

/** Which resistor for which current or time, how hot it gets, and when a person has to be there. */
export async function ResistorPage({ code: asked }: { code: string }) {
  const code = asked.trim().toUpperCase().slice(0, 20);
  const { subject, workshop } = await subjectNamed(code);
  return (
    <>
      <div className="head">
        <h1>
          <Link href="/capacity">Capacity</Link> · through a resistor
          {subject && (
            <>
              {' '}
              · <Link href={addressOf(code)}>{code}</Link>
            </>
          )}
        </h1>
        <span className="soft">Which resistor, how hot, how long; and when to be there.</span>
      </div>
      <div className="cols">
        {subject ? <Plan subject={subject} workshop={workshop} /> : <Which code={code} />}
        <section className="sheet" aria-label="Cautions">
          <p className="mb-2">
            A resistor has no shut-off: someone must be there when the cell, or the first group of a pack, reaches its
            floor. The watch calls before that, and stays until you say it is off.
          </p>
          <p className="soft mb-0">
            It gets hot enough to burn: hang it in free air, off wood and paper, twice the watts it turns into heat.
            Never leave a discharge unattended.
          </p>
        </section>
      </div>
      <GoBar placeholder="S1-014 opens a cell" />
    </>
  );
}

const Which = ({ code }: { code: string }) => (
  <section className="sheet lead-ink" aria-label="Which">
    <h2>What is to be discharged?</h2>
    {code !== '' && <p className="ask">There is no cell or pack {code}.</p>}
    <CodeForm />
  </section>
);

function Plan({ subject, workshop }: { subject: JudgedSubject; workshop: Workshop }) {
  const curve = workshop.curves.of(subject);
  if (!curve || subject.intake.class === 'out' || (isPack(subject) && subject.apart))
    return (
      <section className="sheet" aria-label="Not this one">
        <p className="mb-0">{curve ? `${subject.code} is not used any more.` : 'Primary cells are not tested so.'}</p>
      </section>
    );
  const { chemistry } = subject;
  const together = isPack(subject) ? 1 : 1 + subject.weldedTo.length;
  // In series the weakest group decides.
  const known = stateNow(subject, workshop)
    .groups.map(({ capacity }) => capacity)
    .reduce((least, one) => (one.value < least.value ? one : least));
  const cutoffV = lowestVoltageV(chemistry, workshop.rules.limits);
  const series = isPack(subject) ? subject.series : 1;
  return (
    <section className="sheet lead-ember" aria-label="Plan">
      <p className="mb-2">
        From full down to {formatFigure(cutoffV, display.voltage, 2)}
        {series > 1 && ` in its first group, ${formatFigure(series * cutoffV, display.voltage, 1)} in all`}, as it holds{' '}
        {formatFigure(known.value * together, display.capacity, 2)}
        {known.source === 'rated' ? ' by its label, not measured' : ' by its last measurement'}.
      </p>
      <ResistorForm
        code={subject.code}
        series={series}
        curve={curve.plain}
        capacityAh={{ value: known.value * together, u: known.u * together }}
        cutoffV={cutoffV}
      />
    </section>
  );
}
