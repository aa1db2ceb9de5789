import type { Drawing } from '@/core/handbook/entry';
import { drawnCurves } from '@/workshop/handbookPages';
import type { ReactNode } from 'react';

const [width, height] = [340, 200];

/** A drawing with its caption. */
const Drawn = ({ caption, children }: { caption: string; children: ReactNode }) => (
  <figure className="drawing mb-0">
    <svg viewBox={`0 0 ${width} ${height}`} role="img" aria-label={caption}>
      {children}
    </svg>
    <figcaption className="soft">{caption}</figcaption>
  </figure>
);

const Label = ({
  x,
  y,
  children,
  anchor = 'middle',
}: {
  x: number;
  y: number;
  children: ReactNode;
  anchor?: 'start' | 'middle' | 'end';
}) => (
  <text x={x} y={y} textAnchor={anchor}>
    {children}
  </text>
);

const points = (all: readonly (readonly [number, number])[]): string => all.map((one) => one.join(',')).join(' ');

/** Three values and a limit: met, open, missed. */
function GuardBand() {
  const limitX = 170;
  const rows = [
    { y: 50, x: 250, name: 'met', className: 'sea' },
    { y: 100, x: 190, name: 'open', className: 'straw' },
    { y: 150, x: 95, name: 'missed', className: 'ember' },
  ];
  return (
    <Drawn caption="Each bar is k standard uncertainties to either side. Only the top value meets the limit.">
      <line className="dash" x1={limitX} x2={limitX} y1="22" y2="175" />
      <Label x={limitX} y={16}>
        limit
      </Label>
      {rows.map(({ y, x, name, className }) => (
        <g key={name} className={className}>
          <line x1={x - 45} x2={x + 45} y1={y} y2={y} />
          <line x1={x - 45} x2={x - 45} y1={y - 7} y2={y + 7} />
          <line x1={x + 45} x2={x + 45} y1={y - 7} y2={y + 7} />
          <circle cx={x} cy={y} r="5" />
          <Label x={x} y={y - 14}>
            {name}
          </Label>
        </g>
      ))}
      <line x1="20" x2="320" y1="180" y2="180" />
      <Label x={320} y={195} anchor="end">
        measured value
      </Label>
    </Drawn>
  );
}

/** A cell with two wires, and with four. */
function FourWire() {
  const cell = (x: number) => (
    <g>
      <rect x={x - 16} y="70" width="32" height="90" rx="3" />
      <rect x={x - 7} y="62" width="14" height="8" />
      <Label x={x} y={120}>
        cell
      </Label>
    </g>
  );
  return (
    <Drawn caption="Two wires measure the leads as well. With four wires the sense pair sits inside the current pair.">
      <Label x={85} y={18}>
        two wires
      </Label>
      <Label x={255} y={18}>
        four wires
      </Label>
      {cell(85)}
      {cell(255)}
      <polyline className="ember" points="40,34 40,62 85,62" />
      <polyline className="ember" points="130,34 130,160 85,160" />
      <Label x={85} y={40}>
        meter
      </Label>
      <polyline className="ember" points="200,34 200,58 250,58" />
      <polyline className="ember" points="310,34 310,165 250,165" />
      <polyline className="sea" points="222,34 222,66 248,66" />
      <polyline className="sea" points="290,34 290,156 262,156" />
      <Label x={256} y={40}>
        meter
      </Label>
      <Label x={196} y={186} anchor="start">
        outer: current · inner: sense
      </Label>
    </Drawn>
  );
}

/** Voltage over time while a load is on. */
function LoadStep() {
  return (
    <Drawn caption="Measure the open voltage, the loaded voltage after ten seconds, then the recovery voltage.">
      <line x1="30" x2="330" y1="175" y2="175" />
      <line x1="30" x2="30" y1="20" y2="175" />
      <polyline className="ember" points="30,45 90,45 90,92 120,104 160,112 230,122 230,78 255,66 290,59 330,56" />
      <circle className="sea" cx="88" cy="45" r="5" />
      <circle className="sea" cx="230" cy="122" r="5" />
      <circle className="sea" cx="310" cy="57" r="5" />
      <Label x={60} y={34}>
        open
      </Label>
      <Label x={222} y={140}>
        loaded
      </Label>
      <Label x={300} y={44}>
        recovery
      </Label>
      <line className="dash" x1="90" x2="90" y1="45" y2="175" />
      <line className="dash" x1="230" x2="230" y1="45" y2="175" />
      <Label x={160} y={192}>
        10 s
      </Label>
      <Label x={14} y={30}>
        V
      </Label>
    </Drawn>
  );
}

