'use client';

import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { replaceCautions } from '@/words/remedies';
import { mendAction } from './actions';

/** A group of a pack that was mended, and with what. */
export interface Mend {
  position: number;
  takenOut: string[];
  putIn: string[];
}

const textOf = (mends: readonly Mend[]): string => mends.map(({ putIn }) => putIn.join(' ')).join(' · ');

/** Notes that one of the choices was put in: its cells know their place from then on. */
export function MendForm({ pack, choices }: { pack: string; choices: readonly (readonly Mend[])[] }) {
  const { answer, pending, form } = useFormAnswer(`mend ${pack}`, mendAction.bind(null, pack));
  return (
    <form {...form} aria-label="Put in">
      <Field
        name="mends"
        label="Put in"
        choices={choices.map((mends) => [JSON.stringify(mends), textOf(mends)])}
        error={answer?.ok === false ? answer.fields['mends'] : undefined}
        wide
      />
      <ul className="soft mt-2 mb-0 ps-3">
        {replaceCautions.map((caution) => (
          <li key={caution}>{caution}</li>
        ))}
        <li>Earlier readings of the pack no longer count. Measure its groups, then their resistance.</li>
      </ul>
      <FormEnd
        refused={answer?.ok === false ? answer.said : null}
        pending={pending}
        label="It is put in"
        busy="Noting it …"
      />
    </form>
  );
}
