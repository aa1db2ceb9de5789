'use client';

import { openKeysEvent } from '@/ui/keys';
import { usePathname } from 'next/navigation';
import { useEffect, useState } from 'react';
import Modal from 'react-bootstrap/Modal';
import { useHotkeys } from 'react-hotkeys-hook';

type Keys = readonly (readonly [keys: string, does: string])[];

const everywhere: Keys = [
  ['/', 'to the reading bar; so does any figure or letter typed elsewhere'],
  ['Enter', 'file what was understood; once more confirms what was asked about'],
  ['↓', 'file what was probably meant, where the bar says “was it …?”'],
  ['↑', 'correct the last entry: it comes back into the bar'],
  ['Ctrl Z', 'undo the last entry of this screen, also after a reload'],
  ['Ctrl Y', 'file again what was undone'],
  ['Alt S', 'sound on or off: one tone filed, two odd, a falling one look here'],
  ['Alt 1 … 7', 'to a station of the bench line'],
  ['?', 'these keys, also from the empty bar'],
];

/** Every form that the bar of a station understands. Codes and units are read in any case, decimal commas as points. */
const byStation: Record<string, Keys> = {
  '/intake': [
    ['3.712', 'voltage of the cell shown, then 45.2 its weight in g; 3712 mV and 3V71 will do'],
    ['3.712 45.2 ok', 'all three in one line'],
    ['ok', 'inspected, nothing found'],
    ['s l d h m r w', 'swollen, leaking, dented, warm, smells, rust, wrap: the letters together, or tap them'],
    ['-', 'leave this cell for later'],
    ['S1-014', 'go to that cell, for one filing'],
    ['S1-014 45.2 g', 'file for that cell'],
    ['S1-004+005', 'the two are welded together; with figures behind it both are read as one'],
  ],
  '/instruments': [
    ['DM1 3.712', 'what an instrument shows on the battery at hand'],
    ['CK1 3.71 3.70 …', 'one voltage for each channel; CK1.2 3.70 for channel 2 alone'],
    ['B2', 'to the second battery; B2 DM1 3.712 files for it'],
    ['S1-014, PF1', 'on the list of instruments: open that cell or pack'],
  ],
  '/resistance': [
    ['21.4', 'a resistance in mΩ; 43.5m, 0.0435 and 43,5 mΩ are the same'],
    ['21.4 4.15', 'with the voltage that the meter shows'],
    ['4.03 3.91', 'open and loaded voltage'],
    ['4.03 3.91 1.74', 'with an ammeter: the current third'],
    ['… 4.01', 'last of all the level after, to take the droop off'],
    ['4.01 3.89 1.74 4.00', 'preloaded step: preloaded, loaded, current, level after'],
    ['3.98 0.5 3.87 2.5', 'two currents: voltage and current low, voltage and current high'],
    ['… 21.5C', 'the temperature, anywhere with its unit'],
    ['S1-014', 'go to that cell, for one filing'],
    ['S1-014 4.03 3.91', 'file for that cell; of welded ones either code, or S1-004+005'],
  ],
  '/runs': [['S1-014, PF1', 'open that cell or pack']],
  '/shelf': [
    ['trickle', 'only these: surge, steady, trickle, retire, rescue, out, ungraded'],
    ['S1 > 2 Ah < 60 mΩ', 'a batch, and limits of capacity and resistance, in any order'],
    ['"blue pack"', 'with these words in a note'],
    ['S1-014', 'open that cell'],
  ],
  '/cells': [['S1-014, PF1', 'open that cell or pack']],
  '/builds': [
    ['4s3p', 'a new match, 4 in series and 3 in parallel; 4x3 will do'],
    ['4s3p without G1-013', 'leaving out one cell or several'],
  ],
  '/clinic': [
    ['3.95 3.94 3.96', 'group voltages from the black lead'],
    ['… = 11.85', 'with the voltage at the terminals'],
    ['PF1', 'open that pack'],
    ['PF1 3.95 …', 'file for that pack'],
    ['"blue lid"', 'packs with these words in a note'],
  ],
};

/** The list of keys, by `?` or from the reading bar. */
export function KeysHelp() {
  const path = usePathname();
  const [open, setOpen] = useState(false);
  useHotkeys('shift+slash, ?', () => setOpen(true), { useKey: true });
  useEffect(() => {
    const show = () => setOpen(true);
    window.addEventListener(openKeysEvent, show);
    return () => window.removeEventListener(openKeysEvent, show);
  }, []);
  const station = Object.keys(byStation).find((prefix) => path.startsWith(prefix)) ?? '';
  return (
    <Modal show={open} onHide={() => setOpen(false)} aria-labelledby="keys-title" animation={false}>
      <Modal.Header closeButton>
        <h1 id="keys-title">Keys</h1>
      </Modal.Header>
      <Modal.Body>
        <table className="table">
          <tbody>
            {[...(byStation[station] ?? []), ...everywhere].map(([keys, does]) => (
              <tr key={keys + does}>
                <td>
                  <kbd>{keys}</kbd>
                </td>
                <td>{does}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <h2 className="mt-3">Cautions that always stand</h2>
        <ul className="mb-0">
          <li>Never charge or force a swollen, hot, leaking or dented cell.</li>
          <li>
            Never leave charging or discharging unattended; work on a surface that does not burn, with a smoke alarm.
          </li>
          <li>Check cell count, chemistry and polarity before you start. Insulate what you probe.</li>
          <li>
            Mains, vehicles, large or fixed storage, transport and disposal: local codes and licensed people decide.
          </li>
        </ul>
      </Modal.Body>
    </Modal>
  );
}
