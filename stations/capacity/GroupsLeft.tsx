import type { GroupAtEnd } from '@/core/capacity/groupsAtEnd';
import { display, formatFigure, formatQuantity } from '@/core/quantity/format';
import { groupName } from '@/words/packs';

/** What each group of a pack had left when its discharge ended. */
export function GroupsLeft({ groups, capacityAh }: { groups: readonly GroupAtEnd[]; capacityAh: number }) {
  const first = groups.find(({ reachedCutoff }) => reachedCutoff);
  return (
    <section className="sheet mb-3" aria-label="What each group had left">
      <h2>
        {first
          ? `Group ${first.position} ended it; what the others had left`
          : 'No group reached the cut-off; the voltage of each'}
      </h2>
      <div className="table-scroll" tabIndex={0}>
        <table className="table">
          <thead>
            <tr>
              <th>Group</th>
              <th className="num">At the end</th>
              <th className="num">Left</th>
              <th className="num">Of what the pack gave</th>
            </tr>
          </thead>
          <tbody>
            {groups.map(({ position, endVoltageV, reachedCutoff, leftAh }) => (
              <tr key={position} className={reachedCutoff ? 'fw-bold' : ''}>
                <th scope="row" className="num">
                  {groupName(position, groups.length)}
                </th>
                <td className="num">{formatFigure(endVoltageV, display.voltage)}</td>
                <td className="num">{leftText(leftAh, reachedCutoff)}</td>
                <td className="num">
                  {leftAh && !reachedCutoff ? `${((100 * leftAh.value) / capacityAh).toFixed(0)} %` : '–'}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="soft mb-0">
        The same charge flows through every group. Another group was at the same voltage as the weakest when it had as
        much left.
      </p>
    </section>
  );
}

function leftText(leftAh: GroupAtEnd['leftAh'], isFirst: boolean | null): string {
  if (isFirst) return 'nothing';
  return leftAh ? formatQuantity(leftAh, display.capacity) : 'not known';
}
