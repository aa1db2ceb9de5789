import { presetKeys, presetRules, ruleBook, ruleKeys } from '@/core/chemistry/houseRules';
import { Link } from '@/ui/Link';
import { judgedWorkshop } from '@/workshop/judged';
import { GoBar } from '../frame/GoBar';
import { RulesForm } from './RulesForm';

/** Every limit of the house with its reason and what the schools hold. */
export async function RulesPage() {
  const { rules } = await judgedWorkshop();
  return (
    <>
      <div className="head">
        <h1>House rules</h1>
        <span className="soft">
          In force: <b style={{ color: 'var(--ink)' }}>{rules.name}</b>
          {rules.version > 0 && `, version ${rules.version}`}. Readings are facts; changing a rule judges every cell and
          pack again.
        </span>
        <span className="end">
          <Link href="/handbook">Handbook</Link>
          {' · '}
          <a href="/api/v1/export" download>
            Export everything
          </a>
        </span>
      </div>
      <RulesForm
        key={rules.version}
        rules={ruleKeys.map((key) => ({ key, ...ruleBook[key], value: rules.limits[key] }))}
        presets={presetKeys.map((key) => ({ key, limits: presetRules(key) }))}
      />
      <GoBar placeholder="S1-014 opens a cell" />
    </>
  );
}
