'use client';

import { packStates } from '@/core/packs/groupVoltages';
import { ReadingBar } from '@/ui/ReadingBar';
import type { Voltmeter } from '@/core/judging/instrumentBook';
import { MeterChoice } from '@/ui/MeterChoice';
import { useChoice } from '@/ui/stored';
import { useMemo } from 'react';
import Form from 'react-bootstrap/Form';
import { fileGroups } from './actions';
import { redoEntry, undoEntry } from '@/stations/entryActions';
import { stateTexts } from '@/words/packs';
import { noLoadText, type PackContext, understandGroups } from './packLine';

interface PackBarProps {
  /** The pack that is shown; null on the list of all. */
  shown: PackContext | null;
  packs: PackContext[];
  meters: Voltmeter[];
}

/**
 * The reading bar of the clinic: the groups of the pack shown, or of any by its code. What they are read with is
 * above it.
 */
export function PackBar({ shown, packs, meters }: PackBarProps) {
  const [chosen, setState] = useChoice('pack state', packStates);
  const state = packStates.find((one) => one === chosen) ?? 'rest';
  const hasLoad = state === 'load' || state === 'discharge-end';
  const codes = meters.map((one) => one.code);
  const [groupsWith, setGroupsWith] = useChoice('groups meter', codes);
  const [terminalsWith, setTerminalsWith] = useChoice('terminals meter', codes);
  const meterOf = (code: string) => meters.find((one) => one.code === code) ?? null;
  const packOf = (code: string) => packs.find((pack) => pack.code === code) ?? null;
  const filing = useMemo(
    () => ({
      place: 'clinic',
      circumstances: { state, groupsWith, terminalsWith },
      file: fileGroups,
      undo: undoEntry,
      redo: redoEntry,
    }),
    [state, groupsWith, terminalsWith],
  );
  return (
    <>
      <div className="d-flex align-items-center gap-2 mt-3 flex-wrap">
        <Form.Label htmlFor="pack-state" className="mb-0">
          The next reading is
        </Form.Label>
        <Form.Select
          id="pack-state"
          value={state}
          onChange={(event) => setState(event.target.value)}
          style={{ width: 'auto', maxWidth: '100%' }}
        >
          {packStates.map((key) => (
            <option key={key} value={key}>
              {stateTexts[key]}
            </option>
          ))}
        </Form.Select>
        {meters.length > 0 && (
          <MeterChoice label="groups with" meters={meters} value={groupsWith} choose={setGroupsWith} />
        )}
        {meters.length > 0 && (
          <MeterChoice label="terminals with" meters={meters} value={terminalsWith} choose={setTerminalsWith} />
        )}
      </div>
      <ReadingBar
        label={shown ? `Group voltages of ${shown.code}` : 'A pack and its group voltages'}
        placeholder={shown ? `${shown.series} volts, = terminals${hasLoad ? ', 5A' : ''}` : 'PF1 3.95 3.94 … or a code'}
        {...(shown && { figures: [' = '] })}
        current={shown?.code ?? null}
        understand={(text) => {
          const note = /^["“](.+?)["”]?$/.exec(text.trim())?.[1];
          if (note)
            return {
              kind: 'go',
              said: `packs with “${note}” in a note`,
              href: `/clinic?${new URLSearchParams({ note })}`,
            };
          const line = understandGroups(text, shown, packOf, {
            groups: meterOf(groupsWith),
            terminals: meterOf(terminalsWith),
          });
          const noLoad = line.kind === 'groups' ? noLoadText(line.currentA, state) : null;
          if (noLoad) return { kind: 'wrong', said: noLoad };
          if (line.kind === 'go') return { kind: 'go', said: `open ${line.code}`, href: `/clinic/${line.code}` };
          return line.kind === 'groups' || line.kind === 'noted' ? { ...line, kind: 'reading' } : line;
        }}
        filing={filing}
      />
    </>
  );
}
