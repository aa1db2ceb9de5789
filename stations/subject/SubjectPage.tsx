import { chemistries } from '@/core/chemistry/chemistries';
import { voltmeters } from '@/core/judging/instrumentBook';
import { type ClinicJudgement, type Complained, isRoundAsked, judgeClinic } from '@/core/judging/judgeClinic';
import type { JudgedCell } from '@/core/judging/judgeCell';
import type { JudgedPack } from '@/core/judging/judgePack';
import { modelText } from '@/core/judging/models';
import { cellOfCode } from '@/core/judging/shelf';
import { isPack, type JudgedSubject } from '@/core/judging/subject';
import { type Visit, visitsOf } from '@/core/judging/visits';
import { type Complaint, type ComplaintAnswer, complaints } from '@/core/packs/complaints';
import { display, formatFigure } from '@/core/quantity/format';
import { answeredByReadings } from '@/core/state/complaintAnswer';
import type { SubjectState } from '@/core/state/subjectState';
import { buildById } from '@/records/builds';
import { database } from '@/records/database';
import { type Filed, filedOf } from '@/records/ledger';
import { notesOf } from '@/records/notes';
import { roundsOfPack } from '@/records/packs';
import { newestRoundOverPacks } from '@/records/rounds';
import { runsOfSubject } from '@/records/runs';
import { Link } from '@/ui/Link';
import { PlusMinus } from '@/ui/PlusMinus';
import { Section } from '@/ui/Section';
import { VoidForm } from '@/ui/VoidForm';
import { When } from '@/ui/When';
import { isHot } from '@/words/diagnosis';
import { urgentOf } from '@/words/packs';
import { now } from '@/workshop/clock';
import { watchNow } from '@/workshop/frame';
import { everyPack, judgedPacks, judgedWorkshop, visitsOver, withCellsOf, type Workshop } from '@/workshop/judged';
import { stateNow } from '@/workshop/states';
import { notFound } from 'next/navigation';
import { takeApartAction } from '../clinic/actions';
import { type DrawnQuery, drawnOf } from '../AtCurrent';
import { PackBar } from '../clinic/PackBar';
import { packContext } from '../clinic/packLine';
import { cellsByGroup } from '../builds/groupsOfBuild';
import { GoBar } from '../frame/GoBar';
import { Notes } from '../Notes';
import { AboutPack } from './AboutPack';
import { Ageing } from './Ageing';
import { Complaints } from './Complaints';
import { Diagnosis } from './Diagnosis';
import { EndOfLife } from './EndOfLife';
import { Balancing } from './Balancing';
import { CellResistance } from './CellResistance';
import { InUse } from './InUse';
import { Life } from './Life';
import { LimitTable } from './LimitTable';
import type { Act } from './NextKeys';
import { GroupsInPast, type JudgedRounds, judgedRounds, PackGroups, PackRounds, restsOnIn } from './PackGroups';
import { PackPromise } from './PackPromise';
import { PackResistance } from './PackResistance';
import { courseOf, packReadByProtocol, readByProtocol } from './resistancesRead';
import { Verdict } from './Verdict';
import { Visits } from './Visits';

interface SubjectPageProps {
  kind: 'cell' | 'pack';
  code: string;
  drawn: DrawnQuery;
  page: number;
}

