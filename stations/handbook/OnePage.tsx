import 'katex/dist/katex.min.css';
import katex from 'katex';
import type { Formula as FormulaOf } from '@/core/handbook/entry';
import { ruleBook } from '@/core/chemistry/houseRules';
import { Link } from '@/ui/Link';
import { judgedWorkshop } from '@/workshop/judged';
import { notFound } from 'next/navigation';
import { PlusMinus } from '@/ui/PlusMinus';
import { GoBar } from '../frame/GoBar';
import { type HandbookPage, handbookPages } from '@/workshop/handbookPages';
import { DrawingOf } from './drawings';

/** One page of the handbook: text, formula, worked figures, drawing, sources and what changes the result. */
export async function OnePage({ pageKey }: { pageKey: string }) {
  const { rules } = await judgedWorkshop();
  const pages = handbookPages(rules.limits);
  const page = pages.find(({ key }) => key === pageKey);
  if (!page) notFound();
  const { title, section, text, formulas, figures, table, drawing, sources, see } = page;
  const isList = section === 'Cautions';
  return (
    <>
      <div className="head">
        <h1>
          <Link href="/handbook">Handbook</Link> · {section}
        </h1>
      </div>
      <div className="cols">
        <section className="sheet lead-ink" aria-label="Explanation">
          <p className="headline">{title}</p>
          {isList ? (
            <ul className="mb-0">
              {text.map((line) => (
                <li key={line}>{line}</li>
              ))}
            </ul>
          ) : (
            text.map((paragraph) => <p key={paragraph}>{paragraph}</p>)
          )}
          {formulas.map((formula) => (
            <Formula key={formula.tex} formula={formula} />
          ))}
          <Figures figures={figures} isLarge={section === 'House rules' || section === 'Chemistries'} />
          {figures.some(({ figure }) => figure.includes('±')) && <PlusMinus />}
          {table && <Table table={table} />}
        </section>
        <div className="stack">
          {drawing && (
            <section className="sheet" aria-label="Drawing">
              <DrawingOf what={drawing} />
            </section>
          )}
          <section className="sheet" aria-label="Sources">
            <h2>Sources</h2>
            <ul className="mb-0">
              {sources.map((source) => (
                <li key={source}>{source}</li>
              ))}
            </ul>
          </section>
          <ChangedBy page={page} />
          {see.length > 0 && (
            <section className="sheet" aria-label="Related pages">
              <h2>Related pages</h2>
              <ul className="link-list mb-0">
                {pages
                  .filter(({ key }) => see.includes(key))
                  .map(({ key, title }) => (
                    <li key={key}>
                      <Link href={`/handbook/${key}`}>{title}</Link>
                    </li>
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

/** Our own TeX, set on the server; a mistake in it throws. */
const inTex = (tex: string, displayMode: boolean) => ({ __html: katex.renderToString(tex, { displayMode }) });

function Formula({ formula: { tex, where } }: { formula: FormulaOf }) {
  return (
    <>
      <div className="formula" tabIndex={0} dangerouslySetInnerHTML={inTex(tex, true)} />
      <dl className="symbols">
        {where.map(([symbol, meaning, unit]) => (
          <div key={symbol}>
            <dt dangerouslySetInnerHTML={inTex(symbol, false)} />
            <dd>{unit ? `${meaning}, ${unit}` : meaning}</dd>
          </div>
        ))}
      </dl>
    </>
  );
}

function Figures({ figures, isLarge }: { figures: HandbookPage['figures']; isLarge: boolean }) {
  if (figures.length === 0) return null;
  return (
    <dl className={isLarge ? 'settings' : 'worked'}>
      {figures.map(({ name, figure }) => (
        <div key={name}>
          <dt>{name}</dt>
          <dd className={isLarge ? undefined : 'num'}>{figure}</dd>
        </div>
      ))}
    </dl>
  );
}

function Table({ table: { head, rows } }: { table: NonNullable<HandbookPage['table']> }) {
  return (
    <div className="table-scroll" tabIndex={0}>
      <table className="table num">
        <thead>
          <tr>
            {head.map((name) => (
              <th key={name} scope="col">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(([first, ...more]) => (
            <tr key={first}>
              <th scope="row">{first}</th>
              {more.map((cell, i) => (
                <td key={head[i + 1]}>{cell}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function ChangedBy({ page: { section, rules } }: { page: HandbookPage }) {
  const [own] = rules;
  if (own === undefined) return null;
  return (
    <section className="sheet" aria-label="House rules">
      <h2>House rules</h2>
      {section === 'House rules' ? (
        <p className="mb-0">
          Change the value under <Link href={`/rules#${own}`}>House rules</Link>. The change applies to everything at
          once.
        </p>
      ) : (
        <ul className="link-list mb-0">
          {rules.map((rule) => (
            <li key={rule}>
              <Link href={`/handbook/${rule}`}>{ruleBook[rule].title}</Link>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
