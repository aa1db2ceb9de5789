'use client';

import { openKeysEvent } from '@/ui/keys';
import { usePathname } from 'next/navigation';
import { useEffect, useState } from 'react';
import Modal from 'react-bootstrap/Modal';
import { useHotkeys } from 'react-hotkeys-hook';

type Keys = readonly (readonly [keys: string, does: string])[];

const everywhere: Keys = [
  ['/', 'to the reading bar'],
  ['Enter', 'file what was understood; once more confirms an odd figure'],
  ['Ctrl Z', 'undo the last entry of this screen'],
  ['Ctrl Y', 'file again what was undone'],
  ['↑', 'correct the last entry: it comes back into the bar'],
  ['Alt S', 'sound on or off: one tone filed, two odd, a falling one look here'],
  ['Alt 1 … 7', 'to a station of the bench line'],
  ['?', 'these keys'],
];

const byStation: Record<string, Keys> = {
  '/intake': [
    ['3.712 Enter', 'voltage of the cell shown, then 45.2 its weight in g'],
    ['ok Enter', 'inspected, nothing found'],
    ['s l d h m r w', 'swollen, leaking, dented, hot, smell, rust, wrap: type the letters together'],
    ['S1-014', 'go to that cell'],
  ],
  '/instruments': [
    ['DM1 3.712', 'what an instrument shows on the battery at hand'],
    ['CK1 3.71 3.70 …', 'one voltage for each channel; CK1.2 3.70 for channel 2 alone'],
    ['B2', 'the next battery'],
  ],
  '/resistance': [
    ['21.4 Enter', 'a resistance in mΩ; 43.5m, 0.0435 and 43,5 mΩ are the same'],
    ['4.03 3.91 Enter', 'open and loaded voltage'],
    ['4.03 3.91 1.74', 'with an ammeter: the current third'],
    ['… 4.01', 'last of all the level after, to take the droop off'],
    ['… 21.5C', 'the temperature, anywhere with its unit'],
    ['S1-014 4.03 3.91', 'for another cell than the one shown'],
  ],
  '/runs': [['S1-014', 'open that cell']],
  '/shelf': [
    ['trickle > 2 Ah', 'only these: duty, batch, > or < with Ah or mΩ'],
    ['S1-014', 'open that cell'],
  ],
  '/builds': [['4s3p Enter', 'a new match, 4 in series and 3 in parallel']],
  '/clinic': [
    ['3.95 3.94 3.96', 'group voltages from the black lead'],
    ['= 11.85', 'with the voltage at the terminals'],
    ['PF1 3.95 …', 'for another pack than the one shown'],
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
          <li>Never leave charging or discharging unattended; work on a surface that does not burn, with a smoke alarm.</li>
          <li>Check cell count, chemistry and polarity before you start. Insulate what you probe.</li>
          <li>Mains, vehicles, large or fixed storage, transport and disposal: local codes and licensed people decide.</li>
        </ul>
      </Modal.Body>
    </Modal>
  );
}