/** The life of a cell or a pack: what it can do, which readings show that, everything ever measured. */
export async function SubjectPage({ kind, code, drawn, page }: SubjectPageProps) {
  const workshop = await withCellsOf(await judgedWorkshop(), { code: code.toUpperCase() });
  const packs = await judgedPacks(workshop);
  const subject =
    kind === 'cell'
      ? cellOfCode(workshop, code.toUpperCase())
      : (await everyPack(workshop)).find((pack) => pack.code === code.toUpperCase());
  if (!subject) notFound();
  const db = database();
  const [filed, runs, notes, roundId, rounds, watch, cellRead, past] = await Promise.all([
    filedOf(db, subject.id),
    runsOfSubject(db, subject.id),
    notesOf(db, subject.id),
    isPack(subject) ? newestRoundOverPacks(db) : null,
    isPack(subject) ? judgedRoundsOf(subject, workshop) : null,
    watchNow(workshop),
    isPack(subject) ? null : readByProtocol(subject, workshop),
    isPack(subject) ? visitsOver(workshop) : null,
  ]);
  const { limits } = workshop.rules;
  const state = stateNow(subject, workshop);
  const clinic =
    isPack(subject) && rounds && past
      ? judgeClinic(subject, rounds.standing, limits, workshop, complaintIn(filed), past)
      : null;
  const build = isPack(subject) && subject.buildId !== null ? await buildById(db, subject.buildId) : null;
  const valid = filed.filter(({ voidReason }) => voidReason === null);
  const visits = rounds ? visitsOf(rounds.standing, valid) : [];
  const due = watch.filter(
    ({ entry, code: of, batch }) =>
      of === subject.code || (entry !== null && !isPack(subject) && batch === subject.batchCode),
  );
  return (
    <>
      <Head subject={subject} />
      <div className="cols wide-end">
        <div className="stack">
          <Verdict subject={subject} due={due} acts={actsOf(subject, roundId)} clinic={clinic} />
          {isPack(subject) && clinic && (
            <Section name="What is wrong">
              <Diagnosis
                pack={subject}
                clinic={clinic}
                cellsOf={cellsByGroup(build, subject.series, workshop.cells)}
                visit={visits[0] ?? null}
              />
            </Section>
          )}
        </div>
        <div className="stack">
          {isPack(subject) && rounds && (
            <Section name="Groups">
              <PackGroups
                pack={subject}
                rounds={rounds}
                rulesName={workshop.rules.name}
                named={namedGroup(clinic)}
                restsOn={restsOnIn(clinic?.diagnosis ?? null)}
              />
            </Section>
          )}
          <section className="sheet" aria-label="Limits">
            <h2>Limits of the house</h2>
            {subject.duty.checks.length > 0 ? (
              <LimitTable subject={subject} />
            ) : (
              <p className="soft mb-0">{notMeasuredYet(subject)}</p>
            )}
          </section>
        </div>
      </div>
      {isPack(subject)
        ? rounds && (
            <PackParts
              pack={subject}
              state={state}
              packs={packs}
              workshop={workshop}
              rounds={rounds}
              build={build}
              roundId={roundId}
              clinic={clinic}
              visits={visits}
            />
          )
        : cellRead && (
            <Section name="Resistance">
              <CellResistance cell={subject} byProtocol={cellRead} />
            </Section>
          )}
      <Section name="Ageing">
        <Ageing
          subject={subject}
          filed={filed}
          resistances={courseOf(isPack(subject) ? packReadByProtocol(subject, workshop) : (cellRead ?? new Map()))}
          rules={limits}
        />
      </Section>
      <Section name="Signs of age">
        <EndOfLife subject={subject} rounds={rounds} verdict={clinic?.verdict ?? null} rules={limits} />
      </Section>
      {subject.intake.class !== 'out' && !(isPack(subject) && subject.apart) && (
        <Section name="In use">
          <InUse subject={subject} state={state} drawn={drawnOf(drawn, subject.ratedCapacityAh)} rules={limits} />
        </Section>
      )}
      {isPack(subject) && (
        <Section name="About it">
          <AboutPack pack={subject} />
        </Section>
      )}
      <Section name="Notes">
        <Notes code={subject.code} notes={notes} />
      </Section>
      {isPack(subject) && rounds && (
        <Section name="Rounds">
          <PackRounds pack={subject} rounds={rounds} restsOn={restsOnIn(clinic?.diagnosis ?? null)} page={page} />
        </Section>
      )}
      <Section name="History">
        <Life subject={subject} filed={filed} runs={runs} page={page} />
      </Section>
      {isPack(subject) ? (
        <PackEnd pack={subject} packs={packs} workshop={workshop} />
      ) : (
        <GoBar placeholder="S1-014 opens a cell" />
      )}
    </>
  );
}

