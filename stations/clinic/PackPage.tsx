import { packSayingText, resistanceSayingText, sumText } from '@/words/packs';
import { judgePackRound } from '@/core/judging/judgePack';
import { chemistries } from '@/core/chemistry/chemistries';
import {
  decimalsOfStep,
  type Display,
  display,
  formatFigure,
  formatQuantity,
  quantityParts,
} from '@/core/quantity/format';
import type { Quantity } from '@/core/quantity/quantity';
import { database } from '@/records/database';
import { roundsOfPack } from '@/records/packs';
import { newestRoundOverPacks } from '@/records/rounds';
import { voltmeters } from '@/core/judging/instrumentBook';
import { judgedPacks, judgedWorkshop } from '@/workshop/judged';
import { Pages } from '@/ui/Pages';
import { When } from '@/ui/When';
import Link from 'next/link';
import { notFound } from 'next/navigation';
import { AboutPack } from './AboutPack';
import { GroupPicture } from './GroupPicture';
import { packContext, stateTexts } from './packLine';
import { PackBar } from './PackBar';
import { PackResistance } from './PackResistance';
import type { SpreadLevel } from '@/core/packs/groupVoltages';
import { PlusMinus } from '@/ui/PlusMinus';
import { RuleLink } from '../RuleLink';
import { notesOf } from '@/records/notes';
import { Notes } from '../Notes';
import type { BodyKind } from '@/core/judging/bodies';
import { filedOf } from '@/records/ledger';
import { currentOf } from '../AtCurrent';
import { PackUses } from './PackUses';
import { FiledRow } from '../FiledRow';
import { VoidEntry } from '../VoidEntry';
import { VoidForm } from '@/ui/VoidForm';
import { buildById } from '@/records/builds';
import { GoBar } from '../frame/GoBar';
import { takeApartAction } from './actions';
import { PackPromise } from './PackPromise';

/** What comes next for a pack by its spread. */
const nextTexts: Record<SpreadLevel, string> = {
  excellent: 'Next: look again after a month, or after use.',
  good: 'Next: look again after a month, or after use.',
  uneven: 'Next: charge it with a balancing charger, attended; a day later look whether the same group is off again.',
  attention:
    'Next: charge it with a balancing charger, attended, until every group is full; a day later read it again. ' +
    'The same group low again is a fault.',
  'out-of-service':
    'Next: take it out of use. Read it at rest with another instrument, then at the end of a balanced, attended ' +
    'charge and a day later: that tells a low charge from a bad group.',
};

const boardTexts = {
  full: 'board sees and balances every group',
  protects: 'board protects, does not balance',
  none: 'no board',
};

/** A figure over its doubt, under a heading that has the unit. */
function Measured({ quantity, as }: { quantity: Quantity | null; as: Display }) {
  if (!quantity) return <td className="num">–</td>;
  const { figure, doubt } = quantityParts(quantity, as);
  return (
    <td className="num text-nowrap">
      {figure}
      <br />
      <span className="soft">± {doubt}</span>
    </td>
  );
}

const pageSize = 50;

/** What is listed of a pack beside its voltages and resistances, which have places of their own. */
const notedKinds: BodyKind[] = ['inspection', 'as-new', 'cycles', 'twins', 'skin-temperature'];

