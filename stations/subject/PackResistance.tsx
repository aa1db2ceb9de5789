import { besideTwins, type JudgedPack, type PackResistances } from '@/core/judging/judgePack';
import type { Protocol } from '@/core/judging/facts';
import type { HouseRules } from '@/core/chemistry/houseRules';
import { display, formatQuantity } from '@/core/quantity/format';
import { methods } from '@/core/resistance/methods';
import { comparableOhmAh } from '@/core/resistance/uses';
import { Grounds } from '@/stations/Grounds';
import { Link } from '@/ui/Link';
import { acrossSizes } from '@/ui/displays';
import { When } from '@/ui/When';
import { resistanceSayingText, twinText } from '@/words/packs';
import { warningText } from '@/words/warnings';
import { GroupOhms } from '../GroupOhms';
import { GroupsOverTime } from './GroupsOverTime';

interface PackResistanceProps {
  pack: JudgedPack;
  packs: readonly JudgedPack[];
  rules: HouseRules;
  protocols: ReadonlyMap<number, Protocol>;
  /** What the page says first already. */
  saidAbove: string | null;
  /** The newest round over packs; null where there is none. */
  roundId: number | null;
}

/** A pack's resistances: the newest, what they say, and how they came to be so. */
export function PackResistance({ pack, packs, rules, protocols, saidAbove, roundId }: PackResistanceProps) {
  const newest = pack.amongGroups;
  const next =
    roundId === null ? (
      <Link href="/resistance">Start a round over packs</Link>
    ) : (
      <Link href={`/resistance/${roundId}?at=${pack.code}`}>Read it in round {roundId}</Link>
    );
  if (!newest)
    return pack.intake.class === 'out' || pack.apart ? null : (
      <section className="sheet mb-3" aria-label="Resistance">
        <h2>Resistance</h2>
        <p className="mb-0">
          No reading yet. Enter the charger’s value for each group at its next charge. A rise over its own history is
          the surest sign of age. Enter values from paper with their day. {next}
        </p>
      </section>
    );
  const protocol = protocols.get(newest.protocolId);
  const alike = pack.resistanceTimes.filter((time) => time.protocolId === newest.protocolId && time.leftOut === null);
  const says = newest.says.filter((saying) => resistanceSayingText(saying) !== saidAbove);
  return (
    <section className="sheet mb-3" aria-label="Resistance">
      <div className="d-flex justify-content-between flex-wrap">
        <h2>Resistance</h2>
        <span className="soft">
          {protocol && `${protocol.name}, ${methods[protocol.method].name} · `}
          <When at={newest.takenAt} as="d MMM yyyy HH:mm" />
          {newest.temperatureC !== null && ` · ${newest.temperatureC} °C`} ·{' '}
          <Link href={`/resistance/${newest.roundId}`}>round {newest.roundId}</Link>
        </span>
      </div>
      <div className="cols">
        <div>
          {newest.groups.length > 0 && (
            <GroupOhms groups={newest.groups} series={pack.series} medianOhm={newest.medianOhm} />
          )}
          <Whole pack={pack} newest={newest} />
          {pack.weakest?.by === 'shared' && (
            <p className="mb-0">
              Loaded for ten seconds on <When at={pack.weakest.takenAt} as="d MMM yyyy" />, divided in the ratio of its
              groups: {formatQuantity(pack.weakest.resistance, display.resistance)} in group {pack.weakest.position},
              its weakest.
            </p>
          )}
        </div>
        <div>
          {says.map((saying, i) => (
            <p key={resistanceSayingText(saying)} className={i === 0 ? 'mb-2 fw-bold' : 'mb-2'}>
              {resistanceSayingText(saying)}{' '}
              {says.findIndex(({ rule }) => rule === saying.rule) === i && (
                <Grounds rule={saying.rule} code={saying.code} />
              )}
            </p>
          ))}
          {newest.says.some(({ code }) => code === 'group-failing') && (
            <p className="ask">
              It sags and warms more than its neighbours at every use. Seat the connector again and read once more
              before you act on it.
            </p>
          )}
          {besideTwins(pack, packs, rules).map((twin) => (
            <p key={twin.code} className="mb-2">
              {twinText(twin)}
            </p>
          ))}
          {newest.leftOut && <p className="ask">Not compared with other days: {warningText(newest.leftOut)}</p>}
          {pack.intake.class !== 'out' && !pack.apart && (
            <p className="next mb-0">Next: note it at every charge. {next}</p>
          )}
        </div>
      </div>
      {alike.length > 1 && (
        <GroupsOverTime
          series={pack.series}
          times={alike.toReversed().map(({ takenAt, groups, whole }) => ({
            at: takenAt.getTime(),
            values: (groups.length > 0 ? groups : wholeAlone(whole)).map(({ position, resistance }) => ({
              position,
              value: resistance.value * 1000,
            })),
          }))}
          unit="mΩ"
          decimals={1}
          caption="Resistance over time, by this protocol"
          failing={newest.groups.flatMap(({ position, level }) => (level === 'failing' ? position : []))}
        />
      )}
    </section>
  );
}

const wholeAlone = (whole: PackResistances['whole']) => (whole ? [{ position: 0, resistance: whole }] : []);

/** The whole of it, and what makes it comparable with packs of other sizes. */
function Whole({ pack, newest: { sum, whole, perGroup } }: { pack: JudgedPack; newest: PackResistances }) {
  return (
    <p className="mb-0">
      {whole && `From terminal to terminal ${formatQuantity(whole, display.resistance)}. `}
      {!whole && sum && pack.series > 1 && `Together ${formatQuantity(sum, display.resistance)}. `}
      {perGroup && pack.series > 1 && `A group has ${formatQuantity(perGroup, display.resistance)} in the mean`}
      {perGroup && pack.series === 1 && 'It has'}
      {perGroup && `, ${formatQuantity(comparableOhmAh(perGroup, pack.ratedCapacityAh), acrossSizes)} across sizes.`}
    </p>
  );
}