/** The group that the diagnosis blames; null where it blames none, or a round is asked about first. */
const namedGroup = (clinic: ClinicJudgement | null): number | null =>
  clinic && isHot(clinic.diagnosis.first) && !isRoundAsked(clinic.verdict) ? clinic.diagnosis.first.position : null;

/** The newest valid one. */
function complaintIn(filed: readonly Filed[]): Complained | null {
  const newest = filed.find(({ body, voidReason }) => body.kind === 'complaint' && voidReason === null);
  return newest?.body.kind === 'complaint' ? { ...newest.body, takenAt: newest.takenAt } : null;
}

const judgedRoundsOf = async (pack: JudgedPack, workshop: Workshop): Promise<JudgedRounds> =>
  judgedRounds(pack, await roundsOfPack(database(), pack.id), workshop);

function Head({ subject }: { subject: JudgedSubject }) {
  return <div className="head">{isPack(subject) ? <PackHead pack={subject} /> : <CellHead cell={subject} />}</div>;
}

const CellHead = ({ cell }: { cell: JudgedCell }) => (
  <>
    <h1>
      <Link href="/shelf">Shelf</Link> · cell
    </h1>
    <span className="soft">
      {modelText(cell)} · {formatFigure(cell.ratedCapacityAh, display.capacity, 2)} rated · batch{' '}
      <Link href={`/intake/${cell.batchCode}`}>{cell.batchCode}</Link>, place {cell.place}
      {cell.weldedTo.length > 0 && ` · welded to ${cell.weldedTo.join(', ')}`}
      {cell.putAway && <b className="hot"> · put away, or handed over</b>}
    </span>
  </>
);

const boardTexts = {
  full: 'board sees and balances every group',
  protects: 'board protects, does not balance',
  none: 'no board',
};

const PackHead = ({ pack }: { pack: JudgedPack }) => (
  <>
    <h1>
      <Link href="/clinic">Clinic</Link> · pack {pack.name}
    </h1>
    {pack.apart && (
      <span className="tag">
        taken apart <When at={pack.apart.at} as="d MMM yyyy" />: {pack.apart.because}
      </span>
    )}
    {pack.retiring !== null && (
      <Link className="tag" href={`/retire/${pack.code}`}>
        {pack.retiring === 'gone' ? 'handed over' : 'being retired'}
      </Link>
    )}
    <span className="soft">
      {pack.series} in series, {pack.parallel} in parallel · {formatFigure(pack.ratedCapacityAh, display.capacity, 1)} ·{' '}
      {chemistries[pack.chemistry].name} · {boardTexts[pack.board]}
    </span>
  </>
);

/** What can be done with it; nothing with what is out or taken apart but to note something. */
function actsOf(subject: JudgedSubject, roundId: number | null): Act[] {
  const { code } = subject;
  const note = { key: 'n', does: 'a note', href: '#note' };
  const out = { key: 'x', does: 'retire', href: `/retire/${code}` };
  if (isPack(subject) && subject.apart !== null) return [note];
  if (subject.intake.class === 'out' || (isPack(subject) && subject.retiring !== null)) return [out, note];
  const capacity = { key: 'c', does: 'import a discharge', href: `/capacity?subject=${code}` };
  const isPouch = subject.chemistry === 'lipo' || subject.chemistry === 'lihv';
  const inPart = { key: 'q', does: 'a partial charge', href: `/capacity/partial/${code}` };
  const isLithium = chemistries[subject.chemistry].family === 'lithium';
  // What must not be run flat is offered the gentler way first.
  const capacities = isPouch ? [inPart, capacity] : [capacity, ...(isLithium ? [inPart] : [])];
  // A primary cell is never charged.
  const sheet =
    subject.chemistry === 'alkaline' ? [] : [{ key: 'g', does: 'a charger sheet', href: `/upkeep/${code}` }];
  const selfDischarge = { key: 'h', does: 'a self-discharge test', href: `/self-discharge?subject=${code}` };
  if (!isPack(subject))
    return [
      { key: 'v', does: 'its voltage and weight', href: `/intake/${subject.batchCode}?at=${code}` },
      { key: 'r', does: 'its resistance', href: '/resistance' },
      ...capacities,
      selfDischarge,
      ...sheet,
      out,
      note,
    ];
  return [
    { key: 'v', does: 'its groups', href: '#bar' },
    { key: 'r', does: 'its resistance', href: roundId === null ? '/resistance' : `/resistance/${roundId}?at=${code}` },
    ...capacities,
    selfDischarge,
    ...sheet,
    { key: 'p', does: 'history and use', href: '#past' },
    out,
    note,
  ];
}