/** One pack: its groups against each other, the sum against the terminals, what the house rules say. */
export async function PackPage({ code, amps, page }: { code: string; amps: string | undefined; page: number }) {
  const db = database();
  const workshop = await judgedWorkshop();
  const { rules, instruments } = workshop;
  const packs = await judgedPacks(workshop);
  const pack = packs.find((one) => one.code === code.toUpperCase());
  if (!pack) notFound();
  const [rounds, notes, roundId, build, filed] = await Promise.all([
    roundsOfPack(db, pack.id),
    notesOf(db, pack.id),
    newestRoundOverPacks(db),
    pack.buildId === null ? null : buildById(db, pack.buildId),
    filedOf(db, pack.id),
  ]);
  const standing = rounds
    .filter((round) => round.voidReason === null)
    .map((round) => ({ ...round, judgement: judgePackRound(pack, round, rules.limits, instruments) }));
  const noted = filed.filter(({ body }) => notedKinds.includes(body.kind));
  const voided = rounds.filter((round) => round.voidReason !== null);
  const [latest, before] = standing;
  const [first, ...more] = latest?.judgement.says ?? [];
  // What the voltages say urgently comes before it.
  const failing = latest && !first?.urgent ? pack.resistanceTimes[0]?.says.find(({ urgent }) => urgent) : undefined;

  return (
    <>
      <div className="head">
        <h1>
          <Link href="/clinic">Clinic</Link> · <span className="num">{pack.code}</span> {pack.name}
        </h1>
        {pack.apart && (
          <span className="tag">
            taken apart <When at={pack.apart.at} as="d MMM yyyy" />: {pack.apart.because}
          </span>
        )}
        <span className="soft">
          {pack.series} in series, {pack.parallel} in parallel ·{' '}
          {formatFigure(pack.ratedCapacityAh, display.capacity, 1)} · {chemistries[pack.chemistry].name} ·{' '}
          {boardTexts[pack.board]}
        </span>
      </div>
      {pack.intake.class === 'out' && <AboutPack pack={pack} />}
      {latest ? (
        <div className="cols wide-end">
          <section className="sheet" aria-label="Groups">
            <div className="d-flex justify-content-between flex-wrap">
              <h2>Groups, from the black lead</h2>
              <span className="soft">
                {stateTexts[latest.state]} · <When at={latest.takenAt} as="d MMM HH:mm" />
                {latest.instrument && ` · ${latest.instrument}`}
              </span>
            </div>
            <GroupPicture
              groups={latest.judgement.groups}
              medianV={latest.judgement.medianV}
              before={
                before?.state === latest.state
                  ? {
                      groupVoltagesV: before.judgement.groups.map((group) => group.voltageV),
                      at: before.takenAt,
                    }
                  : null
              }
            />
            <p className={`mb-0 ${latest.judgement.sumCheck?.agrees === false ? 'hot' : 'soft'}`}>
              {latest.judgement.sumCheck
                ? sumText(latest.judgement)
                : `Sum ${formatQuantity(latest.judgement.sum, display.voltage)}; read the terminals too: the sum ` +
                  'must agree.'}
            </p>
          </section>
          <section className="sheet lead-ember" aria-label="What the house rules say">
            {failing && (
              <p style={{ fontSize: '1.3rem', fontWeight: 700, lineHeight: 1.2 }}>
                {resistanceSayingText(failing)} {failing.rule && <RuleLink rule={failing.rule} />}
              </p>
            )}
            {first && (
              <p style={failing ? undefined : { fontSize: '1.3rem', fontWeight: 700, lineHeight: 1.2 }}>
                {packSayingText(first)}
              </p>
            )}
            {more.map((says) => (
              <p key={packSayingText(says)}>{packSayingText(says)}</p>
            ))}
            {latest.judgement.says.some((says) => says.urgent) && (
              <p className="ask">
                Check count, chemistry and polarity before any charge. Never force a pack that is swollen, hot or
                leaking; stay with it, on a surface that does not burn.
              </p>
            )}
            {pack.intake.class !== 'out' && (
              <p className="next">
                {failing
                  ? 'Next: seat its connector anew and read its resistances once more; use it lightly until then.'
                  : nextTexts[latest.judgement.level]}{' '}
                {!failing && <a href="#bar">Read it below</a>}
              </p>
            )}
            <p className="soft mb-0">
              By <RuleLink rule={latest.judgement.levelRule} /> of <Link href="/rules">{rules.name}</Link>.
            </p>
            <PlusMinus />
          </section>
        </div>
      ) : (
        <section className="sheet lead-ember empty mb-3">
          <p>
            Read its {pack.series === 1 ? 'one group' : `${pack.series} groups`} from the black lead, one after the
            other, and the terminals after =. Insulate the probe tips: a slip across two pins can deliver hundreds of
            amperes.
          </p>
        </section>
      )}
      {/* Until all cells are judged the promise would be that of a part of them. */}
      {build && workshop.judging === null && (
        <PackPromise pack={pack} build={build} cells={workshop.cells} rules={rules.limits} />
      )}
      <PackResistance
        pack={pack}
        packs={packs}
        rules={rules.limits}
        protocols={workshop.protocols}
        saidAbove={failing}
        roundId={roundId}
      />
      {!latest && (build ?? pack.resistanceTimes[0]) && <PlusMinus />}
      {pack.apart === null && (
        <PackUses pack={pack} amps={currentOf(amps, pack.ratedCapacityAh)} rules={rules.limits} />
      )}
      {pack.intake.class !== 'out' && <AboutPack pack={pack} />}
      {rounds.length > 0 && (
        <section className="sheet table-scroll" tabIndex={0} aria-label="Rounds">
          <table className="table">
            <thead>
              <tr>
                <th>Read</th>
                {Array.from({ length: pack.series }, (_, i) => (
                  <th key={i} className="num">
                    {i + 1}
                  </th>
                ))}
                <th className="num">Sum, V</th>
                <th className="num">Terminals, V</th>
                <th className="num">Spread, mV</th>
                {latest?.judgement.groups.some((group) => group.soc) && <th className="num">Lowest, %</th>}
              </tr>
            </thead>
            <tbody>
              {standing.slice((page - 1) * pageSize, page * pageSize).map((round) => {
                const socs = round.judgement.groups.flatMap((group) => group.soc ?? []);
                const lowest = socs.length > 0 ? socs.reduce((a, b) => (b.value < a.value ? b : a)) : null;
                return (
                  <tr key={round.id}>
                    <td className="text-nowrap">
                      <span className="num">
                        <When at={round.takenAt} as="d MMM yyyy HH:mm" />
                      </span>
                      <br />
                      <span className="soft">{stateTexts[round.state]}</span>
                      <br />
                      <VoidEntry entry={round.entry} name="the round" />
                    </td>
                    {round.judgement.groups.map((group) => (
                      <td key={group.position} className={`num ${group.odd ? 'hot fw-bold' : ''}`}>
                        {group.odd && '◆'}
                        {group.voltageV.toFixed(decimalsOfStep(group.stepV))}
                      </td>
                    ))}
                    <Measured quantity={round.judgement.sum} as={display.voltage} />
                    <Measured quantity={round.judgement.terminal} as={display.voltage} />
                    <Measured quantity={round.judgement.spreadV} as={display.milliVolt} />
                    {latest?.judgement.groups.some((group) => group.soc) && (
                      <Measured quantity={lowest} as={display.charge} />
                    )}
                  </tr>
                );
              })}
              {voided.slice((page - 1) * pageSize, page * pageSize).map((round) => (
                <tr key={round.id} className="soft">
                  <td className="num text-nowrap">
                    <When at={round.takenAt} as="d MMM yyyy HH:mm" />
                  </td>
                  <td colSpan={pack.series + 4}>
                    <s className="num">
                      {round.groupVoltagesV
                        .map((v, i) => v.toFixed(decimalsOfStep(round.groupStepsV[i] as number)))
                        .join(' ')}
                    </s>{' '}
                    void: {round.voidReason}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <Pages
            page={page}
            total={Math.max(standing.length, voided.length)}
            size={pageSize}
            href={(to) => `/clinic/${pack.code}?page=${to}`}
          />
        </section>
      )}
      <div className="mt-3" />
      {noted.length > 0 && (
        <details className="sheet mb-3">
          <summary>Everything noted of it ({noted.length})</summary>
          <div className="table-scroll" tabIndex={0}>
            <table className="table">
              <tbody>
                {noted.map((one) => (
                  <FiledRow key={`${one.entry} ${one.body.kind}`} filed={one} />
                ))}
              </tbody>
            </table>
          </div>
        </details>
      )}
      <Notes code={pack.code} notes={notes} />
      {pack.buildId !== null && pack.apart === null && (
        <VoidForm
          verb="Take apart"
          what={pack.code}
          question={`Why is ${pack.code} taken apart?`}
          note="Discharge it first; insulate each joint that you open. Its cells go back to the shelf; readings stay."
          action={takeApartAction.bind(null, pack.code)}
        />
      )}
      {pack.apart === null && (
        <PackBar shown={packContext(pack)} packs={packs.map(packContext)} meters={voltmeters(instruments)} />
      )}
      {pack.apart && <GoBar placeholder="PF1 opens a pack" />}
    </>
  );
}
