import { judgeDiagnosis } from '@/core/judging/judgeDiagnosis';
import type { JudgedPack } from '@/core/judging/judgePack';
import type { GroupDiagnosis } from '@/core/packs/diagnosis/diagnose';
import { counted } from '@/words/counted';
import {
  causeText,
  faultText,
  measurementText,
  probabilityText,
  resistanceTimesText,
  settledText,
  stoodText,
  whyMeasured,
} from '@/words/diagnosis';
import { When } from '@/ui/When';
import type { Workshop } from '@/workshop/judged';
import type { JudgedRounds } from './PackGroups';

/** Less likely than this is not worth a word beside others. */
const leastShown = 0.1;
/** From here on a fault is hot. */
const likely = 0.7;
/** Resistances of alike groups differ by less. */
const mostAlike = 1.25;

interface DiagnosisProps {
  pack: JudgedPack;
  rounds: JudgedRounds;
  workshop: Workshop;
}

/** What is wrong with a pack, how sure that is and by what, and the next reading worth making. */
export function Diagnosis({ pack, rounds: { standing }, workshop }: DiagnosisProps) {
  if (pack.series < 2) return null;
  const diagnosis = judgeDiagnosis(pack, standing, workshop.curves);
  if (!diagnosis) return null;
  const { groups, rounds, next, first } = diagnosis;
  const named = groups.find(({ position }) => position === first.position);
  const measured = pack.amongGroups?.groups.find(({ position }) => position === first.position);
  const timesMiddle = measured?.timesMiddle ?? null;
  const isHot = first.fault !== 'none' && first.probability >= likely;
  const doubtful = groups.filter((group) => listed(group).length > 0);
  const [only] = doubtful;
  const isAllSaid = doubtful.length === 1 && only !== undefined && only === named && listed(only).length === 1;
  return (
    <section className="sheet mb-3" aria-label="What is wrong">
      <h2>What is wrong, by {counted(rounds.length, 'round')}</h2>
      <p className={isHot ? 'hot mb-1' : 'mb-1'} style={{ fontSize: '1.3rem', fontWeight: 700, lineHeight: 1.2 }}>
        {isHot && '◆ '}
        {causeText(first)} <small className="num fw-normal">{probabilityText(first.probability)}</small>
      </p>
      {named && (
        <ul className="mb-2 ps-3">
          {rounds.map(({ takenAt, state }, r) => {
            const apartV = named.apartV[r];
            return apartV == null ? null : (
              <li key={takenAt.getTime()}>
                {stoodText(apartV, state)}, <When at={takenAt} as="d MMM" />
              </li>
            );
          })}
          {timesMiddle !== null && timesMiddle > mostAlike && <li>{resistanceTimesText(timesMiddle)}</li>}
        </ul>
      )}
      {doubtful.length > 0 && !isAllSaid && (
        <div className="table-scroll" tabIndex={0}>
          <table className="table">
            <thead>
              <tr>
                <th>Group</th>
                <th>What may be there</th>
                <th className="num">Sound</th>
              </tr>
            </thead>
            <tbody>
              {doubtful.map((group) => (
                <tr key={group.position}>
                  <th scope="row" className="num">
                    {group.position}
                  </th>
                  <td>
                    {listed(group)
                      .map(({ fault, probability }) => `${faultText(fault)} ${probabilityText(probability)}`)
                      .join('; ')}
                  </td>
                  <td className="num">{probabilityText(group.soundProbability)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <p className={next ? 'ask mb-0' : 'soft mb-0'}>
        {next ? (
          <>
            <b>Next: {measurementText(next.what)}.</b> {whyMeasured(next)}
          </>
        ) : (
          settledText
        )}
      </p>
    </section>
  );
}

const listed = ({ findings }: GroupDiagnosis) => findings.filter(({ probability }) => probability >= leastShown);
