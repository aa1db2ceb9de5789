import { judgedWorkshop } from '@/workshop/judged';
import { BuildsBar } from './BuildsBar';
import { candidatesOf, chemistryOf, choicesOf, free, measuredOf, notYet, sharedCurve } from '@/core/judging/candidates';
import { lowestVoltageV } from '@/core/chemistry/houseRules';
import { Link } from '@/ui/Link';
import { MatchSheet } from './MatchSheet';
import { NeedForm } from './NeedForm';
import { needHref, needOf } from './need';

/** The match of a pack: made in the browser's own worker from the cells given here. */
export async function NewBuildPage({ parameters }: { parameters: Record<string, string | undefined> }) {
  const { cells, rules, curves } = await judgedWorkshop();
  const { limits } = rules;
  const models = choicesOf(free(cells), limits.modelsInPack);
  const parsed = needOf(parameters);
  const need = parsed && { ...parsed, model: parsed.model || (models[0]?.name ?? '') };
  const candidates = need ? candidatesOf(cells, need) : [];
  const codes = candidates.map(({ id }) => id);
  const chemistry = need && chemistryOf(cells, need.model);
  const form = (
    <details className="sheet lead-ink" aria-label="What the pack must be" open={need === null}>
      <summary>What the pack must be</summary>
      <div className="mt-2">
        <NeedForm key={JSON.stringify(need)} models={models} need={need} />
      </div>
    </details>
  );
  return (
    <>
      <div className="head">
        <h1>
          <Link href="/builds">Builds</Link> ·{' '}
          {need ? `${need.series} in series, ${need.parallel} in parallel` : 'a new pack'}
        </h1>
        {need && (
          <span className="soft">
            {need.model} · {need.duty === 'surge' ? 'Surge only' : `${need.duty} or better`}
            {need.pins.length > 0 && (
              <>
                {' '}
                · with {need.pins.join(', ')} <Link href={needHref({ ...need, pins: [] })}>without a must</Link>
              </>
            )}
            {need.without.length > 0 && (
              <>
                {' '}
                · without {need.without.join(', ')}{' '}
                <Link href={needHref({ ...need, without: [] })}>with all again</Link>
              </>
            )}
          </span>
        )}
      </div>
      {need ? (
        <MatchSheet
          key={JSON.stringify(need)}
          need={need}
          cells={candidates}
          measured={measuredOf(cells, codes, curves)}
          limits={limits}
          missing={notYet(cells, need)}
          usual={
            chemistry && {
              chemistry,
              lowestV: lowestVoltageV(chemistry, rules.limits),
              curve: sharedCurve(cells, codes, curves),
            }
          }
        >
          {form}
        </MatchSheet>
      ) : (
        <div className="cols">
          <p className="ask">Series and parallel: expected whole numbers from 1 to 100.</p>
          {form}
        </div>
      )}
      <BuildsBar model={need?.model ?? models[0]?.name ?? ''} />
    </>
  );
}
