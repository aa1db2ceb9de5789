import { curveOfMake } from '../chemistry/openCircuit';
import { bareBench } from './equipment';
import type { JudgedCell } from './judgeCell';
import {
  anyModel,
  candidatesOf,
  choicesOf,
  free,
  measuredOf,
  notYet,
  type PackNeed,
  ratedTogetherAh,
  sparesFor,
} from './candidates';

const cell = (code: string, change: Partial<JudgedCell> | { duty: { duty: string } } = {}): JudgedCell =>
  ({
    code,
    maker: 'Quillon',
    model: 'Q18',
    chemistry: 'li-ion',
    bond: null,
    weldedTo: [],
    waits: 'shelf',
    intake: { class: 'usable' },
    duty: { duty: 'steady' },
    capacity: { value: 2.2, u: 0.01 },
    resistance: { value: 0.05, u: 0.001 },
    ...change,
  }) as JudgedCell;
const need: PackNeed = {
  model: 'Quillon Q18',
  duty: 'steady',
  series: 2,
  parallel: 2,
  enoughAh: null,
  without: [],
  pins: [],
  load: null,
  minutes: null,
  lowestV: null,
};
const codes = (cells: readonly { id: string }[]) => cells.map((one) => one.id);

const shelf = [
  cell('A1-001'),
  cell('A1-002', { duty: { duty: 'surge' } }),
  cell('A1-003', { duty: { duty: 'light' } }),
  cell('A1-004', { duty: { duty: 'retire' } }),
  cell('A1-005', { waits: 'build' }),
  cell('A1-006', { model: 'Q21' }),
  cell('A1-007', { resistance: null }),
  cell('A1-008', { bond: 'A1/w1' }),
];

test('a match chooses among free cells of the model, of that duty or better', () => {
  expect(codes(candidatesOf(shelf, need))).toEqual(['A1-001', 'A1-002', 'A1-008']);
  expect(codes(candidatesOf(shelf, { ...need, duty: 'surge' }))).toEqual(['A1-002']);
  expect(codes(candidatesOf(shelf, { ...need, duty: 'light' }))).toEqual(['A1-001', 'A1-002', 'A1-003', 'A1-008']);
  expect(candidatesOf(shelf, { ...need, model: 'Quillon Q99' })).toEqual([]);
  expect(codes(candidatesOf(shelf, { ...need, without: ['A1-002'] }))).toEqual(['A1-001', 'A1-008']);
});

test('what a match needs of each goes along, its bond where it is welded', () => {
  expect(candidatesOf(shelf, need)[0]).toEqual({
    id: 'A1-001',
    model: 'Quillon Q18',
    capacityAh: 2.2,
    capacityU: 0.01,
    resistanceOhm: 0.05,
  });
  expect(candidatesOf(shelf, need)[2]).toMatchObject({ bond: 'A1/w1' });
});

test('models come with their free cells, the most plentiful first', () => {
  expect(choicesOf(free(shelf), 1)).toEqual([
    { name: 'Quillon Q18', count: 4 },
    { name: 'Quillon Q21', count: 1 },
  ]);
});

test('what would make the choice larger: figures that are missing, builds that hold some', () => {
  const more = [...shelf, cell('A1-009', { capacity: null }), cell('A1-010', { capacityIsAtLeast: true })];
  expect(notYet(more, need)).toEqual({ withoutCapacity: 2, withoutResistance: 1, held: 1 });
});

test('spares for a pack are free, of its chemistry, and rated as its cells are', () => {
  const rated = (code: string, ratedCapacityAh: number, chemistry = 'li-ion') =>
    cell(code, { ratedCapacityAh, chemistry: chemistry as JudgedCell['chemistry'], voltageV: 3.7 });
  const cells = [rated('A1-001', 2.5), rated('A1-002', 3.2), rated('A1-003', 2.5, 'lfp'), rated('A1-004', 2.2)];
  const pack = { chemistry: 'li-ion' as const, ratedCapacityAh: 4.8, parallel: 2 };
  expect(codes(sparesFor(pack, cells))).toEqual(['A1-001', 'A1-004']);
  // A group of smaller cells than the rest takes spares like its own.
  expect(codes(sparesFor(pack, [cell('A1-009', { ratedCapacityAh: 1.4 })], [{ ratedCapacityAh: 1.5 }]))).toEqual([
    'A1-009',
  ]);
  expect(sparesFor(pack, cells)[0]).toMatchObject({ voltageV: 3.7, capacity: { value: 2.2 }, bond: undefined });
});

test('any model of a chemistry is a choice where the house lets several into one pack', () => {
  const any = anyModel('li-ion');
  expect(choicesOf(free(shelf), 1).map(({ name }) => name)).toEqual(['Quillon Q18', 'Quillon Q21']);
  expect(choicesOf(free(shelf), 2).at(-1)).toEqual({ name: any, count: 5 });
  const chosen = candidatesOf(shelf, { ...need, model: any });
  expect(chosen.map(({ id, model }) => [id, model])).toContainEqual(['A1-006', 'Quillon Q21']);
  expect(codes(chosen)).toEqual(['A1-001', 'A1-002', 'A1-006', 'A1-008']);
});

test('what a cell loses within goes along where a self-discharge test told its drift', () => {
  const curves = { ...bareBench.curves, of: () => curveOfMake('mixed-oxide') };
  const held = { drift: { value: -0.002, u: 0.0001 }, aboutV: 3.9 } as JudgedCell['held'];
  const measured = measuredOf([cell('A1-001', { held }), cell('A1-002')], ['A1-001', 'A1-002'], curves);
  expect(measured['A1-002']?.leak).toBeNull();
  const leak = measured['A1-001']?.leak;
  // A twentieth of its drift's uncertainty is its own; the curve's is larger.
  expect(leak?.ownU).toBeCloseTo(0.05 * (leak?.currentA.value ?? NaN), 12);
  expect(leak?.currentA.u).toBeGreaterThan(leak?.ownU ?? NaN);
});

test('a pack of two models is rated by its weaker group, whichever comes first', () => {
  const [large, small] = [{ ratedCapacityAh: 3 }, { ratedCapacityAh: 2.2 }];
  expect(
    ratedTogetherAh([
      [large, large],
      [small, small],
    ]),
  ).toBeCloseTo(4.4, 12);
  expect(
    ratedTogetherAh([
      [small, small],
      [large, large],
    ]),
  ).toBeCloseTo(4.4, 12);
});
