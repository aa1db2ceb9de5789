import { batchByCode } from '@/records/batches';
import { database } from '@/records/database';
import { judgedWorkshop, withCellsOf } from '@/workshop/judged';
import { cellsOfBatch } from '@/core/judging/shelf';
import { modelText } from '@/core/judging/models';
import { Link } from '@/ui/Link';
import { PrintButton } from '@/ui/PrintButton';
import { notFound } from 'next/navigation';
import { Labels } from '../Labels';

/** A sheet of labels, one a cell. */
export async function LabelsPage({ code: asked }: { code: string }) {
  const code = asked.toUpperCase();
  const batch = await batchByCode(database(), code);
  if (!batch) notFound();
  const cells = cellsOfBatch(await withCellsOf(await judgedWorkshop(), { batchCode: code }), code);
  return (
    <>
      <div className="head no-print">
        <h1>
          <Link href={`/intake/${code}`}>Batch {code}</Link> · labels
        </h1>
        <span className="end">
          <PrintButton />
        </span>
      </div>
      <Labels labels={cells.map((cell) => ({ code: cell.code, small: modelText(cell) }))} />
    </>
  );
}
