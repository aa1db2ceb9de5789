import type { IntakeClass } from '@/core/grading/intake';

const names: Record<IntakeClass, string> = { usable: 'Usable', 'rescue-only': 'Rescue only', out: 'Out' };

/**
 * Usable a full square, rescue only a half one, out a cross; an empty ring while undecided. `named` shows its word;
 * `said` is for those who do not see the shape.
 */
export function IntakeClassMark({
  of,
  named = false,
  said = false,
}: {
  of: IntakeClass | null;
  named?: boolean;
  said?: boolean;
}) {
  return (
    <>
      <svg
        width="16"
        height="16"
        aria-hidden={!said}
        role={said ? 'img' : undefined}
        aria-label={said && of ? names[of] : undefined}
      >
        {of === null && <circle cx="8" cy="8" r="6" fill="none" stroke="var(--soft)" />}
        {of === 'usable' && <rect x="2" y="2" width="12" height="12" fill="var(--sea)" />}
        {of === 'rescue-only' && (
          <path
            d="M2.8 2.8h10.4v10.4h-10.4zM2.8 13.2L13.2 2.8V13.2z"
            fill="none"
            stroke="var(--straw)"
            strokeWidth="1.8"
          />
        )}
        {of === 'out' && <path d="M3 3l10 10M13 3L3 13" stroke="var(--plum)" strokeWidth="2.8" />}
      </svg>
      {named && of && ` ${names[of]}`}
    </>
  );
}
