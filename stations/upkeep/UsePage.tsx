import type { HouseRules } from '@/core/chemistry/houseRules';
import { voltmeters } from '@/core/judging/instrumentBook';
import type { JudgedPack } from '@/core/judging/judgePack';
import { serviceTimeOf } from '@/core/judging/serviceTimeOf';
import { alarmOf } from '@/core/planning/serviceTime';
import { Grounds } from '@/stations/Grounds';
import { RuleLink } from '@/stations/RuleLink';
import { Link } from '@/ui/Link';
import { PlusMinus } from '@/ui/PlusMinus';
import { addressOf } from '@/ui/tokens';
import { When } from '@/ui/When';
import { counted } from '@/words/counted';
import { minutesText, setV } from '@/words/figures';
import { unfitText } from '@/words/unfit';
import { serviceTimeText } from '@/words/use';
import { judgedPacks, judgedWorkshop } from '@/workshop/judged';
import { AtCurrent, currentOf } from '../AtCurrent';
import { PackBar } from '../clinic/PackBar';
import { packContext } from '../clinic/packLine';

/** Which packs may go out, for how long they serve, which are out, and which are not to be used and why. */
export async function UsePage({ amps }: { amps: string | undefined }) {
  const workshop = await judgedWorkshop();
  const packs = await judgedPacks(workshop);
  const here = packs.filter(({ apart }) => apart === null);
  const out = here.filter(({ isOut }) => isOut);
  const unfit = here.filter(({ unfit: reasons }) => reasons.length > 0);
  const fit = here.filter((pack) => !pack.isOut && pack.unfit.length === 0 && pack.chemistry !== 'alkaline');
  return (
    <>
      <div className="head">
        <h1>
          <Link href="/upkeep">Upkeep</Link> · use
        </h1>
        <span className="soft">What may go out, and what is not to be used.</span>
      </div>
      <div className="cols">
        <div className="stack">
          <section className={`sheet ${unfit.length > 0 ? 'lead-ember' : 'lead-ink'}`} aria-label="Not to use">
            <p className={`headline ${unfit.length > 0 ? 'hot' : ''}`}>
              {unfit.length === 0 ? 'Nothing stands against any pack' : `◆ ${counted(unfit.length, 'pack')} not to use`}
            </p>
            {unfit.length > 0 && (
              <table className="table stacked">
                <tbody>
                  {unfit.map((pack) => (
                    <Unfit key={pack.code} pack={pack} />
                  ))}
                </tbody>
              </table>
            )}
          </section>
          <section className="sheet" aria-label="May go out">
            <AtCurrent amps={currentOf(amps, defaultA)} />
            {fit.length === 0 ? (
              <p className="soft mb-0 mt-2">No pack here may go out.</p>
            ) : (
              <FitTable packs={fit} amps={currentOf(amps, defaultA)} rules={workshop.rules.limits} />
            )}
          </section>
        </div>
        <section className="sheet lead-ink" aria-label="Out now">
          <h2>Out now</h2>
          {out.length === 0 ? (
            <p className="soft">Every pack is here.</p>
          ) : (
            out.map((pack) => <Out key={pack.code} pack={pack} />)
          )}
          <h2 className="mt-3">As it goes and comes</h2>
          <p className="mb-2">
            <kbd>PF1 out 12A harbour walk</kbd>
          </p>
          <p className="mb-2">
            <kbd>PF1 back 3.71 3.70 3.69 8min</kbd>
          </p>
          <p className="soft mb-0">
            Look at every group as it comes back: one that is 0.2 V lower keeps it here. Swollen, soft, hot or smelling
            it is not charged again. <RuleLink rule="spreadOutV" />
          </p>
        </section>
      </div>
      <PackBar shown={null} packs={packs.map(packContext)} meters={voltmeters(workshop.instruments)} />
    </>
  );
}

/** Where nobody says how much is drawn, A. */
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

const Unfit = ({ pack }: { pack: JudgedPack }) => (
  <tr>
    <th scope="row">
      <Name pack={pack} />
    </th>
    <td>
      {pack.isOut && <b className="hot">◆ it is out now. </b>}
      {pack.unfit.map((reason, i) => (
        <span key={i}>
          {unfitText(reason)} <Grounds code={reason.code} />{' '}
        </span>
      ))}
      <Link href={`/clinic/${pack.code}`}>What is wrong with it</Link>
    </td>
  </tr>
);

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
  packs: readonly JudgedPack[];
  amps: number;
  rules: HouseRules;
}

function FitTable({ packs, amps, rules }: FitProps) {
  return (
    <>
      <div className="table-scroll mt-2" tabIndex={0}>
        <table className="table stacked">
          <thead>
            <tr>
              <th>Who</th>
              <th>Full it serves</th>
              <th>Alarm</th>
            </tr>
          </thead>
          <tbody>
            {packs.map((pack) => {
              const alarm = alarmOf(pack.chemistry, rules);
              return (
                <tr key={pack.code}>
                  <th scope="row">
                    <Name pack={pack} />
                  </th>
                  <td>
                    {serviceTimeText(serviceTimeOf(pack, amps, rules), amps)}
                    {pack.resistance === null && <div className="soft">Nobody read how far it sags.</div>}
                  </td>
                  <td>{alarm ? <>at {setV(alarm.alarmV)}</> : <span className="soft">none by its voltage</span>}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      <p className="soft mt-2 mb-0">
        By its present capacity, its weakest group and the reserve; the alarm is for the lowest group, loaded.{' '}
        <RuleLink rule="reserveShare" />, <RuleLink rule="alarmPouchV" />, <RuleLink rule="alarmCylindricalV" />
      </p>
      <PlusMinus />
    </>
  );
}
