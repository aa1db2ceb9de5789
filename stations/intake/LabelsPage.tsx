import { batchByCode } from '@/records/batches';
import { database } from '@/records/database';
import { judgedWorkshop, withCellsOf } from '@/workshop/judged';
import { cellsOfBatch } from '@/core/judging/shelf';
import { modelText } from '@/core/judging/models';
import { PrintButton } from '@/ui/PrintButton';
import Link from 'next/link';
import { notFound } from 'next/navigation';
import { toString as qrSvg } from 'qrcode';

/** A sheet of labels, one a cell: its code large and as a QR code (ISO/IEC 18004), its model small. */
export async function LabelsPage({ code: asked }: { code: string }) {
  const code = asked.toUpperCase();
  const batch = await batchByCode(database(), code);
  if (!batch) notFound();
  const cells = cellsOfBatch(await withCellsOf(await judgedWorkshop(), { batchCode: code }), code);
  const labels = await Promise.all(
    cells.map(async (cell) => ({
      ...cell,
      svg: await qrSvg(cell.code, { type: 'svg', margin: 0, errorCorrectionLevel: 'M' }),
    })),
  );
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
      <ol
        className="list-unstyled"
        style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, 38mm)', gap: '2mm' }}
      >
        {labels.map((label) => (
          <li
            key={label.code}
            className="sheet"
            style={{
              display: 'flex',
              gap: '2mm',
              padding: '2mm',
              background: '#fff',
              color: '#000',
              breakInside: 'avoid',
            }}
          >
            <span style={{ width: '12mm', flex: 'none' }} dangerouslySetInnerHTML={{ __html: label.svg }} />
            <span>
              <b className="num" style={{ fontSize: '11pt' }}>
                {label.code}
              </b>
              <br />
              <span style={{ fontSize: '7pt' }}>{modelText(label)}</span>
            </span>
          </li>
        ))}
      </ol>
    </>
  );
}
