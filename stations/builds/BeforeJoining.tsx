import type { JudgedCell } from '@/core/judging/judgeCell';
import { type Joining, joiningOf, type ToBring } from '@/core/matching/joining';
import { display, formatFigure } from '@/core/quantity/format';
import { RuleLink } from '@/stations/RuleLink';
import { Link } from '@/ui/Link';
import { hoursText, millivolts, volts, watts } from '@/words/figures';
import type { Workshop } from '@/workshop/judged';
import { notToJoin, stateNow } from '@/workshop/states';
import { sheetRefusalText } from '@/words/chargerSheets';
import { curveOf } from '@/core/state/subjectState';

interface BeforeJoiningProps {
  /** From the negative end, the cells of each group. */
  groups: readonly (readonly JudgedCell[])[];
  workshop: Workshop;
  /** The one to read next; null where all were read today, undefined where they are joined. */
  next: string | null | undefined;
}

/** Who must be brought to the others of its group before they are joined, and how. */
export function BeforeJoining({ groups, workshop, next }: BeforeJoiningProps) {
  const { joinWithinV } = workshop.rules.limits;
  const states = groups.map((cells) => cells.map((cell) => stateNow(cell, workshop)));
  const [first] = states[0] ?? [];
  const curve = first ? curveOf(first) : null;
  if (!curve) return null;
  const joined = states.map((cells) =>
    joiningOf(
      cells.flatMap(({ code, groups: [group] }) =>
        group
          ? {
              id: code,
              voltageV: group.restV?.value ?? null,
              capacityAh: group.capacity.value,
              resistanceOhm: group.resistance.value,
            }
          : [],
      ),
      curve,
      joinWithinV,
    ),
  );
  const refused = next === undefined ? [] : notToJoin(groups.flat(), workshop);
  const isEven = refused.length === 0 && joined.every(({ toBring, unread }) => toBring.length + unread.length === 0);
  return (
    <section className={isEven ? 'sheet' : 'sheet lead-ember'} aria-label="Before you join them">
      <h2>Before you join them</h2>
      {isEven && <p className="fw-bold">By the newest readings, all groups may be joined.</p>}
      {refused.map(({ code, barrier }) => (
        <p key={code} className="hot fw-bold">
          ◆ Do not join{' '}
          <Link className="num" href={`/cells/${code}`}>
            {code}
          </Link>
          . {sheetRefusalText(barrier)}
        </p>
      ))}
      {joined.map((one, g) => (
        <Group key={g} position={g + 1} joining={one} />
      ))}
      {next && (
        <p className="mb-2">
          Read next:{' '}
          <b className="num" style={{ fontSize: '1.6rem' }}>
            {next}
          </b>
        </p>
      )}
      <p>
        Cells of a group within {millivolts(joinWithinV)} of each other. <RuleLink rule="joinWithinV" />{' '}
        {next === null ? 'All were measured today.' : 'These are the last readings. Measure each cell now.'}
      </p>
      <ul className="mb-2 ps-3">
        <li>Check every polarity twice, then cover what you do not work on.</li>
        <li>Fuse the pack, and give it a board that sees every group.</li>
        <li>Keep welded pairs together.</li>
      </ul>
      <p className="soft mb-0">Local codes and licensed people decide about large or fixed batteries.</p>
    </section>
  );
}

function Group({ position, joining: { apartV, toBring, unread } }: { position: number; joining: Joining }) {
  if (toBring.length + unread.length === 0) return null;
  return (
    <div className="mb-3">
      {toBring.length > 0 && (
        <p className="hot fw-bold mb-1">
          ◆ Group {position}: {millivolts(apartV)} between its cells
        </p>
      )}
      <ul className="mb-0 ps-3">
        {toBring.map((one) => (
          <li key={one.id}>
            <Link className="num fw-bold" href={`/cells/${one.id}`}>
              {one.id}
            </Link>{' '}
            {bringText(one)}
          </li>
        ))}
        {unread.map((code) => (
          <li key={code}>
            <Link className="num fw-bold" href={`/cells/${code}`}>
              {code}
            </Link>{' '}
            has no rested voltage yet. Measure it.
          </li>
        ))}
      </ul>
    </div>
  );
}

const bringText = ({ voltageV, towardsV, surgeA, movedAh, resistorOhm, resistorW, minutes }: ToBring): string =>
  `stands at ${volts(voltageV)}: ${voltageV > towardsV ? 'drain' : 'charge'} it to ${volts(towardsV)}, about ` +
  `${formatFigure(movedAh, display.milliCapacity)}; or join it through ${resistorOhm} Ω (${watts(resistorW)}) for ` +
  `${hoursText(minutes * 60)}. Joined as it is, ${formatFigure(surgeA, display.current, 1)} would flow.`;
