import { Link } from '@/ui/Link';
import { judgedWorkshop } from '@/workshop/judged';
import { GoBar } from '../frame/GoBar';
import { handbook, whatItGoesBy } from '@/workshop/handbook';
import { foundIn, type HandbookPage as Page, type PageKind, pageKinds } from '@/workshop/handbookPages';

const kindNames: Record<PageKind, string> = {
  caution: 'Cautions',
  'house rule': 'House rules',
  chemistry: 'Chemistries',
  table: 'Tables',
  method: 'Methods of resistance',
  limit: 'Other limits',
  formula: 'Formulas and methods',
};

/** Every limit, table and formula that the program uses, found by any word or by the code of a sentence. */
export async function HandbookPage({ asked, said }: { asked: string; said: string }) {
  const { rules } = await judgedWorkshop();
  const pages = await handbook(rules.limits);
  const goesBy = said === '' ? null : await whatItGoesBy(said, pages);
  const found = goesBy?.pages ?? foundIn(pages, asked);
  return (
    <>
      <div className="head">
        <h1>Handbook</h1>
        <span className="soft">Every limit, table and formula: where it comes from, and what changes it.</span>
      </div>
      <section className="sheet lead-ink mb-3" aria-label="Search">
        <form method="get" className="d-flex flex-wrap gap-2 align-items-end">
          <div className="flex-fill">
            <label className="form-label" htmlFor="handbook-q">
              Any word of it
            </label>
            <input id="handbook-q" name="q" className="form-control" defaultValue={asked} autoComplete="off" />
          </div>
          <button className="btn btn-ember" type="submit">
            Search
          </button>
        </form>
        {goesBy && (
          <p className="mb-0 mt-2" role="status">
            {goesBy.isNamed
              ? 'What was said goes by these. '
              : 'What was said goes by no single figure: here is all that this part of the program goes by. '}
            <Link href="/handbook">The whole handbook</Link>
          </p>
        )}
        {asked !== '' && !goesBy && (
          <p className="mb-0 mt-2" role="status">
            {found.length === 0
              ? 'No page has all of these words: try fewer.'
              : `${found.length} of ${pages.length} pages`}
          </p>
        )}
      </section>
      {pageKinds.map((kind) => (
        <Kind
          key={kind}
          kind={kind}
          pages={found.filter((page) => page.kind === kind)}
          isOpen={asked !== '' || goesBy !== null}
        />
      ))}
      <GoBar placeholder="PF1 opens a pack" />
    </>
  );
}

/** Beyond it a kind is folded until a person asks. */
const mostOpen = 12;

function Kind({ kind, pages, isOpen }: { kind: PageKind; pages: readonly Page[]; isOpen: boolean }) {
  if (pages.length === 0) return null;
  return (
    <details className="sheet mb-2" open={isOpen || pages.length <= mostOpen}>
      <summary>
        <b>{kindNames[kind]}</b> <span className="soft">{pages.length}</span>
      </summary>
      <ul className="reasons mt-2 mb-0">
        {pages.map(({ key, title, source }) => (
          <li key={key}>
            <Link href={`/handbook/${key}`}>{title}</Link> <span className="soft">{source}</span>
          </li>
        ))}
      </ul>
    </details>
  );
}