/** What fresh readings answer of each complaint. */
const answeredNow = (state: SubjectState): Partial<Record<Complaint, ComplaintAnswer>> =>
  Object.fromEntries(
    complaints.flatMap((complaint) => {
      const answer = answeredByReadings(complaint, state, now());
      return answer === null ? [] : [[complaint, answer]];
    }),
  );

interface PackPartsProps {
  pack: JudgedPack;
  state: SubjectState;
  packs: readonly JudgedPack[];
  workshop: Workshop;
  rounds: JudgedRounds;
  build: Awaited<ReturnType<typeof buildById>>;
  roundId: number | null;
  clinic: ClinicJudgement | null;
  /** The newest first. */
  visits: readonly Visit[];
}

/** What a pack has beyond a cell: its groups against each other, and what the match promised of them. */
function PackParts({ pack, state, packs, workshop, rounds, build, roundId, clinic, visits }: PackPartsProps) {
  const { rules } = workshop;
  return (
    <>
      {clinic && (
        <Section name="Balancing">
          <Balancing pack={pack} rounds={rounds} workshop={workshop} verdict={clinic.verdict} />
        </Section>
      )}
      <Section name="Visits">
        <Visits visits={visits} />
      </Section>
      {pack.apart === null && (
        <Complaints code={pack.code} answered={answeredNow(state)} readAt={state.readAt?.getTime() ?? null} />
      )}
      <Section name="Groups over time">
        <GroupsInPast pack={pack} rounds={rounds} named={namedGroup(clinic)} />
      </Section>
      {/* Until all cells are judged the promise would be that of a part of them. */}
      {build && workshop.judging === null && (
        <Section name="Promise of the match">
          <PackPromise pack={pack} build={build} cells={workshop.cells} rules={rules.limits} />
        </Section>
      )}
      <Section name="Resistance">
        <PackResistance
          pack={pack}
          packs={packs}
          rules={rules.limits}
          protocols={workshop.protocols}
          saidAbove={urgentOf(pack)?.said ?? null}
          roundId={roundId}
        />
      </Section>
      {pack.duty.checks.length === 0 && (pack.judgement ?? pack.amongGroups ?? build) && <PlusMinus />}
    </>
  );
}

const PackEnd = ({ pack, packs, workshop }: { pack: JudgedPack; packs: readonly JudgedPack[]; workshop: Workshop }) => {
  if (pack.apart) return <GoBar placeholder="PF1 opens a pack" />;
  return (
    <>
      {pack.buildId !== null && (
        <VoidForm
          verb="Take apart"
          what={pack.code}
          question={`Why is ${pack.code} taken apart?`}
          note="Discharge it first; insulate each joint that you open. Its cells go back to the shelf; readings stay."
          action={takeApartAction.bind(null, pack.code)}
        />
      )}
      <PackBar shown={packContext(pack)} packs={packs.map(packContext)} meters={voltmeters(workshop.instruments)} />
    </>
  );
};

function notMeasuredYet({ capacity, resistance }: JudgedSubject): string {
  if (capacity) return 'The limits need a resistance. Measure it in a round.';
  return resistance
    ? 'The limits need a capacity. Run a capacity test.'
    : 'The limits need both. Measure the resistance, then run a capacity test.';
}
