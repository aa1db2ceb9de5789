import type { Filed } from '@/records/ledger';
import { weldText } from '@/ui/tokens';
import { When } from '@/ui/When';
import { bodyName, bodyText } from '@/words/bodies';
import { VoidEntry } from './VoidEntry';

/** One thing that was read or noted of a cell or pack, as a row of a table. */
export function FiledRow({
  filed: { entry, takenAt, confirmed, voidReason, codes, roundId, temperatureC, body },
}: {
  filed: Filed;
}) {
  const name = bodyName[body.kind];
  const text = [bodyText(body), ...(temperatureC === null ? [] : [`${temperatureC} °C`])].join(', ');
  return (
    <tr className={voidReason === null ? '' : 'soft'}>
      <td className="num text-nowrap">
        <When at={takenAt} as="d MMM yyyy HH:mm" />
      </td>
      <td>{name}</td>
      <td>
        {voidReason === null ? text : <s>{text}</s>}
        {roundId !== null && ` (round ${roundId})`}
        {codes.length > 1 && ` · ${weldText(codes)}`}
        {confirmed && ' · odd, confirmed'}
        {voidReason !== null && ` · void: ${voidReason}`}
      </td>
      <td className="text-end">{voidReason === null && <VoidEntry entry={entry} name={`this ${name}`} />}</td>
    </tr>
  );
}
