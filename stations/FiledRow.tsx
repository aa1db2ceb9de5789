import type { Filed } from '@/records/ledger';
import { weldText } from '@/ui/tokens';
import { When } from '@/ui/When';
import { bodiesText, bodyName } from '@/words/bodies';
import { VoidEntry } from './VoidEntry';

/** What was read or noted of a cell or pack in one press of Enter, of one kind, as a row of a table. */
export function FiledRow({ filed }: { filed: readonly [Filed, ...Filed[]] }) {
  const [{ entry, takenAt, confirmed, voidReason, codes, roundId, temperatureC, body }] = filed;
  const name = bodyName[body.kind];
  const read = bodiesText(filed.map((one) => one.body));
  const text = temperatureC === null ? read : `${read}, ${temperatureC} °C`;
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
