'use client';

import type { PackState } from '@/core/packs/groupVoltages';
import { ReadingBar } from '@/ui/ReadingBar';
import { useState } from 'react';
import Form from 'react-bootstrap/Form';
import { fileGroups, undoGroups } from './actions';
import { type PackContext, understandGroups } from './entry';

/** The reading bar of a pack, with the state it is read in above it. */
export function GroupsBar({ pack }: { pack: PackContext }) {
  const [state, setState] = useState<PackState>('rest');
  return (
    <>
      <div className="d-flex align-items-center gap-2 mt-3">
        <Form.Label htmlFor="pack-state" className="mb-0">
          The next reading is
        </Form.Label>
        <Form.Select id="pack-state" value={state} onChange={(event) => setState(event.target.value as PackState)} style={{ width: 'auto' }}>
          <option value="rest">at rest</option>
          <option value="load">under load</option>
          <option value="charge-end">at the end of charge</option>
          <option value="discharge-end">at the end of discharge</option>
        </Form.Select>
      </div>
      <ReadingBar
        label={`Group voltages of ${pack.code}`}
        placeholder={`${pack.series} volts, = terminals`}
        understand={(text) => {
          const line = understandGroups(text, pack);
          if (line.kind === 'go') return { kind: 'go', said: `open ${line.code}`, href: `/clinic/${line.code}` };
          return line.kind === 'groups' ? { kind: 'reading', said: line.said, asks: line.asks } : line;
        }}
        file={(text, entry, confirmed) => fileGroups(pack.code, state, text, entry, confirmed)}
        undo={undoGroups}
      />
    </>
  );
}
