import { voltmeters } from '@/core/judging/instrumentBook';
import type { JudgedPack } from '@/core/judging/judgePack';
import { alarmOf, serviceTime } from '@/core/planning/serviceTime';
import type { HouseRules } from '@/core/chemistry/houseRules';
import { type Barrier, type Permission, permission } from '@/core/state/permissions';
import type { SubjectState } from '@/core/state/subjectState';
import { Grounds } from '@/stations/Grounds';
import { RuleLink } from '@/stations/RuleLink';
import { Link } from '@/ui/Link';
import { PlusMinus } from '@/ui/PlusMinus';
import { addressOf } from '@/ui/tokens';
import { When } from '@/ui/When';
import { sheetRefusalText } from '@/words/chargerSheets';
import { counted } from '@/words/counted';
import { minutesText, setV } from '@/words/figures';
import { questionText, serviceTimeText } from '@/words/use';
import { judgedPacks, judgedWorkshop } from '@/workshop/judged';
import { stateNow } from '@/workshop/states';
import { AtCurrent, type Drawn, drawnOf, type DrawnQuery } from '../AtCurrent';
import { PackBar } from '../clinic/PackBar';
import { packContext } from '../clinic/packLine';

/** A pack with what may be done with it. */
interface Known {
  pack: JudgedPack;
  state: SubjectState;
  use: Permission;
}

/** Which packs may go out, for how long they serve, which are out, and which are not to be used and why. */
export async function UsePage({ query }: { query: DrawnQuery }) {
  const drawn = drawnOf(query, defaultA);
  const workshop = await judgedWorkshop();
  const packs = await judgedPacks(workshop);
  const rules = workshop.rules.limits;
  const here = packs
    .filter(({ apart, chemistry }) => apart === null && chemistry !== 'alkaline')
    .map((pack): Known => {
      const state = stateNow(pack, workshop);
      return { pack, state, use: permission(state, 'use', rules) };
    });
  const out = here.filter(({ pack }) => pack.isOut);
  const unfit = here.filter(({ use }) => !use.allowed);
  const fit = here.filter(({ pack, use }) => !pack.isOut && use.allowed);
  return (
    <>
      <div className="head">
        <h1>
          <Link href="/upkeep">Upkeep</Link> · use
        </h1>
        <span className="soft">Which packs may go out, and which not.</span>
      </div>
      <div className="cols">
        <div className="stack">
          <section className={`sheet ${unfit.length > 0 ? 'lead-ember' : 'lead-ink'}`} aria-label="Not to use">
            <p className={`headline ${unfit.length > 0 ? 'hot' : ''}`}>
              {unfit.length === 0 ? 'Every pack may be used' : `◆ ${counted(unfit.length, 'pack')} not to use`}
            </p>
            {unfit.length > 0 && (
              <table className="table stacked">
                <tbody>
                  {unfit.map((one) => (
                    <Unfit key={one.pack.code} known={one} />
                  ))}
                </tbody>
              </table>
            )}
          </section>
          <section className="sheet" aria-label="May go out">
            <AtCurrent drawn={drawn} />
            {fit.length === 0 ? (
              <p className="soft mb-0 mt-2">No pack here may go out.</p>
            ) : (
              <FitTable packs={fit} drawn={drawn} rules={rules} />
            )}
          </section>
        </div>
        <section className="sheet lead-ink" aria-label="Out now">
          <h2>Out now</h2>
          {out.length === 0 ? (
            <p className="soft">Every pack is here.</p>
          ) : (
            out.map(({ pack }) => <Out key={pack.code} pack={pack} />)
          )}
          <h2 className="mt-3">As it goes and comes</h2>
          <p className="mb-2">
            <kbd>PF1 out 12A harbour walk</kbd>
          </p>
          <p className="mb-2">
            <kbd>PF1 back 3.71 3.70 3.69 8min</kbd>
          </p>
          <p className="soft mb-0">
            Check every group when the pack is back. A group that is 0.2 V lower keeps the pack here. Never charge a
            pack that is swollen, soft, hot or smells. <RuleLink rule="spreadOutV" />
          </p>
        </section>
      </div>
      <PackBar shown={null} packs={packs.map(packContext)} meters={voltmeters(workshop.instruments)} />
    </>
  );
}

