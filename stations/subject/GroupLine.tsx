'use client';

import { dashes } from '@/ui/lineEnds';
import { Line } from 'recharts';

interface GroupLineProps {
  /** From the negative terminal; 0 is the whole. */
  position: number;
  isHot: boolean;
  /** Stands at its end; empty where another's name holds for both. */
  name: string | undefined;
  /** Place of the last row drawn. */
  lastRow: number;
  dots: boolean;
}

/** The line of a group in a plot whose rows hold each group's value under `g` and its position. */
export const GroupLine = ({ position, isHot, name, lastRow, dots }: GroupLineProps) => (
  <Line
    dataKey={`g${position}`}
    connectNulls
    stroke={isHot ? 'var(--ember)' : 'var(--ink)'}
    strokeWidth={isHot ? 3 : 1.8}
    strokeDasharray={dashes[position % dashes.length]}
    dot={dots ? { r: 3, strokeDasharray: '' } : false}
    activeDot={false}
    isAnimationActive={false}
    label={({ x, y, index }: { x?: number | string; y?: number | string; index?: number }) =>
      index === lastRow ? (
        <text x={Number(x) + 8} y={Number(y) + 5} className="axis" style={{ fontWeight: 700 }}>
          {name}
        </text>
      ) : (
        <g />
      )
    }
  />
);
