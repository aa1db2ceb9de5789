import { display, formatFigure } from '@/core/quantity/format';
import { isPack, type JudgedSubject } from '@/core/judging/subject';
import { Link } from '@/ui/Link';
import { StatusMark } from '@/ui/StatusMark';
import { addressOf } from '@/ui/tokens';
import { buildText } from '../subject/buildText';

/** Packs, and the cells in their places, batch by batch, as they lie on the bench. */
export function ShelfTray({ subjects }: { subjects: JudgedSubject[] }) {
  const placeOf = (one: JudgedSubject): string => (isPack(one) ? 'Packs' : one.batchCode);
  return [...new Set(subjects.map(placeOf))].map((place) => (
    <section key={place} className="mb-3" aria-label={place === 'Packs' ? place : `Batch ${place}`}>
      <h2>{place}</h2>
      <ol className="tray named">
        {subjects
          .filter((one) => placeOf(one) === place)
          .map((one) => (
            <li key={one.code}>
              <Link href={addressOf(one.code)}>
                <span>
                  <b className="num">{one.code}</b> <StatusMark of={one.standing} />
                </span>
                {isPack(one) && <span className="num soft">{buildText(one)}</span>}
                <span className="num soft">
                  {one.capacity
                    ? `${one.capacityIsAtLeast ? '≥ ' : ''}${formatFigure(one.capacity.value, display.capacity, 2)}`
                    : '– Ah'}
                </span>
                <span className="num soft">
                  {one.resistance ? formatFigure(one.resistance.value, display.resistance) : '– mΩ'}
                </span>
              </Link>
            </li>
          ))}
      </ol>
    </section>
  ));
}
