import { judgedWorkshop } from '@/workshop/judged';
import Link from 'next/link';
import { BuildsBar } from './BuildsBar';
import { candidatesOf, free, measuredOf, modelsOf } from '@/core/judging/candidates';
import { MatchSheet } from './MatchSheet';
import { NeedForm } from './NeedForm';
import { needHref, needOf } from './need';

/** The match of a pack: made in the browser's own worker from the cells given here. */
export async function NewBuildPage({ parameters }: { parameters: Record<string, string | undefined> }) {
  const { cells, rules } = await judgedWorkshop();
  const models = modelsOf(free(cells));
  const asked = needOf(parameters);
  const need = asked && { ...asked, model: asked.model || (models[0]?.name ?? '') };
  const candidates = need ? candidatesOf(cells, need) : [];
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
      <div className="cols">
        {need ? (
          <MatchSheet
            key={JSON.stringify(need)}
            need={need}
            cells={candidates}
            measured={measuredOf(
              cells,
              candidates.map((cell) => cell.id),
            )}
            joinWithinV={rules.limits.joinWithinV}
          />
        ) : (
          <p className="ask">Series and parallel: expected whole numbers from 1 to 100.</p>
        )}
        <section className="sheet lead-ink" aria-label="What the pack must be">
          <h2>What the pack must be</h2>
          <NeedForm key={JSON.stringify(need)} models={models} need={need} />
        </section>
      </div>
      <BuildsBar model={need?.model ?? models[0]?.name ?? ''} />
    </>
  );
}
