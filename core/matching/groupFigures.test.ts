import { groupFigures, packFigures } from './groupFigures';

const cell = (ah: number, milliohm: number) => ({
  capacity: { value: ah, u: 0.01 },
  resistance: { value: milliohm / 1000, u: 0.001 },
});

test('hand-worked: two cells in parallel add their capacities, halve their resistance, and carry the doubt of both (GUM 5.2.2)', () => {
  const group = groupFigures([cell(2, 40), cell(2.2, 40)]);
  expect(group.capacity).toEqual({ value: 4.2, u: 0.02 });
  expect(group.resistance?.value).toBeCloseTo(0.02, 12);
  // Both off by a milliohm: 41 and 41 are 20.5 together.
  expect(group.resistance?.u).toBeCloseTo(0.0005, 12);
});

test('in series the weakest group decides, and resistances add', () => {
  const pack = packFigures([groupFigures([cell(2.2, 40)]), groupFigures([cell(2, 50)])]);
  expect(pack).toEqual({
    capacity: { value: 2, u: 0.01 },
    resistance: { value: expect.closeTo(0.09, 12), u: expect.closeTo(0.002, 12) },
  });
});

test('a cell whose capacity is not known leaves that of its group and of the pack unknown, not smaller', () => {
  const group = groupFigures([cell(2, 40), { ...cell(2, 40), capacity: null }]);
  expect(group).toEqual({ capacity: null, resistance: { value: expect.closeTo(0.02, 12), u: expect.any(Number) } });
  expect(packFigures([group, groupFigures([cell(2, 40)])])).toMatchObject({
    capacity: null,
    resistance: { u: expect.any(Number) },
  });
});
