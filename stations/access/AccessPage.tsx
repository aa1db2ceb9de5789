import { listApiKeys, listSessions } from '@/records/access';
import { lastBackupAt } from '@/records/backup';
import { database } from '@/records/database';
import Button from 'react-bootstrap/Button';
import { GoBar } from '../frame/GoBar';
import { ActButton } from '@/ui/ActButton';
import { endSessionsAction, withdrawApiKeyAction } from './actions';
import { NewKeyForm } from './NewKeyForm';
import { When } from '@/ui/When';

const isLocked = (): boolean => Boolean(process.env.BOLD_EMBER_PASSPHRASE || process.env.BOLD_EMBER_PASSPHRASE_HASH);

/** Passphrase, keys, and the last backup. */
export async function AccessPage() {
  const db = database();
  const [sessions, keys, backup] = await Promise.all([listSessions(db), listApiKeys(db), lastBackupAt(db)]);
  return (
    <>
      <div className="head">
        <h1>Access</h1>
        <span className="soft">Passphrase, keys, and the last backup.</span>
      </div>
      <div className="cols wide-end">
        <section className="sheet lead-ink" aria-label="Passphrase">
          {isLocked() ? (
            <>
              <p style={{ fontSize: '1.3rem', fontWeight: 700 }}>Locked by a passphrase</p>
              <p>
                Plain HTTP in a home network can be listened to. Where that matters, put a proxy with TLS before it: the
                README says how.
              </p>
              <h2>Signed in: {sessions.length}</h2>
              <ul className="reasons">
                {sessions.map((session) => (
                  <li key={session.beganAt.getTime()}>
                    <span className="num">
                      <When at={session.beganAt} as="d MMM yyyy HH:mm" />
                    </span>{' '}
                    <span className="soft">
                      {deviceOf(session.agent)}, until <When at={session.endsAt} as="d MMM yyyy HH:mm" />
                    </span>
                  </li>
                ))}
              </ul>
              <form method="post" action="/logout" className="d-inline">
                <Button type="submit" variant="quiet">
                  Sign out here
                </Button>
              </form>
              <ActButton label="Sign everyone out" act={endSessionsAction}>
                Sign everyone out
              </ActButton>
            </>
          ) : (
            <>
              <p style={{ fontSize: '1.3rem', fontWeight: 700 }}>This machine only</p>
              <p className="mb-0">
                No passphrase is set, so nothing outside this machine can reach the workshop. To use a phone over the
                bench, start it with <code>bin/start --lan</code>: it asks for a passphrase and shows the address as a
                QR code.
              </p>
            </>
          )}
          <h2 className="mt-4">Last backup</h2>
          <p className="mb-0">
            {backup ? (
              <b className="num">
                <When at={backup} as="d MMM yyyy HH:mm" />
              </b>
            ) : (
              <b className="hot">◆ none yet</b>
            )}
            . <code>bin/db backup --keep 14 DIR</code> saves everything into a folder; best from a timer, to another
            disk.
          </p>
        </section>
        <section className="sheet" aria-label="Keys">
          <h2>Keys of the API and of calendars</h2>
          <p className="soft">
            A gadget or a script sends its key as Authorization: Bearer; a calendar is subscribed to by its address.{' '}
            {!isLocked() && 'None is needed while the workshop is not locked.'}
          </p>
          {keys.length > 0 && (
            <table className="table mb-3">
              <tbody>
                {keys.map((key) => (
                  <tr key={key.id} className={key.withdrawnAt ? 'soft' : ''}>
                    <td>
                      {key.name}
                      {key.opens === 'calendar' && <span className="soft"> · a calendar</span>}
                    </td>
                    <td className="num">
                      <When at={key.madeAt} as="d MMM yyyy" />
                    </td>
                    <td className="text-end">
                      {key.withdrawnAt ? (
                        <>
                          withdrawn <When at={key.withdrawnAt} as="d MMM" />
                        </>
                      ) : (
                        <ActButton
                          label={`Withdraw the key of ${key.name}`}
                          act={withdrawApiKeyAction.bind(null, key.id)}
                        >
                          Withdraw
                        </ActButton>
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          <NewKeyForm />
        </section>
      </div>
      <GoBar placeholder="S1-014 opens a cell" />
    </>
  );
}

/** What kind of device a browser says it runs on. */
const deviceOf = (agent: string): string =>
  /Android|iPhone|iPad|Windows|Macintosh|Linux/.exec(agent)?.[0] ?? agent.slice(0, 40);
