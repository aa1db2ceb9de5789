import { chemistries } from '@/core/chemistry/chemistries';
import { display, formatFigure, formatQuantity } from '@/core/quantity/format';
import { database } from '@/records/database';
import { listPacks, packByCode, roundsOfPack } from '@/records/packs';
import { voltmeters } from '@/stations/instruments/book';
import { judgedWorkshop, judgePackRound } from '@/stations/workshop';
import { format } from 'date-fns';
import Link from 'next/link';
import { notFound } from 'next/navigation';
import { GroupBars } from './GroupBars';
import { packContext } from './entry';
import { GroupsBar } from './GroupsBar';

const stateTexts = { rest: 'at rest', load: 'under load', 'charge-end': 'at the end of charge', 'discharge-end': 'at the end of discharge' };
const boardTexts = { full: 'board sees and balances every group', protects: 'board protects, does not balance', none: 'no board' };

/** One pack: its groups against each other, the sum against the terminals, what the house rules say. */
export async function PackPage({ code }: { code: string }) {
  const pack = await packByCode(database(), code.toUpperCase());
  if (!pack) notFound();
  const [{ rules, instruments }, rounds, packs] = await Promise.all([judgedWorkshop(), roundsOfPack(database(), pack.id), listPacks(database())]);
  const standing = rounds.filter((round) => round.voidReason === null).map((round) => ({ ...round, judgement: judgePackRound(pack, round, rules.limits, instruments) }));
  const [latest, before] = standing;
  const [first, ...more] = latest?.judgement.says ?? [];

  return (
    <>
      <div className="head">
        <h1>
          <Link href="/clinic">Clinic</Link> · <span className="num">{pack.code}</span> {pack.name}
        </h1>
        <span className="soft">
          {pack.series} in series, {pack.parallel} parallel · {formatFigure(pack.ratedCapacityAh, display.capacity, 1)} · {chemistries[pack.chemistry].name} · {boardTexts[pack.board]}
        </span>
      </div>
      {latest ? (
        <div className="cols wide-end">
          <section className="sheet" aria-label="Groups">
            <div className="d-flex justify-content-between flex-wrap">
              <h2>Groups, from the black lead</h2>
              <span className="soft">
                {stateTexts[latest.state]} · {format(latest.takenAt, 'd MMM HH:mm')}
                {latest.instrument && ` · ${latest.instrument}`}
              </span>
            </div>
            <GroupBars groups={latest.judgement.groups} medianV={latest.judgement.medianV} before={before?.state === latest.state ? { groupVoltagesV: before.judgement.groups.map((group) => group.voltageV), on: format(before.takenAt, 'd MMM') } : null} />
            <p className={`mb-0 ${latest.judgement.sumCheck?.agrees === false ? 'hot' : 'soft'}`}>
              {latest.judgement.sumCheck ? latest.judgement.sumCheck.text : `Sum ${formatQuantity(latest.judgement.sum, display.voltage)}; read the terminals too: the sum must agree.`}
            </p>
          </section>
          <section className="sheet lead-ember" aria-label="What the house rules say">
            {first && <p style={{ fontSize: '1.3rem', fontWeight: 700, lineHeight: 1.2 }}>{first.text}</p>}
            {more.map((says) => (
              <p key={says.text}>{says.text}</p>
            ))}
            {latest.judgement.says.some((says) => says.urgent) && (
              <p className="ask">Check count, chemistry and polarity before any charge. Never force a pack that is swollen, hot or leaking; stay with it, on a surface that does not burn.</p>
            )}
            <p className="soft mb-0">
              By the house rules <Link href="/rules">{rules.name}</Link>.
            </p>
          </section>
        </div>
      ) : (
        <section className="sheet lead-ember empty">
          <p>
            Read its {pack.series} groups from the black lead, one after the other, and the terminals after =. Insulate the probe tips: a slip across two pins can deliver hundreds of amperes.
          </p>
        </section>
      )}
      {rounds.length > 0 && (
        <section className="sheet table-scroll" tabIndex={0} aria-label="Rounds">
          <table className="table">
            <thead>
              <tr>
                <th>Read</th>
                <th>State</th>
                {Array.from({ length: pack.series }, (_, i) => (
                  <th key={i} className="num">
                    {i + 1}
                  </th>
                ))}
                <th className="num">Sum</th>
                <th className="num">Terminals</th>
                <th className="num">Spread</th>
                {latest?.judgement.groups.some((group) => group.soc) && <th className="num">Lowest charge</th>}
              </tr>
            </thead>
            <tbody>
              {standing.map((round) => {
                const socs = round.judgement.groups.flatMap((group) => group.soc ?? []);
                const lowest = socs.length > 0 ? socs.reduce((a, b) => (b.value < a.value ? b : a)) : null;
                return (
                  <tr key={round.id}>
                    <td className="num text-nowrap">{format(round.takenAt, 'd MMM HH:mm')}</td>
                    <td>{stateTexts[round.state]}</td>
                    {round.judgement.groups.map((group) => (
                      <td key={group.position} className={`num ${group.odd ? 'hot fw-bold' : ''}`}>
                        {group.odd && '◆'}
                        {group.voltageV.toFixed(3)}
                      </td>
                    ))}
                    <td className="num text-nowrap">{formatQuantity(round.judgement.sum, display.voltage)}</td>
                    <td className="num text-nowrap">{round.judgement.terminal ? formatQuantity(round.judgement.terminal, display.voltage) : '–'}</td>
                    <td className="num text-nowrap">{formatQuantity(round.judgement.spreadV, display.milliVolt)}</td>
                    {latest?.judgement.groups.some((group) => group.soc) && <td className="num">{lowest ? formatQuantity(lowest, display.charge) : '–'}</td>}
                  </tr>
                );
              })}
              {rounds.filter((round) => round.voidReason !== null).map((round) => (
                <tr key={round.id} className="soft">
                  <td className="num text-nowrap">{format(round.takenAt, 'd MMM HH:mm')}</td>
                  <td colSpan={pack.series + 5}>
                    <s className="num">{round.groupVoltagesV.map((v) => v.toFixed(3)).join(' ')}</s> void: {round.voidReason}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
      <GroupsBar shown={packContext(pack)} packs={packs.map(packContext)} instruments={voltmeters(instruments)} />
    </>
  );
}
