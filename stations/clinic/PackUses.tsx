import { chemistries } from '@/core/chemistry/chemistries';
import type { HouseRules } from '@/core/chemistry/houseRules';
import type { JudgedPack } from '@/core/judging/judgePack';
import { display, formatFigure, formatQuantity } from '@/core/quantity/format';
import { heatW, highestCurrentA, sagV } from '@/core/resistance/uses';
import { AtCurrent } from '../AtCurrent';
import { RuleLink } from '../RuleLink';

/** What the resistances of a pack mean in use: of the whole, and of the group that gives in first. */
export function PackUses({ pack, amps, rules }: { pack: JudgedPack; amps: number; rules: HouseRules }) {
  const newest = pack.resistanceTimes.find(({ whole, sum }) => whole ?? sum);
  const whole = newest?.whole ?? newest?.sum;
  if (!newest || !whole) return null;
  const { nominalV } = chemistries[pack.chemistry];
  const worst = newest.groups.toSorted((a, b) => b.resistance.value - a.resistance.value)[0];
  const groupSag = rules.sagShare * nominalV;
  // Without figures of the groups each is taken to have its share.
  const limiting = worst?.resistance ?? newest.perGroup;
  return (
    <section className="sheet mb-3" aria-label="In use">
      <AtCurrent amps={amps} />
      <p className="mb-0 mt-2">
        By its newest figure, {formatQuantity(whole, display.resistance)} from end to end: at {amps} A it sags{' '}
        {formatQuantity(sagV(amps, whole), display.voltage)} and turns{' '}
        {formatQuantity(heatW(amps, whole), { unit: 'W', factor: 1, decimals: 2 })} into heat.{' '}
        {worst &&
          newest.groups.length > 1 &&
          `Group ${worst.position} gives in first: of that it sags ` +
            `${formatQuantity(sagV(amps, worst.resistance), display.milliVolt)} and gets ` +
            `${formatQuantity(heatW(amps, worst.resistance), { unit: 'W', factor: 1, decimals: 2 })}. `}
        {limiting &&
          `${worst ? 'That group' : 'A group'} sags by ${Math.round(rules.sagShare * 100)} % ` +
            `(${formatFigure(groupSag, display.milliVolt)}) at ` +
            `${formatQuantity(highestCurrentA(groupSag, limiting), display.current)}.`}{' '}
        <RuleLink rule="sagShare" /> A figure told by a charger holds for its own rate and minute; a load of ten seconds
        may show more.
      </p>
    </section>
  );
}
