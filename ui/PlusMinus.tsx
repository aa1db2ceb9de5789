import { Link } from './Link';

/** What ± means, said once on every screen that has one. */
export const PlusMinus = () => (
  <p className="soft plus-minus mt-2 mb-0">
    ± is one standard uncertainty. Twice that covers the true value in about 95 % of cases (
    <Link href="/truth">how that was tried</Link>).
  </p>
);
