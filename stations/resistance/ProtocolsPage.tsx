import { database } from '@/records/database';
import { listProtocols } from '@/records/protocols';
import { ArchiveButton } from '@/ui/ArchiveButton';
import { Link } from '@/ui/Link';
import { When } from '@/ui/When';
import { GoBar } from '../frame/GoBar';
import { archiveProtocolAction } from './actions';
import { ProtocolForm } from './ProtocolForm';
import { conditionsText } from './protocolText';

/** The conditions under which figures compare, as written down. */
export async function ProtocolsPage() {
  const protocols = await listProtocols(database());
  return (
    <>
      <div className="head">
        <h1>
          <Link href="/resistance">Resistance</Link> · protocols
        </h1>
        <span className="soft">Figures are compared within one protocol only. Schools differ; keep to one.</span>
      </div>
      <div className="cols wide-end">
        <section className="sheet" aria-label="Protocols">
          <div className="table-scroll" tabIndex={0}>
            <table className="table">
              <tbody>
                {protocols.map((protocol) => {
                  const { id, name, school, archivedAt } = protocol;
                  return (
                    <tr key={id} className={archivedAt ? 'soft' : ''}>
                      <td>
                        <b>{name}</b>
                        <br />
                        {conditionsText(protocol)}
                        <br />
                        <span className="soft">
                          {school}
                          {archivedAt && (
                            <>
                              {' '}
                              Put away <When at={archivedAt} as="d MMM yyyy" />.
                            </>
                          )}
                        </span>
                      </td>
                      <td className="text-end text-nowrap">
                        <ArchiveButton
                          name={name}
                          away={archivedAt === null}
                          act={archiveProtocolAction.bind(null, id, archivedAt === null)}
                        />
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </div>
        </section>
        <section className="sheet lead-ink" aria-label="A new protocol">
          <h2>A new protocol</h2>
          <ProtocolForm />
        </section>
      </div>
      <GoBar placeholder="S1-014 opens a cell" />
    </>
  );
}
