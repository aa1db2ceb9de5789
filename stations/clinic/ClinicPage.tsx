import { firstSaid } from '@/words/packs';
import { chemistries } from '@/core/chemistry/chemistries';
import type { JudgedPack } from '@/core/judging/judgePack';
import { display, formatFigure, formatQuantity } from '@/core/quantity/format';
import { database } from '@/records/database';
import { notedWith } from '@/records/notes';
import { counted } from '@/words/counted';
import { judgedPacks, judgedWorkshop } from '@/workshop/judged';
import { Pages } from '@/ui/Pages';
import { PlusMinus } from '@/ui/PlusMinus';
import { IntakeClassMark } from '@/ui/IntakeClassMark';
import { intakeReasonText } from '@/words/intake';
import { Grounds } from '../Grounds';
import { voltmeters } from '@/core/judging/instrumentBook';
import { Link } from '@/ui/Link';
import { packContext } from './packLine';
import { PackBar } from './PackBar';
import { NewPackForm } from './NewPackForm';
import { When } from '@/ui/When';

const pageSize = 50;

/** Packs that came back, the ones that need attention first. */
export async function ClinicPage({ page, note }: { page: number; note: string | undefined }) {
  const workshop = await judgedWorkshop();
  const noted = note ? new Set(await notedWith(database(), note)) : null;
  const packs = (await judgedPacks(workshop)).filter((pack) => noted === null || noted.has(pack.id));
  packs.sort((a, b) => Number(b.isUrgent) - Number(a.isUrgent));
  const shown = packs.slice((page - 1) * pageSize, page * pageSize);
  return (
    <>
      <div className="head">
        <h1>Clinic</h1>
        <span className="soft">
          {note ? (
            <>
              {counted(packs.length, 'pack')} with “{note}” in a note · <Link href="/clinic">show all</Link>
            </>
          ) : (
            'Every group and the imbalance, never just the total.'
          )}
        </span>
      </div>
      <div className="cols">
        <section className="sheet" aria-label="Packs">
          {packs.length === 0 ? (
            <div className="empty">
              <p>
                {note
                  ? 'No pack has such a note.'
                  : 'No pack yet. Add a pack, then measure its groups from the negative terminal.'}
              </p>
            </div>
          ) : (
            <div className="table-scroll" tabIndex={0}>
              <table className="table">
                <thead>
                  <tr>
                    <th>Pack</th>
                    <th className="num">Spread</th>
                    <th>What the house rules say</th>
                    <th>Read</th>
                  </tr>
                </thead>
                <tbody>
                  {shown.map((pack) => (
                    <tr key={pack.code}>
                      <td>
                        <Link className="num fw-bold" href={`/clinic/${pack.code}`}>
                          {pack.code}
                        </Link>
                        <br />
                        {pack.name}
                        <br />
                        <span className="soft">
                          {pack.series} in series, {pack.parallel} in parallel ·{' '}
                          {formatFigure(pack.ratedCapacityAh, display.capacity, 1)} · {chemistries[pack.chemistry].name}
                        </span>
                      </td>
                      <td className="num">
                        {pack.judgement && pack.series > 1
                          ? formatQuantity(pack.judgement.spreadV, display.milliVolt)
                          : '–'}
                      </td>
                      <td>
                        {pack.apart && <>Taken apart: {pack.apart.because}. </>}
                        {pack.intake.class === 'out' && (
                          <>
                            <IntakeClassMark of="out" named />. {pack.intake.reasons.slice(0, 1).map(intakeReasonText)}
                            <br />
                          </>
                        )}
                        <FirstSaid pack={pack} />
                      </td>
                      <td className="num text-nowrap">{pack.latest && <When at={pack.latest.takenAt} as="d MMM" />}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          )}
          {packs.some((pack) => pack.judgement) && <PlusMinus />}
          <Pages
            page={page}
            total={packs.length}
            size={pageSize}
            href={(to) => `/clinic?${new URLSearchParams({ page: String(to), ...(note && { note }) })}`}
          />
        </section>
        <section className="sheet lead-ink">
          <h2>Take a pack in</h2>
          <NewPackForm />
        </section>
      </div>
      <PackBar shown={null} packs={packs.map(packContext)} meters={voltmeters(workshop.instruments)} />
    </>
  );
}

function FirstSaid({ pack }: { pack: JudgedPack }) {
  const first = firstSaid(pack);
  if (!first) return <span className="soft">not read yet</span>;
  return (
    <>
      <span className={pack.isUrgent ? 'hot' : undefined}>
        {pack.isUrgent && '◆ '}
        {first.said}
      </span>{' '}
      <Grounds rule={first.rule} code={first.code} brief />
    </>
  );
}
