import { minus } from '@/core/quantity/format';
import { OutlierMark } from '@/ui/OutlierMark';
import { ticksOver, tickText } from '@/ui/ticks';
import type { JudgedChannel } from '@/core/judging/judgeSheet';

const width = 700;
const rowHeight = 34;
const left = 84;
const top = 18;
const floor = 44;

/** Each channel's difference from the reference on each battery, with its standard uncertainty. */
export function DifferenceChart({ channels, batteries }: { channels: JudgedChannel[]; batteries: string[] }) {
  const rows = channels.flatMap((channel) =>
    channel.readings.flatMap((reading) =>
      reading.difference ? [{ channel, reading, difference: reading.difference }] : [],
    ),
  );
  if (rows.length === 0) return null;
  const ends = rows
    .flatMap(({ difference }) => [difference.value - difference.u, difference.value + difference.u])
    .map((v) => v * 1000);
  const ticks = ticksOver(Math.min(0, ...ends), Math.max(0, ...ends), [0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500]);
  const [low, high] = [ticks[0] ?? 0, ticks.at(-1) ?? 1];
  const x = (millivolts: number) => left + ((millivolts - low) / (high - low)) * (width - left - 20);
  const height = top + channels.length * rowHeight + floor;
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      width="100%"
      className="scaled"
      role="img"
      aria-label="Differences from the reference in millivolts; the table below has the same figures"
    >
      {ticks.map((tick) => (
        <g key={tick}>
          <path
            d={`M${x(tick)} ${top - 6}V${height - floor}`}
            stroke={tick === 0 ? 'var(--ink)' : 'var(--rule)'}
            strokeWidth={tick === 0 ? 2 : 1}
          />
          <text className="axis" x={x(tick)} y={height - floor + 18} textAnchor="middle">
            {tickText(tick)}
          </text>
        </g>
      ))}
      <text className="axis" x={width - 20} y={height - 6} textAnchor="end">
        mV from the reference, with ±
      </text>
      {channels.map((channel, row) => (
        <g key={channel.name}>
          <text
            x={6}
            y={top + (row + 0.5) * rowHeight + 5}
            className="axis"
            style={{ fontSize: 15, fontWeight: 700, fill: channel.apartOn > 0 ? 'var(--ember)' : 'var(--ink)' }}
          >
            {channel.apartOn > 0 ? '◆ ' : ''}
            {channel.name}
          </text>
          {channel.readings.map(({ position, difference, apart }) => {
            if (!difference) return null;
            const y =
              top +
              (row + 0.5) * rowHeight +
              (position - (batteries.length + 1) / 2) * Math.min(9, 24 / batteries.length);
            const cx = x(difference.value * 1000);
            const colour = apart ? 'var(--ember)' : 'var(--sea)';
            return (
              <g key={position}>
                <title>
                  {`${channel.name} on ${batteries[position - 1] ?? ''}: ` +
                    `${minus((difference.value * 1000).toFixed(1))} ± ${(1000 * difference.u).toFixed(1)} mV`}
                </title>
                <path
                  d={
                    `M${x((difference.value - difference.u) * 1000)} ` +
                    `${y}H${x((difference.value + difference.u) * 1000)}`
                  }
                  stroke={colour}
                  strokeWidth={2}
                />
                {apart ? (
                  <OutlierMark cx={cx} cy={y} reach={6} colour={colour} />
                ) : (
                  <circle cx={cx} cy={y} r={4} fill={colour} />
                )}
              </g>
            );
          })}
        </g>
      ))}
    </svg>
  );
}
