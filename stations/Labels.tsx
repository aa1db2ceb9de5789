import { headers } from 'next/headers';
import { toString as qrSvg } from 'qrcode';

export interface Label {
  code: string;
  /** In small letters. */
  small: string;
}

/** Labels to be printed: each code large, and a QR code (ISO/IEC 18004) that opens the page of its cell. */
export async function Labels({ labels }: { labels: readonly Label[] }) {
  const requestHeaders = await headers();
  const host = requestHeaders.get('host') ?? 'localhost';
  // Through several proxies it is a list, the first as the browser asked.
  const protocol = requestHeaders.get('x-forwarded-proto')?.split(',')[0]?.trim() ?? 'http';
  const drawn = await Promise.all(
    labels.map(async (label) => ({
      ...label,
      svg: await qrSvg(`${protocol}://${host}/cells/${label.code}`, {
        type: 'svg',
        margin: 0,
        errorCorrectionLevel: 'M',
      }),
    })),
  );
  return (
    <ol
      className="list-unstyled"
      style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, 42mm)', gap: '2mm' }}
    >
      {drawn.map(({ code, small, svg }) => (
        <li
          key={code}
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
          <span style={{ width: '16mm', flex: 'none' }} dangerouslySetInnerHTML={{ __html: svg }} />
          <span>
            <b className="num" style={{ fontSize: '11pt' }}>
              {code}
            </b>
            <br />
            <span style={{ fontSize: '7pt' }}>{small}</span>
          </span>
        </li>
      ))}
    </ol>
  );
}
