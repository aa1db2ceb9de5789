import { dutyNames } from '@/words/duty';
import type { Duty } from '@/core/grading/duty';

/** Colour of a duty; its shape means the same. */
export const dutyColours: Record<Duty, string> = {
  surge: 'var(--sea)',
  steady: 'var(--ink)',
  light: 'var(--straw)',
  retire: 'var(--plum)',
};

/** The shape of a duty around a point: triangle, disc, ring, cross; a dot while unknown. For use within an svg. */
export function DutyShape({ duty, x, y, size = 6 }: { duty: Duty | null; x: number; y: number; size?: number }) {
  switch (duty) {
    case 'surge':
      return (
        <path
          d={`M${x} ${y - size}L${x + size} ${y + size * 0.8}L${x - size} ${y + size * 0.8}Z`}
          fill={dutyColours.surge}
        />
      );
    case 'steady':
      return <circle cx={x} cy={y} r={size * 0.9} fill={dutyColours.steady} />;
    case 'light':
      return <circle cx={x} cy={y} r={size * 0.8} fill="none" stroke={dutyColours.light} strokeWidth={size * 0.4} />;
    case 'retire':
      return (
        <path
          d={
            `M${x - size * 0.75} ${y - size * 0.75}l${size * 1.5} ${size * 1.5}m0 ${-size * 1.5}l${-size * 1.5} ` +
            `${size * 1.5}`
          }
          stroke={dutyColours.retire}
          strokeWidth={size * 0.42}
        />
      );
    default:
      return <circle cx={x} cy={y} r={size * 0.35} fill="var(--soft)" />;
  }
}

/**
 * The shape alone, with its word for those who do not see it unless the word is beside it; "at least" where only a
 * least capacity is known.
 */
export function DutyMark({
  duty,
  named = false,
  atLeast = false,
}: {
  duty: Duty | null;
  named?: boolean;
  atLeast?: boolean;
}) {
  const name = duty ? `${atLeast && duty !== 'retire' ? 'at least ' : ''}${dutyNames[duty]}` : 'Not graded yet';
  return (
    <>
      <svg
        width="18"
        height="18"
        aria-hidden={named}
        role={named ? undefined : 'img'}
        aria-label={named ? undefined : name}
      >
        <DutyShape duty={duty} x={9} y={9} />
      </svg>
      {named && ` ${name}`}
    </>
  );
}
