'use client';

import { BoardField } from '../BoardField';
import { Field } from '@/ui/Field';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { weldBuildAction } from './actions';

/** A build that was welded becomes a pack. */
export function WeldForm({ build, name }: { build: number; name: string }) {
  const { answer, pending, form } = useFormAnswer(`weld ${build}`, weldBuildAction.bind(null, build));
  const fields: Record<string, string> = answer?.ok === false ? answer.fields : {};
  return (
    <form {...form}>
      <div className="fields">
        <Field name="code" label="Code" hint="Begins with P" error={fields.code} figures />
        <Field name="name" label="What it serves" defaultValue={name} error={fields.name} />
        <BoardField />
        <Field
          name="balanceConnector"
          label="Balance connector"
          choices={[
            ['yes', 'it has one'],
            ['no', 'it has none'],
          ]}
          error={fields.balanceConnector}
          wide
        />
      </div>
      <FormEnd
        refused={answer?.ok === false ? answer.said : null}
        pending={pending}
        label="It is welded"
        busy="Making it a pack …"
      />
    </form>
  );
}
