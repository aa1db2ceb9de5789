'use client';

import type { IntakeClass } from '@/core/grading/intake';
import { IntakeClassMark } from '@/ui/IntakeClassMark';
import { Link } from '@/ui/Link';

/** Every cell of a batch in its place, with what was decided of it. */
export function IntakeTray({
  batchCode,
  cells,
  now,
}: {
  batchCode: string;
  cells: [code: string, decided: IntakeClass | null][];
  now: string | null;
}) {
  return (
    <ol className="tray">
      {cells.map(([code, decided]) => (
        <li key={code}>
          <Link
            href={`/intake/${batchCode}?at=${code}`}
            aria-label={`${code}, ${decided ?? 'to look at'}`}
            aria-current={code === now ? 'true' : undefined}
            className={code === now ? 'mark-now' : ''}
            scroll={false}
          >
            <IntakeClassMark of={decided} />
          </Link>
        </li>
      ))}
    </ol>
  );
}
