'use client';

import type { PackNeed } from '@/core/judging/candidates';
import { packFigures } from '@/core/matching/groupFigures';
import type { KnownCell } from '@/core/simulation/predictRun';
import type { Quantity } from '@/core/quantity/quantity';
import { display, formatFigure, formatQuantity } from '@/core/quantity/format';
import { Link } from '@/ui/Link';
import { groupName } from '@/words/packs';
import { type KeyboardEvent, useEffect, useRef, useState } from 'react';
import type { Group } from './GroupTable';
import { needHref } from './need';

interface PackColumnsProps {
  groups: readonly Group[];
  left: readonly string[];
  known(code: string): KnownCell | undefined;
  need: PackNeed;
  change(one: string, other: string): void;
  takeBack(): void;
}

/** This many of what is left over are shown at once. */
const mostLeft = 12;

/** The pack: its groups as columns of cells, and what is left over; two cells change place by hand. */
export function PackColumns({ groups, left, known, need, change, takeBack }: PackColumnsProps) {
  const [picked, setPicked] = useState<string | null>(null);
  const [isAll, setAll] = useState(false);
  const board = useRef<HTMLDivElement>(null);
  // A cell that changed place keeps the focus there.
  const moved = useRef<string | null>(null);
  const arrangement = groups.map(({ codes }) => codes.join()).join(' ');
  useEffect(() => {
    if (moved.current !== null) board.current?.querySelector<HTMLElement>(`[data-cell="${moved.current}"]`)?.focus();
    moved.current = null;
  }, [arrangement]);
  const pack = packFigures(groups);
  const all = groups.flatMap(({ codes }) => codes).flatMap((code) => known(code) ?? []);
  const most = {
    ah: Math.max(...all.map(({ capacity }) => capacity.value)),
    ohm: Math.max(...all.map(({ resistance }) => resistance.value)),
  };

  const pick = (code: string): void => {
    if (picked === null) setPicked(code);
    else {
      if (picked !== code) {
        moved.current = picked;
        change(picked, code);
      }
      setPicked(null);
    }
  };
  const walk = (event: KeyboardEvent<HTMLDivElement>): void => {
    if (event.key === 'Escape') setPicked(null);
    if (event.key.toLowerCase() === 'z' && (event.ctrlKey || event.metaKey)) {
      event.preventDefault();
      event.stopPropagation();
      takeBack();
    }
    const towards = steps[event.key];
    if (!towards || !(event.target instanceof HTMLElement)) return;
    event.preventDefault();
    const columns = [...(board.current?.querySelectorAll('[data-column]') ?? [])].map((column) => [
      ...column.querySelectorAll<HTMLElement>('[data-cell]'),
    ]);
    const target = event.target;
    const column = columns.findIndex((own) => own.includes(target));
    const row = columns[column]?.indexOf(target) ?? 0;
    const next = columns[column + towards.column];
    (next?.[Math.min(row + towards.row, next.length - 1)] ?? target).focus();
  };
  const tile = (code: string, isFirst: boolean) => (
    <Tile
      key={code}
      code={code}
      cell={known(code)}
      most={most}
      isPicked={picked === code}
      isFirst={isFirst}
      pick={pick}
      drop={(other) => {
        setPicked(null);
        change(other, code);
      }}
    />
  );
  return (
    <div ref={board} onKeyDown={walk}>
      <section className="sheet mb-3" aria-label="Groups">
        <div className="d-flex flex-wrap gap-3 align-items-baseline mb-2">
          <h2 className="mb-0">Groups, from the negative end</h2>
          <span className="soft" role="status">
            {picked === null ? (
              'Pick two cells to change them, or drag one onto another.'
            ) : (
              <>
                <b className="num">{picked}</b>: pick the cell to change it with.{' '}
                <Link href={needHref({ ...need, without: [...need.without, picked] })}>Match without {picked}</Link>
                {' · '}
                <Link href={needHref({ ...need, pins: [...need.pins, picked] })}>Keep {picked} in it</Link>
              </>
            )}
          </span>
        </div>
        <div className="pack-columns">
          {groups.map((group, g) => {
            const name = groupName(g + 1, groups.length);
            const isWeakest = pack.capacity !== null && group.capacity === pack.capacity;
            return (
              <div key={g} data-column="">
                <div className={isWeakest ? 'pack-head weakest' : 'pack-head'}>
                  <b>{name}</b>
                  {group.model !== undefined && <div className="soft">{group.model}</div>}
                  <div className="num">
                    {group.capacity ? formatQuantity(group.capacity, display.capacity) : 'not known'}
                  </div>
                  <div className="num soft">
                    {group.resistance ? formatQuantity(group.resistance, display.resistance) : 'not known'}
                  </div>
                  {isWeakest ? (
                    <b className="hot">◆ weakest</b>
                  ) : (
                    <span className="soft">{aboveText(group.capacity, pack.capacity)}</span>
                  )}
                </div>
                <ul className="pack-cells" aria-label={`Group ${g + 1}`}>
                  {group.codes.map((code, k) => (
                    <li key={code}>{tile(code, g === 0 && k === 0)}</li>
                  ))}
                </ul>
              </div>
            );
          })}
        </div>
      </section>
      <section className="sheet mb-3" aria-label="Left over" data-column="">
        <h2>Left over: {left.length}</h2>
        <ul className="pack-cells wide" aria-label="Cells left over">
          {left.slice(0, isAll ? undefined : mostLeft).map((code) => (
            <li key={code}>{tile(code, false)}</li>
          ))}
        </ul>
        {left.length > mostLeft && !isAll && (
          <button type="button" className="btn btn-quiet" onClick={() => setAll(true)}>
            All {left.length}
          </button>
        )}
      </section>
    </div>
  );
}

