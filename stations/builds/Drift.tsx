'use client';

import { cycleDrift } from '@/core/simulation/cycleDrift';
import { display, formatQuantity } from '@/core/quantity/format';
import type { KnownCell } from '@/core/simulation/predictRun';
import { HandbookLink } from '@/stations/Grounds';
import { Field } from '@/ui/Field';
import { Link } from '@/ui/Link';
import { groupName } from '@/words/packs';
import { counted } from '@/words/counted';
import { driftText } from './buildWords';
import { useState } from 'react';

const cycles = 100;

interface DriftProps {
  groups: readonly (readonly string[])[];
  known(code: string): KnownCell | undefined;
}

/**
 * How far the groups drift apart over a hundred cycles, with balancing and without, as far as self-discharge tests
 * tell.
 */
export function Drift({ groups, known }: DriftProps) {
  const [days, setDays] = useState('7');
  const [bleed, setBleed] = useState('0.1');
  const figure = (text: string): number => Number(text.replace(',', '.'));
  const cells = groups.map((codes) => codes.flatMap((code) => known(code) ?? []));
  if (groups.length < 2) return null;
  const unheld = groups.flat().filter((code) => !known(code)?.leak);
  const isAsked = figure(days) > 0 && figure(bleed) > 0;
  // Cells that another build took meanwhile are not known here any more.
  const drift =
    isAsked && unheld.length === 0
      ? cycleDrift({
          groups: cells.map((own) => own.map(({ capacity, leak = null }) => ({ capacityAh: capacity.value, leak }))),
          cycles,
          daysPerCycle: figure(days),
        })
      : null;
  return (
    <section className="sheet mb-3" aria-label={`Over ${cycles} cycles`}>
      <h2>Over {cycles} cycles</h2>
      <div className="fields mb-2">
        <Field name="days" label="Days between charges" defaultValue={days} onChange={setDays} figures />
        <Field name="bleed" label="Its balancing takes, A" defaultValue={bleed} onChange={setBleed} figures />
      </div>
      {unheld.length > 0 && (
        <p className="mb-0">
          How far its groups drift is not known: {counted(unheld.length, 'cell')} of {groups.flat().length} has no
          result of a self-discharge test. <Link href="/self-discharge">Test them</Link>
        </p>
      )}
      {!isAsked && <p className="ask mb-0">Both are above zero.</p>}
      {drift && (
        <>
          <p className="headline">{driftText(drift, figure(bleed), cycles)}</p>
          <dl className="settings mb-2">
            {drift.byGroup.map((fraction, g) => (
              <div key={g}>
                <dt>{groupName(g + 1, groups.length)}</dt>
                <dd style={{ fontSize: '1.1rem' }}>{formatQuantity(fraction, display.charge)}</dd>
              </div>
            ))}
          </dl>
          <p className="soft mb-0">
            Change of charge against the other groups, without balancing. It assumes the self-discharge measured in the
            tests, at the same temperature, and equal ageing.{' '}
            <HandbookLink page="group-drift">how it is computed</HandbookLink>
          </p>
        </>
      )}
    </section>
  );
}
