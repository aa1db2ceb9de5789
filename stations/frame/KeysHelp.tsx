'use client';

import { Link } from '@/ui/Link';
import { openKeysEvent } from '@/ui/keys';
import { cautions } from '@/words/cautions';
import { type Keys, stationAt } from '@/workshop/stations';
import { usePathname } from 'next/navigation';
import { useEffect, useState } from 'react';
import Modal from 'react-bootstrap/Modal';
import { useHotkeys } from 'react-hotkeys-hook';

const everywhere: Keys = [
  ['/', 'to the reading bar; so does any figure or letter typed elsewhere'],
  ['Enter', 'file the line; once more answers a question with yes'],
  ['↓', 'file what was probably meant, where the bar says “was it …?”'],
  ['↑', 'correct the last entry: it comes back into the bar'],
  ['Ctrl Z', 'undo the last entry of this screen, also after a reload'],
  ['Ctrl Y', 'file the undone line again'],
  ['Alt S', 'sound on or off: one tone filed, two odd, a falling one look here'],
  ['Alt 1 … 9', 'to a station of the bench line'],
  ['?', 'these keys, also from the empty bar'],
];

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
  return (
    <Modal show={open} onHide={() => setOpen(false)} aria-labelledby="keys-title" animation={false}>
      <Modal.Header closeButton>
        <h1 id="keys-title">Keys</h1>
      </Modal.Header>
      <Modal.Body>
        <table className="table">
          <tbody>
            {[...(stationAt(path)?.keys ?? []), ...everywhere].map(([keys, does]) => (
              <tr key={keys + does}>
                <td>
                  <kbd>{keys}</kbd>
                </td>
                <td>{does}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <h2 className="mt-3">Cautions that always apply</h2>
        <ul className="mb-0">
          {cautions.map((caution) => (
            <li key={caution}>{caution}</li>
          ))}
        </ul>
        <p className="mt-2 mb-0">
          <Link href="/handbook" onClick={() => setOpen(false)}>
            The handbook
          </Link>{' '}
          has every limit and where it comes from.
        </p>
      </Modal.Body>
    </Modal>
  );
}
