import { e24 } from '../capacity/resistorPlan';
import { openCircuitOf } from '../chemistry/openCircuit';
import { PackState } from '../simulation/packState';
import { type JoinCell, joiningOf } from './joining';

const curve = openCircuitOf('li-ion');
const cell = (id: string, voltageV: number | null, more: Partial<JoinCell> = {}): JoinCell => ({
  id,
  voltageV,
  capacityAh: 2,
  resistanceOhm: 0.05,
  ...more,
});

test('cells within what is allowed need nothing (common practice: 10 to 20 mV)', () => {
  expect(joiningOf([cell('a', 3.71), cell('b', 3.725), cell('c', 3.72)], curve, 0.015)).toEqual({
    apartV: expect.closeTo(0.015, 9),
    toBring: [],
    unread: [],
  });
});

test('the one that stands apart: what would flow, to where, how much, through which resistor for how long', () => {
  const { apartV, toBring } = joiningOf([cell('a', 3.71), cell('b', 3.712), cell('c', 3.81)], curve, 0.015);
  expect(apartV).toBeCloseTo(0.1, 9);
  expect(toBring).toHaveLength(1);
  const [c] = toBring;
  expect(c).toMatchObject({ id: 'c', towardsV: 3.712, voltageV: 3.81 });
  // Ohm's law: 98 mV over 50 mΩ and two of 50 mΩ beside each other.
  expect(c?.surgeA).toBeCloseTo(0.098 / 0.075, 6);
  expect(c?.movedAh).toBeGreaterThan(0.2);
  const decades = e24.map((value) => Math.log10((c?.resistorOhm ?? 0) / value));
  expect(decades.some((decade) => Math.abs(decade - Math.round(decade)) < 1e-9)).toBe(true);
  // At no more than 0.1C to begin with.
  expect(0.098 / (c?.resistorOhm ?? 0)).toBeLessThanOrEqual(0.2);
});

test('the time through the resistor is that of the simulated pair, within a tenth', () => {
  const [low, high] = [cell('a', 3.71), cell('b', 3.81)];
  const { toBring } = joiningOf([low, high], curve, 0.015);
  const progress = toBring.find(({ id }) => id === 'b');
  // Both move towards each other; the middle lies half way.
  expect(progress?.towardsV).toBeCloseTo(3.76, 9);
  const ohm = progress?.resistorOhm ?? NaN;
  const runCell = ({ voltageV, capacityAh, resistanceOhm }: JoinCell, extra: number) => ({
    curve,
    capacityAh,
    soc: curve.socAt({ value: voltageV ?? NaN, u: 0 }).value,
    ohmicOhm: resistanceOhm + extra,
    branches: [],
  });
  const state = new PackState([[runCell(low, 0), runCell(high, ohm)]]);
  const apart = () => curve.voltageAt(state.soc[1] as number) - curve.voltageAt(state.soc[0] as number);
  let seconds = 0;
  // Each ends half of what is allowed from the mean.
  while (apart() > 0.015) {
    state.lookAhead(5);
    state.moveOn(0);
    seconds += 5;
  }
  expect(seconds / 60 / (progress?.minutes ?? NaN)).toBeGreaterThan(0.9);
  expect(seconds / 60 / (progress?.minutes ?? NaN)).toBeLessThan(1.1);
});

test('who was not read is named, and judged by nobody', () => {
  expect(joiningOf([cell('a', 3.7), cell('b', null)], curve, 0.015)).toEqual({ apartV: 0, toBring: [], unread: ['b'] });
});
