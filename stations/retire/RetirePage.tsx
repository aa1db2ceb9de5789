import { noLampFor, type RetirePhase, retirePhase } from '@/core/judging/retiring';
import { isPack } from '@/core/judging/subject';
import { type Lamp, lampFor } from '@/core/planning/runDown';
import { display, formatFigure } from '@/core/quantity/format';
import { database } from '@/records/database';
import { retiringOf } from '@/records/retiring';
import { Link } from '@/ui/Link';
import { addressOf } from '@/ui/tokens';
import { When } from '@/ui/When';
import { setV } from '@/words/figures';
import { lampText, noLampText, retireStepText } from '@/words/retiring';
import { subjectNamed } from '@/workshop/judged';
import { notFound } from 'next/navigation';
import type { ReactNode } from 'react';
import { GoBar } from '../frame/GoBar';
import { lampSubject } from './lampSubject';
import { AsItIsForm, FlatForm, GoneForm, LampForm, StepButton } from './RetireForms';

/** Retiring, step by step: discharge where that is common practice, check that it stays empty, tape, hand over. */
export async function RetirePage({ code }: { code: string }) {
  const { subject, workshop } = await subjectNamed(code);
  if (!subject) notFound();
  const { steps, offAt } = await retiringOf(database(), subject.id);
  const phase = retirePhase(steps, isPack(subject) ? subject.series : 1, offAt);
  const lampInput = lampSubject(subject, workshop);
  const noLamp = noLampFor(lampInput);
  const lamp =
    noLamp || lampInput.chemistry === 'alkaline'
      ? null
      : lampFor(lampInput.chemistry, lampInput.series, lampInput.capacityAh, lampInput.groupsV, lampInput.curve);
  return (
    <>
      <div className="head">
        <h1>
          <Link href={addressOf(subject.code)}>{subject.code}</Link> · retire
        </h1>
        <span className="soft">It leaves every list and keeps its history.</span>
      </div>
      <div className="cols">
        <div className="stack">
          <section className="sheet lead-ember" aria-label="Now">
            <Now code={subject.code} phase={phase} lamp={lamp} why={noLamp && noLampText(noLamp)} />
          </section>
          {lamp && (phase.code === 'decide' || phase.code === 'not-flat') && (
            <section className="sheet" aria-label="Or as it is">
              <h2>Or hand it over undischarged</h2>
              <AsItIsForm code={subject.code} />
            </section>
          )}
        </div>
        <div className="stack">
          <section className="sheet lead-ink" aria-label="Cautions">
            <h2>Who decides</h2>
            <p>
              The rules of your local authority and recycler come first. Transport of damaged cells has its own rules.
            </p>
            <p className="mb-0">
              Never a swollen, hot, leaking or dented one on a lamp. Never unattended. What smokes is left alone: go
              away from it, and call the fire brigade.
            </p>
          </section>
          {steps.length > 0 && (
            <section className="sheet" aria-label="So far">
              <h2>So far</h2>
              <ul className="reasons mb-0">
                {steps.map((step) => (
                  <li key={step.entry}>
                    <span className="num">
                      <When at={step.at} as="d MMM HH:mm" />
                    </span>{' '}
                    {retireStepText(step)}
                  </li>
                ))}
                {offAt && phase.code !== 'running-down' && (
                  <li>
                    <span className="num">
                      <When at={offAt} as="d MMM HH:mm" />
                    </span>{' '}
                    off the lamp
                  </li>
                )}
              </ul>
            </section>
          )}
        </div>
      </div>
      <GoBar placeholder="PF1 opens a pack" />
    </>
  );
}

interface NowProps {
  code: string;
  phase: RetirePhase;
  lamp: Lamp | null;
  /** Why there is none. */
  why: string | null;
}

function Now({ code, phase, lamp, why }: NowProps) {
  switch (phase.code) {
    case 'decide':
      return lamp ? (
        <Step title="Run it flat, outdoors">
          <p>
            {lampText(lamp)}{' '}
            <Link className="rule-key" href="/handbook/retire">
              why
            </Link>
          </p>
          <LampForm code={code} />
        </Step>
      ) : (
        <Step title="Hand it over undischarged">
          <p>{why}</p>
          <AsItIsForm code={code} />
        </Step>
      );
    case 'running-down':
      return (
        <Step title="◆ Stay with it" hot>
          <p>
            On the lamp since <When at={phase.beganAt} as="HH:mm" />
            {lamp && `, for about ${lamp.hours.toFixed(1)} h, up to ${lamp.mostHours.toFixed(1)} h`}. Where anything
            gets hot but the lamp, take it off.
          </p>
          <StepButton code={code} step="off-lamp" />
        </Step>
      );
    case 'resting':
      return (
        <Step title="Does it stay flat?">
          <p>
            Keep it apart until <When at={phase.readAt} as="EEE d MMM HH:mm" />. Then measure its terminals: the voltage
            recovers by itself.
          </p>
          <FlatForm code={code} />
        </Step>
      );
    case 'not-flat':
      return (
        <Step title="It is not flat yet">
          <p>
            It stands at {setV(phase.voltageV)}; flat is below {formatFigure(phase.mostV, display.voltage, 1)}. On the
            lamp once more.
          </p>
          <LampForm code={code} />
        </Step>
      );
    case 'to-tape':
      return (
        <Step title="Tape its poles">
          <p>
            {phase.isFlat
              ? 'It is flat and stays so. Each pole and each wire by itself, the balance plug too.'
              : 'It may be charged: each pole and each wire by itself, one after the other, never two at once.'}
          </p>
          <StepButton code={code} step="taped" />
        </Step>
      );
    case 'to-hand-over':
      return (
        <Step title="Bring it where it goes">
          <GoneForm code={code} />
        </Step>
      );
    case 'gone':
      return (
        <Step title="It is gone">
          <p className="mb-0">
            On <When at={phase.at} as="d MMM yyyy" />, to {phase.toWhom}. A mistake is taken back in{' '}
            <Link href={addressOf(code)}>its life</Link>: void that entry.
          </p>
        </Step>
      );
  }
}

const Step = ({ title, hot = false, children }: { title: string; hot?: boolean; children: ReactNode }) => (
  <>
    <p className={`headline ${hot ? 'hot' : ''}`}>{title}</p>
    {children}
  </>
);
