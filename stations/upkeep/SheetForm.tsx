'use client';

import { type SheetGoal, sheetGoals } from '@/core/planning/chargerSheet';
import { Field } from '@/ui/Field';
import { useKeptForm } from '@/ui/useFormAnswer';
import { goalTexts } from '@/words/chargerSheets';
import Form from 'next/form';
import FormCheck from 'react-bootstrap/FormCheck';
import Button from 'react-bootstrap/Button';

interface SheetFormProps {
  code: string;
  series: number;
  chargers: readonly { code: string; name: string }[];
  /** As the address says it. */
  asked: { goal: SheetGoal; charger: string; volts: string; loadOhm: string; isCounted: boolean; isLabelRead: boolean };
  /** By field. */
  errors: Record<string, string>;
}

/** What a sheet is for, and what is looked at before the start. A plain form: its answer is an address to be kept. */
export function SheetForm({ code, series, chargers, asked, errors }: SheetFormProps) {
  const { kept, sent } = useKeptForm(`sheet of ${code}`);
  return (
    <Form action={`/upkeep/${code}`} {...kept} onSubmit={sent} className="no-print" aria-label="Before the start">
      <div className="fields">
        <Field
          name="goal"
          label="It is to"
          choices={sheetGoals.map((goal) => [goal, goalTexts[goal]])}
          defaultValue={asked.goal}
        />
        <Field
          name="charger"
          label="With"
          choices={chargers.map((one) => [one.code, `${one.code} · ${one.name}`])}
          defaultValue={asked.charger}
        />
        <Field
          name="volts"
          label={series > 1 ? 'At its terminals now, V; or each group' : 'At its poles now, V'}
          hint={series > 1 ? 'As a meter shows it: 15.2, or 3.81 3.80 3.79 3.80' : 'As a meter shows it'}
          defaultValue={asked.volts}
          error={errors['volts']}
          figures
          wide
        />
        <Field
          name="loadOhm"
          label="A separate load, Ω"
          hint="Where one is at hand"
          defaultValue={asked.loadOhm}
          error={errors['loadOhm']}
          figures
        />
      </div>
      <FormCheck
        id="label-read"
        name="label"
        value="1"
        defaultChecked={asked.isLabelRead}
        label="Its chemistry was read on its label or its cells"
        className="mt-2"
      />
      {series > 1 && (
        <FormCheck
          id="counted"
          name="counted"
          value="1"
          defaultChecked={asked.isCounted}
          label="Its groups were counted, at the balance plug or opened"
        />
      )}
      <Button type="submit" variant="ember" className="mt-3">
        Make the sheet
      </Button>
    </Form>
  );
}
