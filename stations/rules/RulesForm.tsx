'use client';

import { type HouseRules, type Preset, type RuleKey, ruleShown } from '@/core/chemistry/houseRules';
import { FormEnd } from '@/ui/FormEnd';
import { useFormAnswer } from '@/ui/useFormAnswer';
import { shownUnit } from '@/words/houseRules';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { adoptRulesAction } from './actions';

interface RuleLine {
  key: RuleKey;
  title: string;
  unit: string;
  reason: string;
  least: number;
  most: number;
  presets: Record<Preset, number>;
  value: number;
}

export function RulesForm({ rules, presets }: { rules: RuleLine[]; presets: { key: Preset; limits: HouseRules }[] }) {
  const { answer, pending, form } = useFormAnswer('rules', adoptRulesAction);
  const fields: Record<string, string> = answer?.ok === false ? answer.fields : {};

  const take = (preset: { key: Preset; limits: HouseRules }) => {
    for (const { key } of rules) {
      const input = form.ref.current?.elements.namedItem(key);
      if (input instanceof HTMLInputElement) input.value = String(ruleShown(key, preset.limits[key]));
    }
  };

  return (
    <form {...form} className="sheet">
      <div className="d-flex flex-wrap gap-2 align-items-center mb-2">
        <span className="soft">Start from</span>
        {presets.map((preset) => (
          <Button key={preset.key} variant="plain" size="sm" onClick={() => take(preset)} className="text-capitalize">
            {preset.key}
          </Button>
        ))}
        <span className="soft">then change what you hold otherwise.</span>
      </div>
      <div className="table-scroll" tabIndex={0}>
        <table className="table align-middle">
          <thead>
            <tr>
              <th>Rule</th>
              <th>Here</th>
              <th className="num">Careful</th>
              <th className="num">Workshop</th>
              <th className="num">Thrifty</th>
            </tr>
          </thead>
          <tbody>
            {rules.map((rule) => (
              <tr key={rule.key} id={rule.key}>
                <td>
                  <label htmlFor={`rule-${rule.key}`} className="fw-bold">
                    {rule.title}
                  </label>
                  <div className="soft" style={{ fontSize: '0.9rem' }}>
                    {rule.reason}
                  </div>
                  {fields[rule.key] && <div className="hot">◆ {fields[rule.key]}</div>}
                </td>
                <td style={{ minWidth: 150 }}>
                  <span className="d-flex align-items-center gap-1">
                    <Form.Control
                      id={`rule-${rule.key}`}
                      name={rule.key}
                      defaultValue={ruleShown(rule.key, rule.value)}
                      className="num"
                      style={{ width: 90 }}
                      inputMode="decimal"
                      isInvalid={rule.key in fields}
                    />
                    <span className="soft">{shownUnit[rule.unit] ?? rule.unit}</span>
                  </span>
                </td>
                {presets.map((preset) => (
                  <td key={preset.key} className="num soft">
                    {ruleShown(rule.key, preset.limits[rule.key])}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <FormEnd
        refused={answer?.ok === false ? answer.said : null}
        pending={pending}
        label="Adopt and judge again"
        busy="Judging again …"
      />
      {answer?.ok && (
        <span className="ms-3" role="status">
          Adopted; everything is judged by these rules now.
        </span>
      )}
    </form>
  );
}
