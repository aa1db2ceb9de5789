'use client';

import { type KeyboardEvent, type PointerEvent, type ReactNode, useRef, useState } from 'react';
import Button from 'react-bootstrap/Button';

/** A stretch of an axis. */
export interface Span {
  fromS: number;
  toS: number;
}

interface PlotPointerProps {
  /** Where the plot begins and ends within its chart, px. */
  plot: { left: number; right: number; top: number; bottom: number };
  shown: Span;
  whole: Span;
  onZoom(to: Span | null): void;
  /** The values at a place on the axis, in a line. */
  read(x: number): string;
  children: ReactNode;
}

/** A stroke of fewer pixels was a click. */
const leastStroke = 8;
/** A key moves the read-out by this share of what is shown; a zoom shows this share of it. */
const keyFraction = 0.01;
const zoomFraction = 0.5;

/**
 * Reads a chart under the pointer or by the arrow keys, and zooms it by a stroke across or by + and −; the chart itself
 * is not redrawn for that.
 */
export function PlotPointer({ plot, shown, whole, onZoom, read, children }: PlotPointerProps) {
  const ref = useRef<HTMLDivElement>(null);
  const [at, setAt] = useState<number | null>(null);
  const [strokeFrom, setStrokeFrom] = useState<number | null>(null);
  const span = shown.toS - shown.fromS;

  const placeOf = (event: PointerEvent): number => {
    const box = ref.current?.getBoundingClientRect();
    if (!box) return shown.fromS;
    const fraction = (event.clientX - box.left - plot.left) / (box.width - plot.left - plot.right);
    return shown.fromS + Math.min(1, Math.max(0, fraction)) * span;
  };
  const fractionOf = (x: number): string =>
    `calc(${plot.left}px + (100% - ${plot.left + plot.right}px) * ${(x - shown.fromS) / span})`;
  const pixels = (x: number): number =>
    ((ref.current?.getBoundingClientRect().width ?? 0) - plot.left - plot.right) * (x / span);

  const zoomAround = (x: number, fraction: number): void => {
    const width = span * fraction;
    if (width >= whole.toS - whole.fromS) return onZoom(null);
    const fromS = Math.min(Math.max(whole.fromS, x - width / 2), whole.toS - width);
    onZoom({ fromS, toS: fromS + width });
  };
  const endStroke = (event: PointerEvent): void => {
    const to = placeOf(event);
    if (strokeFrom !== null && Math.abs(pixels(to - strokeFrom)) > leastStroke)
      onZoom({ fromS: Math.min(strokeFrom, to), toS: Math.max(strokeFrom, to) });
    setStrokeFrom(null);
  };
  const mid = at ?? (shown.fromS + shown.toS) / 2;
  const press = (event: KeyboardEvent): void => {
    const moves: Record<string, () => void> = {
      ArrowLeft: () => setAt(Math.max(shown.fromS, mid - keyFraction * span)),
      ArrowRight: () => setAt(Math.min(shown.toS, mid + keyFraction * span)),
      '+': () => zoomAround(mid, zoomFraction),
      '-': () => zoomAround(mid, 1 / zoomFraction),
      '0': () => onZoom(null),
    };
    const move = moves[event.key];
    if (!move) return;
    event.preventDefault();
    event.stopPropagation();
    move();
  };

  return (
    <>
      <div className="d-flex justify-content-between align-items-center gap-2">
        <output className="num read-out">{at === null ? ' ' : read(at)}</output>
        <div className="d-flex gap-1 flex-shrink-0">
          <Button variant="quiet" aria-label="Closer" onClick={() => zoomAround(mid, zoomFraction)}>
            +
          </Button>
          <Button
            variant="quiet"
            aria-label="Further away"
            disabled={shown.fromS <= whole.fromS && shown.toS >= whole.toS}
            onClick={() => zoomAround(mid, 1 / zoomFraction)}
          >
            −
          </Button>
          <Button
            variant="quiet"
            disabled={shown.fromS <= whole.fromS && shown.toS >= whole.toS}
            onClick={() => onZoom(null)}
          >
            Whole
          </Button>
        </div>
      </div>
      <div
        ref={ref}
        className="plot"
        role="group"
        aria-label="Curve: arrow keys read it, + and − zoom, 0 shows the whole"
        tabIndex={0}
        onKeyDown={press}
        onPointerMove={(event) => setAt(placeOf(event))}
        onPointerLeave={() => {
          setAt(null);
          setStrokeFrom(null);
        }}
        onPointerDown={(event) => event.pointerType === 'mouse' && setStrokeFrom(placeOf(event))}
        onPointerUp={endStroke}
        onDoubleClick={() => onZoom(null)}
      >
        {children}
        {at !== null && (
          <div
            className="plot-cursor"
            style={{ left: fractionOf(at), top: plot.top, bottom: plot.bottom }}
            aria-hidden
          />
        )}
        {strokeFrom !== null && at !== null && (
          <div
            className="plot-stroke"
            aria-hidden
            style={{
              left: fractionOf(Math.min(strokeFrom, at)),
              width: `calc((100% - ${plot.left + plot.right}px) * ${Math.abs(at - strokeFrom) / span})`,
              top: plot.top,
              bottom: plot.bottom,
            }}
          />
        )}
      </div>
    </>
  );
}
