import { Field } from '@/ui/Field';

/** What is known of a pack from before: as it was when new, its use so far, its twins. */
export function PackPastFields({ errors }: { errors: Record<string, string> }) {
  return (
    <div className="fields mt-2">
      <Field name="cycles" label="Cycles so far" error={errors.cycles} figures />
      <Field name="servedMin" label="Served for, min" hint="In its usual use" error={errors.servedMin} figures />
      <Field
        name="labelChargeA"
        label="Charge at most, A"
        hint="By its label; sheets keep it"
        error={errors.labelChargeA}
        figures
      />
      <Field
        name="labelDischargeA"
        label="Discharge at most, A"
        hint="By its label"
        error={errors.labelDischargeA}
        figures
      />
      <Field name="newAh" label="Capacity when new, Ah" error={errors.newAh} figures />
      <Field
        name="newMilliohm"
        label="Resistances when new, mΩ"
        hint="Of each group from the negative terminal"
        error={errors.newMilliohm}
        figures
      />
      <Field name="newOn" label="New on" hint="Such as 2024-05-31" error={errors.newOn} figures />
      <Field name="price" label="Price" error={errors.price} figures />
      <Field name="twins" label="Twins" hint="Codes of packs bought and used with it" error={errors.twins} />
    </div>
  );
}
