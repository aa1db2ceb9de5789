import { database } from '@/records/database';
import { listModels } from '@/records/batches';
import { listNotebooks } from '@/records/notebooks';
import { listProtocols } from '@/records/protocols';
import { Link } from '@/ui/Link';
import { VoidForm } from '@/ui/VoidForm';
import { When } from '@/ui/When';
import { counted } from '@/words/counted';
import { GoBar } from '../frame/GoBar';
import { voidNotebookAction } from './notebookActions';
import { NotebookForm } from './NotebookForm';

/** A table from elsewhere becomes cells and readings, after a look at what each column is taken for. */
export async function NotebookPage() {
  const db = database();
  const [models, protocols, notebooks] = await Promise.all([listModels(db), listProtocols(db), listNotebooks(db)]);
  const ofOneFigure = protocols.filter(
    ({ method, archivedAt }) => archivedAt === null && (method === 'ac-meter' || method === 'told'),
  );
  return (
    <>
      <div className="head">
        <h1>
          <Link href="/intake">Intake</Link> · bring your notebook
        </h1>
        <span className="soft">A table from a spreadsheet. Nothing is stored until you confirm.</span>
      </div>
      <NotebookForm
        uid={crypto.randomUUID()}
        models={models}
        protocols={ofOneFigure.map(({ id, name }) => [String(id), name])}
      />
      {notebooks.length > 0 && (
        <section className="sheet mt-3" aria-label="Brought in before">
          <h2>Brought in before</h2>
          <table className="table mb-0">
            <tbody>
              {notebooks.map(({ id, name, broughtAt, batchCode, entries, standing }) => (
                <tr key={id} className={standing === 0 ? 'soft' : ''}>
                  <td>
                    <b>{name}</b>
                    {batchCode && (
                      <>
                        , now batch <Link href={`/intake/${batchCode}`}>{batchCode}</Link>
                      </>
                    )}
                  </td>
                  <td className="num">
                    <When at={broughtAt} as="d MMM yyyy" />
                  </td>
                  <td>
                    {counted(entries, 'entry', 'entries')}
                    {standing < entries && `, ${standing} of them standing`}
                  </td>
                  <td className="text-end">
                    {standing > 0 && (
                      <VoidForm
                        what={`everything of ${name}`}
                        note="All of its readings stay stored, void; a batch that was made of it is put away."
                        action={voidNotebookAction.bind(null, id)}
                      />
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
      <GoBar placeholder="S1-014 opens a cell" />
    </>
  );
}
