import { Label, XAxis, YAxis } from 'recharts';

const axis = { tick: { className: 'axis' }, stroke: 'var(--soft)' } as const;

/** The axis below a plot of cells by figure. */
export const AxisBelow = ({
  dataKey,
  label,
  format,
  domain = ['auto', 'auto'],
  ticks,
}: {
  dataKey: string;
  label: string;
  format?: (tick: number) => string;
  domain?: [string | number, string];
  /** Round values; chosen by the chart where left out. */
  ticks?: number[];
}) => (
  <XAxis
    type="number"
    dataKey={dataKey}
    domain={domain}
    {...(ticks && { ticks })}
    {...(format && { tickFormatter: format })}
    {...axis}
  >
    <Label value={label} position="bottom" className="axis" />
  </XAxis>
);

/** The axis beside it, over the round values given. */
export const AxisBeside = ({
  dataKey,
  label,
  ticks,
  format,
}: {
  dataKey?: string;
  label: string;
  ticks: number[];
  format: (tick: number) => string;
}) => (
  <YAxis
    type="number"
    {...(dataKey === undefined ? {} : { dataKey })}
    domain={[ticks[0] ?? -1, ticks.at(-1) ?? 1]}
    ticks={ticks}
    tickFormatter={format}
    {...axis}
    width={58}
  >
    <Label value={label} angle={-90} position="insideLeft" className="axis" style={{ textAnchor: 'middle' }} />
  </YAxis>
);
