import { methods } from '@/core/resistance/methods';
import { formatDuration } from '@/core/quantity/format';
import { database } from '@/records/database';
import { listProtocols } from '@/records/protocols';
import { ArchiveButton } from '@/ui/ArchiveButton';
import { format } from 'date-fns';
import Link from 'next/link';
import { GoBar } from '../frame/GoBar';
import { archiveProtocolAction } from './actions';
import { ProtocolForm } from './ProtocolForm';

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
              <thead>
                <tr>
                  <th>Protocol</th>
                  <th>Method</th>
                  <th>Charge</th>
                  <th>Temperature</th>
                  <th>Rest</th>
                  <th>Read at</th>
                  <th>&nbsp;</th>
                </tr>
              </thead>
              <tbody>
                {protocols.map(({ id, name, school, method, charge, temperature, restS, rateC, holdS, archivedAt }) => (
                  <tr key={id} className={archivedAt ? 'soft' : ''}>
                    <td>
                      <b>{name}</b>
                      <br />
                      <span className="soft">
                        {school}
                        {archivedAt && ` Put away ${format(archivedAt, 'd MMM yyyy')}.`}
                      </span>
                    </td>
                    <td>{methods[method].name}</td>
                    <td className="text-nowrap">{charge ? `${Math.round(charge.from * 100)}–${Math.round(charge.to * 100)} %` : 'any'}</td>
                    <td className="text-nowrap">{temperature ? `${temperature.coldestC}–${temperature.warmestC} °C` : 'any'}</td>
                    <td className="num">{restS > 0 ? formatDuration(restS) : 'none'}</td>
                    <td className="text-nowrap">
                      {method === 'ac-meter' ? 'at once' : `${holdS} s`}
                      {rateC !== null && `, ${rateC}C`}
                    </td>
                    <td className="text-end">
                      <ArchiveButton name={name} away={archivedAt === null} act={archiveProtocolAction.bind(null, id, archivedAt === null)} />
                    </td>
                  </tr>
                ))}
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
