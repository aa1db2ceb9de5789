'use client';

import { groupName } from '@/words/packs';
import { useState, useTransition } from 'react';
import { placeCellAction } from './actions';

export interface Place {
  cellId: number;
  code: string;
  position: number;
  isPlaced: boolean;
  weldedTo: readonly string[];
}

/** Where each cell goes, in the order of work, ticked off as it lies there. */
export function Placement({ build, series, places }: { build: number; series: number; places: readonly Place[] }) {
  // Hands are quicker than a page redrawn after each tick: what was ticked here is shown with what was stored.
  const [ticked, setTicked] = useState<ReadonlyMap<number, boolean>>(new Map());
  const [isKeeping, start] = useTransition();
  const shown = places.map((place) => ({ ...place, isPlaced: ticked.get(place.cellId) ?? place.isPlaced }));
  const next = shown.find(({ isPlaced }) => !isPlaced);
  const toggle = ({ cellId, isPlaced }: Place): void => {
    setTicked(new Map(ticked).set(cellId, !isPlaced));
    start(() => placeCellAction(build, cellId, !isPlaced));
  };
  return (
    <div aria-busy={isKeeping}>
      <p role="status" className="no-print">
        {next ? (
          <>
            Next: <b className="code">{next.code}</b> into group {groupName(next.position, series)}
          </>
        ) : (
          <b>All are in their places.</b>
        )}
      </p>
      <div className="pack-columns">
        {Array.from({ length: series }, (_, g) => (
          <div key={g}>
            <div className="pack-head">
              <b>{groupName(g + 1, series)}</b>
            </div>
            <ul className="pack-cells" aria-label={`Placed in group ${g + 1}`}>
              {shown
                .filter(({ position }) => position === g + 1)
                .map((place) => (
                  <li key={place.cellId}>
                    <button
                      type="button"
                      className="pack-cell"
                      aria-pressed={place.isPlaced}
                      onClick={() => toggle(place)}
                    >
                      <span>
                        <span aria-hidden>{place.isPlaced ? '■' : '□'}</span> <b className="num">{place.code}</b>
                      </span>
                      {place.weldedTo.length > 0 && <span className="soft">with {place.weldedTo.join(', ')}</span>}
                    </button>
                  </li>
                ))}
            </ul>
          </div>
        ))}
      </div>
    </div>
  );
}
