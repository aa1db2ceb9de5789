'use client';

import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { useState } from 'react';
import { swapCellAction } from './actions';

interface OfModel {
  code: string;
  model: string;
}

/** Puts a free cell in the place of one of the build; the model of the one that leaves decides which come up. */
export function SwapForm({ build, placed, free }: { build: number; placed: OfModel[]; free: OfModel[] }) {
  const [out, setOut] = useState(placed[0]?.code);
  const leaving = placed.find(({ code }) => code === out) ?? placed[0];
  const { answer, pending, form } = useFormAnswer(`swap ${build}`, swapCellAction);
  const errors: Record<string, string> = answer?.ok === false ? answer.fields : {};
  return (
    <form {...form} aria-label="Swap a cell">
      <input type="hidden" name="build" value={build} />
      <div className="fields">
        <Field name="out" label="Take out" choices={placed.map(({ code }) => [code, code])} onChange={setOut} />
        <Field
          key={answer?.ok ? answer.value : ''}
          name="in"
          label="Put in"
          hint={`A free ${leaving?.model ?? 'cell'}`}
          suggestions={free.filter(({ model }) => model === leaving?.model).map(({ code }) => code)}
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
