import { presetRules } from '../chemistry/houseRules';
import { type Aged, endOfLife } from './endOfLife';

const rules = presetRules('workshop');
const young: Aged = {
  findings: [],
  capacity: { value: 3.9, u: 0.05 },
  capacityIsAtLeast: false,
  asNewAh: 4,
  isNewMeasured: true,
  amongGroups: null,
  held: null,
  rescues: 0,
  imbalancesV: [0.01, 0.02, 0.01, 0.015, 0.01],
  balancedH: 0.5,
  servedS: [590, 600],
  isRepairable: false,
};
const judged = (change: Partial<Aged>) => {
  const { signs, verdict } = endOfLife({ ...young, ...change }, rules);
  return [verdict, ...signs.map(({ code, weight }) => `${code} ${weight}`)];
};

test('a sound pack has no signs; one that swells or leaks is at its end', () => {
  expect(judged({})).toEqual(['serves']);
  expect(judged({ findings: ['swollen'] })).toEqual(['retire', 'swollen end']);
  expect(judged({ held: { verdict: 'leaks' } })).toEqual(['retire', 'leaks end']);
});

// Common practice: 80 % leaves the demanding duty, 70 % leaves service; from ten minutes to seven.
test('what it holds and for how long it serves weigh by how far they fell, beyond their doubt', () => {
  const selfDischarges = (ah: number) => judged({ capacity: { value: ah, u: 0.05 } });
  expect(selfDischarges(3.15)).toEqual(['serves']);
  expect(selfDischarges(3.0)).toEqual(['serves', 'worn light']);
  expect(selfDischarges(2.6)).toEqual(['light-duty', 'worn heavy']);
  expect(selfDischarges(1.8)).toEqual(['retire', 'worn end']);
  expect(judged({ capacity: { value: 1.8, u: 0.05 }, capacityIsAtLeast: true })).toEqual(['serves']);
  expect(judged({ servedS: [420, 500, 600] })).toEqual(['light-duty', 'serves-shorter heavy']);
  expect(judged({ servedS: [430, 600] })).toEqual(['serves']);
});

test('always uneven, hours of balancing, a resistance far off or risen: three that weigh end it', () => {
  const uneven = [0.05, 0.06, 0.04, 0.05, 0.01];
  expect(judged({ imbalancesV: uneven })).toEqual(['light-duty', 'always-uneven heavy']);
  expect(judged({ imbalancesV: uneven.slice(0, 3) })).toEqual(['serves']);
  expect(judged({ balancedH: 4, rescues: 1 })).toEqual(['serves', 'long-balancing light', 'rescued light']);
  const amongGroups: Aged['amongGroups'] = {
    groups: [
      { position: 2, resistance: { value: 0.02, u: 0.001 }, timesMedian: 2.9, timesFirst: null, level: 'failing' },
    ] as never,
    says: [{ code: 'risen', positions: [1], times: 2.2, urgent: false }] as never,
  };
  expect(judged({ amongGroups })).toEqual(['light-duty', 'group-far heavy', 'risen heavy']);
  expect(judged({ amongGroups, imbalancesV: uneven })[0]).toBe('retire');
  // One bad group may be all of it: that is replaced first, unless something ends it whatever is replaced.
  expect(judged({ amongGroups, imbalancesV: uneven, isRepairable: true })[0]).toBe('repair-first');
  expect(judged({ amongGroups, findings: ['swollen'], isRepairable: true })[0]).toBe('retire');
});
