import { Link } from '@/ui/Link';
import { judgedWorkshop } from '@/workshop/judged';
import { GoBar } from '../frame/GoBar';
import { foundIn, type HandbookPage as Page, handbookPages, sections } from '@/workshop/handbookPages';

/** The handbook: methods, formulas, chemistries and house rules, by topic or by any word. */
export async function HandbookPage({ query }: { query: string }) {
  const { rules } = await judgedWorkshop();
  const pages = handbookPages(rules.limits);
  const found = foundIn(pages, query);
  return (
    <>
      <div className="head">
        <h1>Handbook</h1>
        <span className="soft">How each result is computed, and where each limit comes from.</span>
      </div>
      <section className="sheet lead-ink mb-3" aria-label="Search">
        <form method="get" className="d-flex flex-wrap gap-2 align-items-end">
          <div className="flex-fill">
            <label className="form-label" htmlFor="handbook-q">
              Search for any word
            </label>
            <input id="handbook-q" name="q" className="form-control" defaultValue={query} autoComplete="off" />
          </div>
          <button className="btn btn-ember" type="submit">
            Search
          </button>
        </form>
        {query !== '' && (
          <p className="mb-0 mt-2" role="status">
            {found.length === 0
              ? 'No page contains all of these words. Try fewer words.'
              : `${found.length} of ${pages.length} pages`}
          </p>
        )}
      </section>
      <div className="handbook-topics">
        {sections.map((section) => (
          <Topic key={section} name={section} pages={found.filter((page) => page.section === section)} />
        ))}
      </div>
      <GoBar placeholder="PF1 opens a pack" />
    </>
  );
}

function Topic({ name, pages }: { name: string; pages: readonly Page[] }) {
  if (pages.length === 0) return null;
  return (
    <section className="sheet" aria-label={name}>
      <h2>{name}</h2>
      <ul className="link-list mb-0">
        {pages.map(({ key, title }) => (
          <li key={key}>
            <Link href={`/handbook/${key}`}>{title}</Link>
          </li>
        ))}
      </ul>
    </section>
  );
}