/** Where a key leads among the columns. */
const steps: Record<string, { column: number; row: number }> = {
  ArrowUp: { column: 0, row: -1 },
  ArrowDown: { column: 0, row: 1 },
  ArrowLeft: { column: -1, row: 0 },
  ArrowRight: { column: 1, row: 0 },
};

interface TileProps {
  code: string;
  cell: KnownCell | undefined;
  most: { ah: number; ohm: number };
  isPicked: boolean;
  /** The one that Tab leads to. */
  isFirst: boolean;
  pick(code: string): void;
  drop(other: string): void;
}

/** One cell: its code, and its capacity and resistance as bars beside their figures. */
function Tile({ code, cell, most, isPicked, isFirst, pick, drop }: TileProps) {
  return (
    <button
      type="button"
      className="pack-cell"
      data-cell={code}
      tabIndex={isFirst || isPicked ? 0 : -1}
      aria-pressed={isPicked}
      draggable
      onClick={() => pick(code)}
      onDragStart={(event) => event.dataTransfer.setData('text/plain', code)}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        const other = event.dataTransfer.getData('text/plain');
        if (other !== code) drop(other);
      }}
    >
      <b className="num">{code}</b>
      {cell && (
        <>
          <Measure
            share={cell.capacity.value / most.ah}
            text={formatFigure(cell.capacity.value, display.capacity, 2)}
          />
          <Measure
            share={cell.resistance.value / most.ohm}
            text={formatFigure(cell.resistance.value, display.resistance)}
            isOhm
          />
        </>
      )}
    </button>
  );
}

const Measure = ({ share: fraction, text, isOhm = false }: { share: number; text: string; isOhm?: boolean }) => (
  <span className="pack-measure">
    <span
      className={isOhm ? 'pack-bar ohm' : 'pack-bar'}
      style={{ inlineSize: `${Math.round(100 * Math.min(1, fraction))}%` }}
    />
    <span className="num">{text}</span>
  </span>
);

/** How far a group is above the weakest one; nothing where one of the two is not known. */
function aboveText(capacity: Quantity | null, weakest: Quantity | null): string {
  if (!capacity || !weakest) return '';
  const moreAh = capacity.value - weakest.value;
  return moreAh < capacity.u + weakest.u ? 'as the weakest' : `${formatFigure(moreAh, display.milliCapacity)} more`;
}
