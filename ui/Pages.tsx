import { Link } from './Link';

/** Links to the page before and after; nothing where one page holds all. */
export function Pages({
  page,
  total,
  size,
  href,
}: {
  page: number;
  total: number;
  size: number;
  href(page: number): string;
}) {
  const last = Math.max(1, Math.ceil(total / size));
  if (last === 1) return null;
  return (
    <nav aria-label="Pages" className="d-flex gap-3 mt-2 align-items-baseline">
      {page > 1 && <Link href={href(page - 1)}>Before</Link>}
      <span className="soft num">
        {page} of {last}
      </span>
      {page < last && <Link href={href(page + 1)}>Next</Link>}
    </nav>
  );
}