/** Where the current is not given, A. */
const defaultA = 5;

const Name = ({ pack: { code, name } }: { pack: JudgedPack }) => (
  <>
    <Link href={addressOf(code)} className="num fw-bold">
      {code}
    </Link>
    <br />
    <span className="soft">{name}</span>
  </>
);

function Unfit({ known: { pack, use } }: { known: Known }) {
  const because: readonly Barrier[] = use.allowed ? [] : use.because;
  return (
    <tr>
      <th scope="row">
        <Name pack={pack} />
      </th>
      <td>
        {pack.isOut && <b className="hot">◆ in use now. </b>}
        {because.map((barrier, i) => (
          <span key={i}>
            {sheetRefusalText(barrier)}{' '}
            <Grounds code={barrier.code === 'unfit' ? barrier.reason.code : barrier.code} />{' '}
          </span>
        ))}
        <Link href={`/clinic/${pack.code}`}>What to do with it</Link>
      </td>
    </tr>
  );
}

function Out({ pack }: { pack: JudgedPack }) {
  const { takenOut } = pack;
  if (!takenOut) return null;
  return (
    <div className="slip">
      <p>
        <Link href={addressOf(pack.code)} className="num fw-bold">
          {pack.code}
        </Link>{' '}
        since <When at={takenOut.at} as="d MMM HH:mm" />
        {takenOut.forWhat !== null && `, for ${takenOut.forWhat}`}
      </p>
      {takenOut.timerS !== null && <div className="t">{minutesText(takenOut.timerS)}</div>}
    </div>
  );
}

interface FitProps {
  packs: readonly Known[];
  drawn: Drawn;
  rules: HouseRules;
}

function FitTable({ packs, drawn, rules }: FitProps) {
  return (
    <>
      <div className="table-scroll mt-2" tabIndex={0}>
        <table className="table stacked">
          <thead>
            <tr>
              <th>Pack</th>
              <th>Serves now</th>
              <th>Serves full</th>
              <th>Alarm</th>
            </tr>
          </thead>
          <tbody>
            {packs.map((one) => (
              <Fit key={one.pack.code} known={one} drawn={drawn} rules={rules} />
            ))}
          </tbody>
        </table>
      </div>
      <p className="soft mt-2 mb-0">
        By the charge and the capacity of its weakest group, and the reserve. The alarm is for the lowest group, loaded.{' '}
        <RuleLink rule="reserveShare" />, <RuleLink rule="alarmPouchV" />, <RuleLink rule="alarmCylindricalV" />
      </p>
      <PlusMinus />
    </>
  );
}

function Fit({ known: { pack, state, use }, drawn, rules }: { known: Known; drawn: Drawn; rules: HouseRules }) {
  const { amps, peakA } = drawn;
  const alarm = alarmOf(pack.chemistry, rules);
  const now = serviceTime({ state, from: 'now', currentA: amps, peakA, rules });
  const full = serviceTime({ state, from: 'full', currentA: amps, peakA, rules });
  const [question] = use.allowed ? use.asks : [];
  return (
    <tr>
      <th scope="row">
        <Name pack={pack} />
      </th>
      <td>
        {question && <div className="hot">◆ {questionText(question)}</div>}
        {serviceTimeText(now, amps)}
      </td>
      <td>
        {full.code === now.code && full.code !== 'serves' ? '–' : serviceTimeText(full, amps)}
        {full.code === 'serves' && full.sagV === null && <div className="soft">Voltage sag not measured.</div>}
      </td>
      <td>{alarm ? <>at {setV(alarm.alarmV)}</> : <span className="soft">none by its voltage</span>}</td>
    </tr>
  );
}
