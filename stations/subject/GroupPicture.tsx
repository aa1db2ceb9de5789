import { groupName } from '@/words/packs';
import type { GroupJudgement } from '@/core/packs/groupVoltages';
import { decimalsOfStep } from '@/core/quantity/format';
import { OutlierMark } from '@/ui/OutlierMark';
import { ticksWithin } from '@/ui/ticks';
import { When } from '@/ui/When';

interface GroupPictureProps {
  /** This many there are, read or not. */
  series: number;
  groups: readonly GroupJudgement[];
  medianV: number;
  /** Groups that the diagnosis rests on. */
  ringed: readonly number[];
  /** The round before in the same state. */
  before: { groups: readonly GroupJudgement[]; at: Date } | null;
}

const height = 300;
const left = 60;
const top = 26;
const floor = 44;

/**
 * Each group's deviation from the median, so that tenths of a millivolt scale and none is cut off; odd ones are
 * diamonds.
 */
export function GroupPicture({ series, groups, medianV, ringed, before }: GroupPictureProps) {
  const values = [...groups.map((group) => group.voltageV), ...(before?.groups.map(({ voltageV }) => voltageV) ?? [])];
  const reach = Math.max(0.012, ...values.map((value) => Math.abs(value - medianV))) * 1.15;
  const [low, high] = [
    Math.max(Math.min(...values, medianV - 0.012), medianV - reach) - 0.12 * reach,
    Math.min(Math.max(...values, medianV + 0.012), medianV + reach) + 0.12 * reach,
  ];
  // Few groups are drawn larger, so that their voltages stay readable beside the verdict.
  const width = series > 8 ? 640 : 440;
  const y = (v: number) => top + ((high - v) / (high - low)) * (height - top - floor);
  const x = (position: number) => left + ((position - 0.5) * (width - left - 10)) / series;
  const lines = ticksWithin(low, high, [0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2]);
  const unread = Array.from({ length: series }, (_, i) => i + 1).filter((at) => !groups.some((g) => g.position === at));

  return (
    <>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        width="100%"
        className={series > 8 ? 'scaled' : undefined}
        role="img"
        aria-label={groups
          .map(
            (group) =>
              `group ${group.position} ${group.voltageV.toFixed(decimalsOfStep(group.stepV))} ` +
              `volts${group.odd ? ', odd' : ''}${ringed.includes(group.position) ? ', the diagnosis rests on it' : ''}`,
          )
          .join('; ')}
      >
        {lines.map((v) => (
          <g key={v}>
            <path d={`M${left - 6} ${y(v)}H${width - 6}`} stroke="var(--rule)" />
            <text className="axis" x={2} y={y(v) + 4}>
              {v.toFixed(lines.length > 1 && Math.abs((lines[1] as number) - (lines[0] as number)) < 0.01 ? 3 : 2)}
            </text>
          </g>
        ))}
        <path d={`M${left - 6} ${y(medianV)}H${width - 6}`} stroke="var(--ink)" strokeWidth={2} />
        {groups.map((group) => {
          const [cx, cy] = [x(group.position), y(group.voltageV)];
          const was = before?.groups.find(({ position }) => position === group.position)?.voltageV;
          const above = group.deviationV >= 0;
          return (
            <g key={group.position}>
              <path
                d={`M${cx} ${y(medianV)}V${cy}`}
                stroke={group.odd ? 'var(--ember)' : 'var(--sea)'}
                strokeWidth={group.odd ? 5 : 3}
              />
              {was !== undefined && <path d={`M${cx - 13} ${y(was)}h26`} stroke="var(--soft)" strokeWidth={2.5} />}
              {ringed.includes(group.position) && (
                <circle cx={cx} cy={cy} r={16} fill="none" stroke="var(--ink)" strokeWidth={1.5} />
              )}
              {group.odd ? (
                <OutlierMark cx={cx} cy={cy} reach={11} />
              ) : (
                <circle cx={cx} cy={cy} r={7} fill="var(--sea)" />
              )}
              <text
                x={cx}
                y={cy + (above ? -21 : 33)}
                textAnchor="middle"
                className="axis"
                style={{ fontSize: 15, fontWeight: 700, fill: 'var(--ink)' }}
              >
                {group.voltageV.toFixed(decimalsOfStep(group.stepV))}
              </text>
            </g>
          );
        })}
        {unread.map((position) => (
          <text key={position} className="axis" x={x(position)} y={y(medianV) - 12} textAnchor="middle">
            not read
          </text>
        ))}
        {Array.from({ length: series }, (_, i) => (
          <text
            key={i}
            x={x(i + 1)}
            y={height - 8}
            textAnchor="middle"
            className="axis"
            style={{ fontSize: 15, fontWeight: 700, fill: 'var(--ink)' }}
          >
            {groupName(i + 1, series)}
          </text>
        ))}
      </svg>
      {(ringed.length > 0 || before) && (
        <p className="soft small mb-2">
          {ringed.length > 0 && 'Ringed: the diagnosis rests on it. '}
          {before && (
            <>
              Bar across: <When at={before.at} as="d MMM" />.
            </>
          )}
        </p>
      )}
    </>
  );
}
