import type { JudgedCell } from '@/core/judging/judgeCell';
import { Grounds } from '@/stations/Grounds';
import { type ClinicJudgement, isRoundAsked } from '@/core/judging/judgeClinic';
import type { JudgedPack } from '@/core/judging/judgePack';
import type { Visit } from '@/core/judging/visits';
import type { GroupDiagnosis } from '@/core/packs/diagnosis/diagnose';
import { Link } from '@/ui/Link';
import { When } from '@/ui/When';
import { disagreeingText, signsText, verdictText, verdictWhy } from '@/words/clinic';
import { counted } from '@/words/counted';
import {
  causeText,
  isHot,
  faultText,
  measurementText,
  namedText,
  probabilityText,
  resistanceTimesText,
  roundQuestionText,
  settledText,
  stoodText,
  whyMeasured,
} from '@/words/diagnosis';
import { dutyNames } from '@/words/duty';
import { stateTexts } from '@/words/packs';

/** Less likely than this is not worth a word beside others. */
const leastShown = 0.1;
/** Resistances of alike groups differ by less. */
const mostAlike = 1.25;

interface DiagnosisProps {
  pack: JudgedPack;
  clinic: ClinicJudgement;
  /** Of each group its cells, where it was built here. */
  cellsOf: readonly JudgedCell[][];
  /** The newest. */
  visit: Visit | null;
}

/** What is wrong with a pack, how sure that is, the evidence, what to do, and the best next measurement. */
export function Diagnosis({
  pack,
  clinic: { diagnosis, verdict, repeats, disagreeing },
  cellsOf,
  visit,
}: DiagnosisProps) {
  const { groups, rounds, instruments, next, first, questions } = diagnosis;
  const named = groups.find(({ position }) => position === first.position);
  const measured = pack.amongGroups?.groups.find(({ position }) => position === first.position);
  const timesMedian = measured?.timesMedian ?? null;
  const suspects = groups.filter((group) => listed(group).length > 0);
  const [only] = suspects;
  // What was found on it counts, however well its groups are balanced.
  const isRuledOut = verdict.act === 'retire' && verdict.why === 'unsafe';
  const isAsked = isRoundAsked(verdict);
  // The verdict begins with it.
  const isSaidAbove = isHot(first) && !isRuledOut && !isAsked && verdict.act !== 'rescue';
  const signs = visit ? signsText(visit) : '';
  const isAllSaid = suspects.length === 1 && only !== undefined && only === named && listed(only).length === 1;
  return (
    <section className="sheet" aria-label="What is wrong" id="clinic">
      <h2>What is wrong, by {counted(rounds.length, 'round')}</h2>
      <p className="mb-1" style={{ fontSize: isSaidAbove ? '1.05rem' : '1.3rem', fontWeight: 700, lineHeight: 1.2 }}>
        {isRuledOut || isAsked ? (
          `${verdictText(verdict)}.`
        ) : (
          <>
            {isSaidAbove ? namedText(first) : causeText(first)}{' '}
            <small className="num fw-normal">{probabilityText(first.probability)}</small> <Grounds code={first.fault} />
          </>
        )}
      </p>
      {named && !isAsked && (
        <ul className="mb-2 ps-3">
          {rounds.map(({ takenAt, state }, r) => {
            const apartV = named.apartV[r];
            return apartV == null ? null : (
              <li key={takenAt.getTime()} className={named.restsOn.includes(r) ? 'fw-bold' : 'soft'}>
                {stoodText(apartV, state)}, <When at={takenAt} as="d MMM" />
                {instruments[r] && `, by ${instruments[r]}`}
              </li>
            );
          })}
          {timesMedian !== null && timesMedian > mostAlike && <li>{resistanceTimesText(timesMedian)}</li>}
          {repeats
            .filter(({ position }) => position === first.position)
            .map(({ position, lowAt, evenAt }) => (
              <li key={position}>
                it was low on <When at={lowAt} as="d MMM yyyy" /> and level with the others on{' '}
                <When at={evenAt} as="d MMM yyyy" />
              </li>
            ))}
        </ul>
      )}
      {questions.map(({ round, code }) => {
        const of = rounds[round];
        return of ? (
          <p key={round} className="ask mb-2">
            {stateTexts[of.state]}, <When at={of.takenAt} as="d MMM HH:mm" />: {roundQuestionText(code)} If so, void the
            round and file it again.
          </p>
        ) : null;
      })}
      {signs !== '' && <p className="mb-2">With it came: {signs}.</p>}
      {suspects.length > 0 && (isAsked || !isAllSaid) && (
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
              {suspects.map((group) => (
                <tr key={group.position}>
                  <th scope="row" className="num">
                    {group.position}
                  </th>
                  <td>
                    {listed(group)
                      .map((finding) => `${faultText(finding)} ${probabilityText(finding.probability)}`)
                      .join('; ')}
                  </td>
                  <td className="num">{probabilityText(group.soundProbability)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <p className="mb-2">
        {!isRuledOut && !isAsked && <b>{verdictText(verdict)}.</b>} {verdictWhy(verdict)}
        {verdict.act === 'take-apart' && <Kept cellsOf={cellsOf} bad={verdict.positions} />}
        {verdict.act === 'repair' && <Repair pack={pack} positions={verdict.positions} cellsOf={cellsOf} />}
      </p>
      {disagreeing && <p className="ask">{disagreeingText(disagreeing)}</p>}
      {!isRuledOut && !isAsked && (
        <p className={next ? 'ask mb-0' : 'soft mb-0'}>
          {next ? (
            <>
              <b>Next: {measurementText(next.what)}.</b> {whyMeasured(next)}
            </>
          ) : (
            settledText
          )}
        </p>
      )}
    </section>
  );
}

/** Which cells it is about, and where spares are. */
function Repair({ pack, positions, cellsOf }: Pick<DiagnosisProps, 'pack' | 'cellsOf'> & { positions: number[] }) {
  const cells = positions.flatMap((position) => cellsOf[position - 1] ?? []);
  return (
    <>
      {cells.length > 0 && (
        <>
          {' '}
          These are <Cells cells={cells} />.
        </>
      )}{' '}
      Spares are of the same chemistry, size and rated capacity, with the resistance of their neighbours, and brought to
      their voltage before they are joined: which fit{' '}
      {positions.map((position, i) => (
        <span key={position}>
          {i > 0 && ', '}
          <Link href={`/builds/repair/${pack.code}?group=${position}`}>group {position}</Link>
        </span>
      ))}
      .
    </>
  );
}

/** The cells of its good groups, where it was built here. */
function Kept({ cellsOf, bad }: { cellsOf: readonly JudgedCell[][]; bad: number[] }) {
  const cells = cellsOf.flatMap((own, i) => (bad.includes(i + 1) ? [] : own.filter(isWorthIt)));
  return cells.length === 0 ? null : (
    <>
      {' '}
      Good by their own readings: <Cells cells={cells} />.
    </>
  );
}

/** By its readings before it was built in. */
const isWorthIt = ({ duty: { duty } }: JudgedCell): boolean => duty !== null && duty !== 'retire';

const Cells = ({ cells }: { cells: readonly JudgedCell[] }) =>
  cells.map(({ code, duty: { duty } }, i) => (
    <span key={code}>
      {i > 0 && ', '}
      <Link href={`/cells/${code}`}>{code}</Link>
      {duty && ` (${dutyNames[duty]})`}
    </span>
  ));

const listed = ({ findings }: GroupDiagnosis) => findings.filter(({ probability }) => probability >= leastShown);
