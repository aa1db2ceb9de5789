'use client';

import { type SheetGoal, sheetGoals } from '@/core/planning/sheet';
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
  asked: {
    goal: SheetGoal;
    charger: string;
    volts: string;
    loadOhm: string;
    wantedA: string;
    wantedV: string;
    wantedAh: string;
    isCounted: boolean;
    isLabelRead: boolean;
  };
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
          label="Goal"
          choices={sheetGoals.map((goal) => [goal, goalTexts[goal]])}
          defaultValue={asked.goal}
        />
        <Field
          name="charger"
          label="Charger"
          choices={chargers.map((one) => [one.code, `${one.code} · ${one.name}`])}
          defaultValue={asked.charger}
        />
        <Field
          name="volts"
          label={series > 1 ? 'Terminals now, V; or each group' : 'Voltage now, V'}
          hint={series > 1 ? 'As a meter shows it: 15.2, or 3.81 3.80 3.79 3.80' : 'As a meter shows it'}
          defaultValue={asked.volts}
          error={errors['volts']}
          figures
          wide
        />
        <Field
          name="loadOhm"
          label="A separate load, Ω"
          hint="If you have one"
          defaultValue={asked.loadOhm}
          error={errors['loadOhm']}
          figures
        />
      </div>
      <details className="mt-2" open={asked.wantedA !== '' || asked.wantedV !== '' || asked.wantedAh !== ''}>
        <summary>Less than the limits allow</summary>
        <div className="fields mt-2">
          <Field
            name="wantedA"
            label="Current at most, A"
            hint="Blank: as the limits allow"
            defaultValue={asked.wantedA}
            error={errors['wantedA']}
            figures
          />
          <Field
            name="wantedV"
            label="Up to, or down to, V a cell"
            hint="Blank: the usual end"
            defaultValue={asked.wantedV}
            error={errors['wantedV']}
            figures
          />
          <Field
            name="wantedAh"
            label="Stop after, Ah"
            hint="Blank: at its end"
            defaultValue={asked.wantedAh}
            error={errors['wantedAh']}
            figures
          />
        </div>
      </details>
      <FormCheck
        id="label-read"
        name="label"
        value="1"
        defaultChecked={asked.isLabelRead}
        label="I read the chemistry on the label or the cells"
        className="mt-2"
      />
      {series > 1 && (
        <FormCheck
          id="counted"
          name="counted"
          value="1"
          defaultChecked={asked.isCounted}
          label="I counted its groups, at the balance connector or opened"
        />
      )}
      <Button type="submit" variant="ember" className="mt-3">
        Make the sheet
      </Button>
    </Form>
  );
}
