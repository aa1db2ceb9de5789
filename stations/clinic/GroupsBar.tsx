'use client';

import type { PackState } from '@/core/packs/groupVoltages';
import { ReadingBar } from '@/ui/ReadingBar';
import { useMemo, useState } from 'react';
import Form from 'react-bootstrap/Form';
import { fileGroups, redoGroups, undoGroups } from './actions';
import { type PackContext, understandGroups } from './entry';

interface GroupsBarProps {
  /** The pack that is shown; null on the list of all. */
  shown: PackContext | null;
  packs: PackContext[];
  instruments: [string, string][];
}

/** The reading bar of the clinic: the groups of the pack shown, or of any by its code. What they are read with stands above it. */
export function GroupsBar({ shown, packs, instruments }: GroupsBarProps) {
  const [state, setState] = useState<PackState>('rest');
  const [groupsWith, setGroupsWith] = useState('');
  const [terminalsWith, setTerminalsWith] = useState('');
  const packOf = (code: string) => packs.find((pack) => pack.code === code) ?? null;
  const filing = useMemo(
    () => ({ place: 'clinic', circumstances: { state, groupsWith, terminalsWith }, file: fileGroups, undo: undoGroups, redo: redoGroups }),
    [state, groupsWith, terminalsWith],
  );
  const meters: [string, string][] = [['', 'some meter'], ...instruments.map(([code, name]): [string, string] => [code, `${code}: ${name}`])];
  return (
    <>
      <div className="d-flex align-items-center gap-2 mt-3 flex-wrap">
        <Choice id="pack-state" label="The next reading is" value={state} choose={(value) => setState(value as PackState)} choices={[['rest', 'at rest'], ['load', 'under load'], ['charge-end', 'at the end of charge'], ['discharge-end', 'at the end of discharge']]} />
        {instruments.length > 0 && <Choice id="groups-with" label="groups with" value={groupsWith} choose={setGroupsWith} choices={meters} />}
        {instruments.length > 0 && <Choice id="terminals-with" label="terminals with" value={terminalsWith} choose={setTerminalsWith} choices={meters} />}
      </div>
      <ReadingBar
        label={shown ? `Group voltages of ${shown.code}` : 'A pack and its group voltages'}
        placeholder={shown ? `${shown.series} volts, = terminals` : 'PF1 3.95 3.94 … or a code'}
        current={shown?.code ?? null}
        understand={(text) => {
          const line = understandGroups(text, shown, packOf);
          if (line.kind === 'go') return { kind: 'go', said: `open ${line.code}`, href: `/clinic/${line.code}` };
          return line.kind === 'groups' ? { ...line, kind: 'reading' } : line;
        }}
        filing={filing}
      />
    </>
  );
}

function Choice({ id, label, value, choose, choices }: { id: string; label: string; value: string; choose(value: string): void; choices: [string, string][] }) {
  return (
    <>
      <Form.Label htmlFor={id} className="mb-0">
        {label}
      </Form.Label>
      <Form.Select id={id} value={value} onChange={(event) => choose(event.target.value)} style={{ width: 'auto', maxWidth: '100%' }}>
        {choices.map(([key, text]) => (
          <option key={key} value={key}>
            {text}
          </option>
        ))}
      </Form.Select>
    </>
  );
}
