import { ruleBook } from '@/core/chemistry/houseRules';
import { Link } from '@/ui/Link';
import { cautions } from '@/words/cautions';
import { judgedWorkshop } from '@/workshop/judged';
import { notFound } from 'next/navigation';
import { PlusMinus } from '@/ui/PlusMinus';
import { GoBar } from '../frame/GoBar';
import { handbook } from '@/workshop/handbook';
import type { HandbookPage } from '@/workshop/handbookPages';

/** One limit, table or formula: its figure, where it comes from, what changes it, what it is used for. */
export async function OnePage({ asked }: { asked: string }) {
  const { rules } = await judgedWorkshop();
  const page = (await handbook(rules.limits)).find(({ key }) => key === asked);
  if (!page) notFound();
  const { title, text, kind, source, usedFor } = page;
  return (
    <>
      <div className="head">
        <h1>
          <Link href="/handbook">Handbook</Link> · {kind}
        </h1>
        <span className="tag">{source}</span>
      </div>
      <div className="cols">
        <section className="sheet lead-ink" aria-label="What it is">
          <p className="headline">{title}</p>
          {kind === 'caution' ? (
            <ul className="mb-0">
              {cautions.map((caution) => (
                <li key={caution}>{caution}</li>
              ))}
            </ul>
          ) : (
            text !== title && <p>{text}</p>
          )}
          <Figures page={page} />
          {page.figures.some(({ figure }) => figure.includes('±')) && <PlusMinus />}
        </section>
        <div className="stack">
          <section className="sheet" aria-label="What changes it">
            <h2>What changes it</h2>
            <Changes page={page} />
          </section>
          {page.goesBy.length > 0 && (
            <section className="sheet" aria-label="What it goes by">
              <h2>What it goes by</h2>
              <ul className="mb-0">
                {page.goesBy.map(({ key, title, figure }) => (
                  <li key={key}>
                    <Link href={`/handbook/${key}`}>{title}</Link>
                    {figure !== null && (
                      <>
                        : <b className="num">{figure}</b>
                      </>
                    )}
                  </li>
                ))}
              </ul>
            </section>
          )}
          {usedFor.length > 0 && (
            <section className="sheet" aria-label="Used for">
              <h2>Used for</h2>
              <ul className="mb-0">
                {usedFor.map((use) => (
                  <li key={use}>{use}</li>
                ))}
              </ul>
            </section>
          )}
        </div>
      </div>
      <GoBar placeholder="PF1 opens a pack" />
    </>
  );
}

function Figures({ page: { figures } }: { page: HandbookPage }) {
  if (figures.length === 0) return null;
  return (
    <dl className="settings mb-0">
      {figures.map(({ name, figure }) => (
        <div key={name}>
          <dt>{name}</dt>
          <dd style={figure.length > 12 ? { fontSize: '1rem', overflowWrap: 'anywhere' } : undefined}>{figure}</dd>
        </div>
      ))}
    </dl>
  );
}

function Changes({ page: { kind, rules } }: { page: HandbookPage }) {
  const [own] = rules;
  if (kind === 'house rule' && own)
    return (
      <p className="mb-0">
        <Link href={`/rules#${own}`}>The house rules</Link>: a change applies to everything at once.
      </p>
    );
  if (rules.length === 0)
    return (
      <p className="soft mb-0">
        Nothing here: it is {kind === 'caution' ? 'no figure' : 'the same under every house rule'}.
      </p>
    );
  return (
    <ul className="mb-0">
      {rules.map((rule) => (
        <li key={rule}>
          <Link href={`/handbook/${rule}`}>{ruleBook[rule].title}</Link>
        </li>
      ))}
    </ul>
  );
}