/** Rested voltage over charge, from the tables in use. */
function OpenCircuit() {
  const [lowV, highV] = [2.8, 4.3];
  const at = (soc: number, volts: number): [number, number] => [
    38 + 285 * soc,
    175 - (150 * (volts - lowV)) / (highV - lowV),
  ];
  return (
    <Drawn caption="Rested voltage over charge. On a flat part a small error in voltage is a large one in charge.">
      {[3, 3.5, 4].map((volts) => {
        const [, y] = at(0, volts);
        return (
          <g key={volts}>
            <line className="grid" x1="38" x2="323" y1={y} y2={y} />
            <Label x={32} y={y + 4} anchor="end">
              {volts.toFixed(1)}
            </Label>
          </g>
        );
      })}
      {drawnCurves.map(({ name, points: course }, i) => (
        <polyline
          key={name}
          className={['ember', 'sea', 'straw'][i]}
          points={points(course.map(([soc, volts]) => at(soc, volts)))}
        >
          <title>{name}</title>
        </polyline>
      ))}
      <Label x={38} y={192} anchor="start">
        empty
      </Label>
      <Label x={323} y={192} anchor="end">
        full
      </Label>
      <Label x={230} y={66}>
        pouch, cylindrical
      </Label>
      <Label x={230} y={140}>
        iron phosphate
      </Label>
    </Drawn>
  );
}

/** A batch over weeks; one cell drops faster. */
function SelfDischarge() {
  return (
    <Drawn caption="All cells settle on the first day. One cell then drops faster: an internal leak.">
      <line x1="30" x2="330" y1="175" y2="175" />
      {[40, 46, 52, 58].map((y) => (
        <polyline key={y} className="sea" points={`30,${y - 22} 45,${y - 8} 65,${y - 2} 100,${y} 325,${y + 5}`} />
      ))}
      <polyline className="ember" points="30,30 45,44 65,52 100,62 325,140" />
      <line className="dash" x1="65" x2="65" y1="20" y2="175" />
      <Label x={65} y={192}>
        1 day
      </Label>
      <Label x={325} y={192} anchor="end">
        4 weeks
      </Label>
      <Label x={250} y={150}>
        leaks
      </Label>
    </Drawn>
  );
}

/** A current that divides between three cells. */
function Parallel() {
  const cells = [
    { x: 80, text: '40 mΩ', part: '3/8', wide: 4 },
    { x: 170, text: '40 mΩ', part: '3/8', wide: 4 },
    { x: 260, text: '60 mΩ', part: '2/8', wide: 2.6 },
  ];
  return (
    <Drawn caption="Cells in parallel share a current. The cell with the lower resistance carries more.">
      <line x1="50" x2="300" y1="40" y2="40" />
      <line x1="50" x2="300" y1="165" y2="165" />
      {cells.map(({ x, text, part, wide }) => (
        <g key={x}>
          <line className="ember" strokeWidth={wide} x1={x} x2={x} y1="40" y2="70" />
          <rect x={x - 18} y="70" width="36" height="65" rx="3" />
          <line className="ember" strokeWidth={wide} x1={x} x2={x} y1="135" y2="165" />
          <Label x={x} y={107}>
            {text}
          </Label>
          <Label x={x + 8} y={60} anchor="start">
            {part}
          </Label>
        </g>
      ))}
      <line x1="170" x2="170" y1="15" y2="40" />
      <Label x={180} y={26} anchor="start">
        whole current
      </Label>
    </Drawn>
  );
}

/** Four groups, the highest and the lowest. */
function Imbalance() {
  const tops = [70, 66, 112, 72];
  return (
    <Drawn caption="Imbalance is the highest minus the lowest group voltage.">
      {tops.map((y, i) => (
        <g key={y}>
          <rect className={i === 2 ? 'ember' : 'sea'} x={50 + 60 * i} y={y} width="34" height={170 - y} />
          <Label x={67 + 60 * i} y={188}>
            {i + 1}
          </Label>
        </g>
      ))}
      <line className="dash" x1="40" x2="300" y1="66" y2="66" />
      <line className="dash" x1="40" x2="300" y1="112" y2="112" />
      <line x1="300" x2="300" y1="66" y2="112" />
      <Label x={306} y={60} anchor="end">
        imbalance
      </Label>
    </Drawn>
  );
}

const drawings: Record<Drawing, () => ReactNode> = {
  'guard-band': GuardBand,
  'four-wire': FourWire,
  'load-step': LoadStep,
  'open-circuit': OpenCircuit,
  'self-discharge': SelfDischarge,
  parallel: Parallel,
  imbalance: Imbalance,
};

/** The drawing of a handbook page. */
export function DrawingOf({ what }: { what: Drawing }) {
  const Picture = drawings[what];
  return <Picture />;
}
