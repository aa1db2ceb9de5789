/** An outlier in a chart: a diamond, with its name above it where there is room for one. */
export function OutlierMark({
  cx,
  cy,
  reach,
  name = null,
  below = false,
  colour = 'var(--ember)',
}: {
  cx: number;
  cy: number;
  reach: number;
  name?: string | null;
  below?: boolean;
  colour?: string;
}) {
  return (
    <g>
      <path d={`M${cx} ${cy - reach}l${reach} ${reach}l${-reach} ${reach}l${-reach} ${-reach}z`} fill={colour} />
      {name !== null && (
        <text x={cx} y={cy + (below ? reach + 14 : -reach - 4)} textAnchor="middle" className="axis">
          {name}
        </text>
      )}
    </g>
  );
}
