'use client';

import type { Answer } from '@/stations/answer';
import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { asItIsGates, lampGates } from '@/words/retiring';
import { useState, useTransition } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { asItIsAction, goneAction, offLampAction, putOnLampAction, readFlatAction, tapedAction } from './actions';

const refusedOf = (answer: Answer | null): string | null => (answer?.ok === false ? answer.said : null);
const errorsOf = (answer: Answer | null): Record<string, string> => (answer?.ok === false ? answer.fields : {});

function Gates({ name, gates }: { name: string; gates: readonly string[] }) {
  return (
    <fieldset className="mb-3">
      <legend className="visually-hidden">Each of these</legend>
      {gates.map((gate, i) => (
        <Form.Check key={gate} id={`${name}-${i}`} name={`gate ${i}`} label={gate} className="mb-1" />
      ))}
    </fieldset>
  );
}

/** The gates before a lamp is put on. */
export function LampForm({ code }: { code: string }) {
  const { answer, pending, form } = useFormAnswer(`lamp of ${code}`, putOnLampAction.bind(null, code));
  return (
    <form {...form} aria-label="On a lamp" noValidate>
      <Gates name="lamp" gates={lampGates} />
      <Field name="volts" label="At its terminals now, V" error={errorsOf(answer)['volts']} figures />
      <FormEnd refused={refusedOf(answer)} pending={pending} label="It is on the lamp now" busy="Noting …" />
    </form>
  );
}

/** Without running it down. */
export function AsItIsForm({ code }: { code: string }) {
  const { answer, pending, form } = useFormAnswer(`as it is, ${code}`, asItIsAction.bind(null, code));
  return (
    <form {...form} aria-label="As it is" noValidate>
      <Gates name="as-it-is" gates={asItIsGates} />
      <FormEnd refused={refusedOf(answer)} pending={pending} label="Hand it over undischarged" busy="Noting …" />
    </form>
  );
}

/** Its voltage a day after. */
export function FlatForm({ code }: { code: string }) {
  const { answer, pending, form } = useFormAnswer(`flat, ${code}`, readFlatAction.bind(null, code));
  return (
    <form {...form} aria-label="Does it stay flat" noValidate>
      <Field name="volts" label="At its terminals now, V" error={errorsOf(answer)['volts']} figures />
      <FormEnd refused={refusedOf(answer)} pending={pending} label="That is what it shows" busy="Noting …" />
    </form>
  );
}

export function GoneForm({ code }: { code: string }) {
  const { answer, pending, form } = useFormAnswer(`gone, ${code}`, goneAction.bind(null, code));
  return (
    <form {...form} aria-label="Where it went" noValidate>
      <Field name="toWhom" label="Where it went" error={errorsOf(answer)['toWhom']} wide />
      <FormEnd refused={refusedOf(answer)} pending={pending} label="It left the house" busy="Noting …" />
    </form>
  );
}

/** A step that asks for nothing more. */
export function StepButton({ code, step }: { code: string; step: 'off-lamp' | 'taped' }) {
  const [pending, start] = useTransition();
  const [said, setSaid] = useState('');
  const { does, label } = steps[step];
  const act = () =>
    start(async () => {
      const answer = await does(code);
      setSaid(answer.ok ? '' : answer.said);
    });
  return (
    <>
      <Button variant="ember" disabled={pending} onClick={act}>
        {label}
      </Button>
      {said && (
        <p className="hot mt-2 mb-0" role="alert">
          ◆ {said}
        </p>
      )}
    </>
  );
}
const steps = {
  'off-lamp': { does: offLampAction, label: 'It is dark and off' },
  taped: { does: tapedAction, label: 'Its poles are taped' },
} as const;
