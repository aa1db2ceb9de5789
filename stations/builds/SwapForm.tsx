'use client';

import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { swapCellAction } from './actions';

/** Another cell in the place of one. */
export function SwapForm({ build, codes, free }: { build: number; codes: string[]; free: string[] }) {
  const { answer, pending, form } = useFormAnswer(`swap ${build}`, swapCellAction);
  const errors: Record<string, string> = answer?.ok === false ? answer.fields : {};
  return (
    <form {...form} aria-label="Swap a cell">
      <input type="hidden" name="build" value={build} />
      <div className="fields">
        <Field name="out" label="Take out" choices={codes.map((code) => [code, code])} />
        <Field
          key={answer?.ok ? answer.value : ''}
          name="in"
          label="Put in"
          hint="A free cell of the same model"
          suggestions={free}
          error={errors.in}
        />
      </div>
      <FormEnd refused={answer?.ok === false ? answer.said : null} pending={pending} label="Swap" busy="Swapping …" />
      {answer?.ok && (
        <span className="ms-3" role="status">
          {answer.value}
        </span>
      )}
    </form>
  );
}
