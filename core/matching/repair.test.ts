import { type Fit, fitsOf, type RepairRequest, type Spare } from './repair';

const known = (ah: number, ohm: number) => ({
  capacity: { value: ah, u: 0.01 },
  resistance: { value: ohm, u: 0.001 },
});
const spare = (id: string, ah: number, ohm: number, bond?: string): Spare => ({
  id,
  voltageV: 3.7,
  ...known(ah, ohm),
  bond,
});
const sparesOf = ({ groups }: Fit): Spare[] => groups.flatMap((group) => group.spares);
const others = [4.1, 4.3, 4.2].map((value) => ({ value, u: 0.02 }));
const request: RepairRequest = {
  others,
  kept: [known(2.1, 0.035)],
  places: 1,
  groups: 1,
  neighbourOhm: 0.035,
  sharingTimes: 1.5,
  spares: [
    spare('weak', 1.7, 0.035),
    spare('strong', 2.6, 0.03),
    spare('alike', 2.1, 0.036),
    // A pack of 0.03 to 0.04 Ω tolerates no 0.10 Ω. Common practice.
    spare('tired', 2.2, 0.1),
    spare('half', 2.2, 0.035, 'w'),
  ],
};

test('the one most like its neighbours that holds enough comes first; then what falls short, and why', () => {
  const fits = fitsOf(request);
  expect(fits.map(({ groups, short }) => [groups[0]?.spares[0]?.id, short])).toEqual([
    ['alike', null],
    ['strong', null],
    ['weak', 'capacity'],
    ['tired', 'resistance'],
  ]);
  expect(fits[0]?.packAh?.value).toBeCloseTo(4.1, 9);
  expect(fits[2]?.packAh?.value).toBeCloseTo(3.8, 9);
  expect(fits[3]?.ohmTimes).toBeCloseTo(0.1 / 0.035, 9);
});

test('a whole group: sets of other cells each, welded pairs whole, as much as is needed and not more', () => {
  const spares = [
    ...Array.from({ length: 6 }, (_, i) => spare(`c${i}`, 2.1 + 0.05 * i, 0.035)),
    spare('p1', 2.3, 0.035, 'w'),
    spare('p2', 2.3, 0.035, 'w'),
  ];
  const fits = fitsOf({ ...request, kept: [], places: 2, spares });
  const used = fits.flatMap((fit) => sparesOf(fit).map(({ id }) => id));
  expect(new Set(used).size).toBe(used.length);
  expect(fits).toHaveLength(4);
  expect(fits.every(({ short, packAh }) => short === null && packAh?.value === 4.1)).toBe(true);
  const pair = fits.find((fit) => sparesOf(fit).some(({ id }) => id === 'p1'));
  expect(
    pair &&
      sparesOf(pair)
        .map(({ id }) => id)
        .sort(),
  ).toEqual(['p1', 'p2']);
});

test('of less resistance than its neighbours a whole group may be, a cell among others may not', () => {
  const spares = [spare('quick', 2.2, 0.015), spare('quick too', 2.2, 0.015)];
  expect(fitsOf({ ...request, spares: spares.slice(1) })[0]?.short).toBe('resistance');
  expect(fitsOf({ ...request, kept: [], places: 2, spares })[0]?.short).toBeNull();
});

test('what is not known is not told: a pack with an unread group, neighbours without a resistance', () => {
  const [fit] = fitsOf({ ...request, others: [null, ...others], neighbourOhm: null });
  expect(fit).toMatchObject({ packAh: null, ohmTimes: null, short: null });
  expect(fitsOf({ ...request, others: [null], spares: [] })).toEqual([]);
  // Three places, and pairs alone.
  const pairs = ['a', 'b', 'c', 'd'].map((id, i) => spare(id, 2.2, 0.035, `w${i >> 1}`));
  expect(fitsOf({ ...request, kept: [], places: 3, spares: pairs })).toEqual([]);
});

test('two groups at once: each strong enough, of other cells, and the pack by the weaker of them', () => {
  const spares = Array.from({ length: 9 }, (_, i) => spare(`c${i}`, 1.9 + 0.05 * i, 0.035));
  const fits = fitsOf({ ...request, kept: [], places: 2, groups: 2, spares });
  expect(fits).toHaveLength(2);
  const [first] = fits;
  expect(first?.groups.map((group) => group.spares.length)).toEqual([2, 2]);
  expect(new Set(fits.flatMap(sparesOf)).size).toBe(8);
  expect(first?.short).toBeNull();
  expect(first?.packAh?.value).toBe(4.1);
  const weaker = Math.min(...(fits[1]?.groups ?? []).map(({ capacity }) => capacity?.value ?? NaN));
  expect(fits[1]?.packAh?.value).toBeCloseTo(Math.min(4.1, weaker), 9);
  expect(fitsOf({ ...request, kept: [], places: 2, groups: 2, spares: spares.slice(0, 3) })).toEqual([]);
});
