import type { Visit } from '@/core/judging/visits';
import { display, formatQuantity } from '@/core/quantity/format';
import { When } from '@/ui/When';
import { stateTexts } from '@/words/packs';
import { doneText, signsText } from '@/words/clinic';

/** The newest that are shown. */
const mostShown = 12;

/** When a pack was looked at, how it stood then, what was found and said of it, what was done. */
export function Visits({ visits }: { visits: readonly Visit[] }) {
  if (visits.length < 2) return null;
  return (
    <details className="mb-3">
      <summary>Its visits ({visits.length})</summary>
      <div className="table-scroll mt-2" tabIndex={0}>
        <table className="table">
          <thead>
            <tr>
              <th>Visit</th>
              <th className="num">Rounds</th>
              <th className="num">Spread</th>
              <th>Read</th>
              <th>Apart</th>
              <th>Signs</th>
              <th>Done</th>
            </tr>
          </thead>
          <tbody>
            {visits.slice(0, mostShown).map((visit) => (
              <tr key={visit.from.getTime()}>
                <td className="num text-nowrap">
                  <When at={visit.from} as="d MMM yyyy" />
                </td>
                <td className="num">{visit.rounds}</td>
                <td className="num text-nowrap">{formatQuantity(visit.spreadV, display.milliVolt)}</td>
                <td>{stateTexts[visit.state]}</td>
                <td>{visit.apart === null ? '–' : `group ${visit.apart}`}</td>
                <td>{signsText(visit) || '–'}</td>
                <td>{doneText(visit) || '–'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {visits.length > mostShown && <p className="soft mb-0">The newest {mostShown}; all rounds are listed below.</p>}
    </details>
  );
}
