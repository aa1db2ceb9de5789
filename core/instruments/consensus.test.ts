import { nobodyKnowsText } from '@/words/instruments';
import fc from 'fast-check';
import { consensusOf, differenceFrom, type Opinion } from './consensus';

const opinions = (...values: [number, number][]): Opinion[] =>
  values.map(([value, u], i) => ({ of: `m${i + 1}`, instrument: `m${i + 1}`, reading: { value, u } }));

test('the one that stands alone is apart, and does not drag the reference along', () => {
  const found = consensusOf(opinions([3.801, 0.002], [3.802, 0.002], [3.8, 0.003], [3.771, 0.002]));
  expect(found).toMatchObject({ kind: 'agreed', consistent: ['m1', 'm2', 'm3'], apart: ['m4'] });
  if (found.kind === 'agreed') expect(found.reference.value).toBeCloseTo(3.8012, 3);
});

test('the weighted mean and its chi-square (Cox 2007, formulas 1 to 5, worked by hand)', () => {
  // Weights 1e4, 1e4, 2.5e3: mean (1 + 1.01 + 0.25 × 1.02)/2.25, u = 1/√22500.
  const found = consensusOf(opinions([1, 0.01], [1.01, 0.01], [1.02, 0.02]));
  expect(found).toMatchObject({
    kind: 'agreed',
    reference: { value: expect.closeTo(1.006667, 6), u: expect.closeTo(1 / 150, 9) },
    chiSquare: expect.closeTo(1, 9),
  });
});

test('of equally large subsets the most consistent one counts', () => {
  const found = consensusOf(opinions([1, 0.01], [1.001, 0.01], [1.02, 0.01], [1.045, 0.01], [1.05, 0.01]));
  expect(found).toMatchObject({ apart: ['m4', 'm5'] });
});

test.each([
  ['two only', opinions([3.8, 0.002], [3.81, 0.002]), 'Two instruments'],
  ['each for itself', opinions([3.7, 0.001], [3.75, 0.001], [3.8, 0.001]), 'No majority'],
  ['two against two', opinions([3.7, 0.001], [3.7, 0.001], [3.8, 0.001], [3.8, 0.001]), 'No majority'],
])('nobody can know with %s', (_, given, words) => {
  const consensus = consensusOf(given);
  expect(consensus.kind === 'nobody-knows' && nobodyKnowsText(consensus)).toContain(words);
});

test('a crowd too large for all subsets gives the same answer by dropping the worst', () => {
  const found = consensusOf(
    opinions(
      ...Array.from({ length: 18 }, (_, i): [number, number] => [i < 3 ? 3.9 + i / 10 : 3.8 + i / 10_000, 0.002]),
    ),
  );
  expect(found).toMatchObject({ kind: 'agreed', apart: ['m1', 'm2', 'm3'] });
});

test('one bad instrument among five good ones never moves the reference by more than their own doubt', () => {
  fc.assert(
    fc.property(fc.double({ min: -1, max: 1, noNaN: true }), (off) => {
      const found = consensusOf([
        ...opinions([3.8, 0.002], [3.801, 0.002], [3.799, 0.002], [3.8, 0.002], [3.8, 0.002]),
        { of: 'bad', instrument: 'bad', reading: { value: 3.8 + off, u: 0.002 } },
      ]);
      expect(found.kind).toBe('agreed');
      if (found.kind === 'agreed') expect(Math.abs(found.reference.value - 3.8)).toBeLessThan(0.003);
    }),
  );
});

test('the difference of a member is correlated with the reference', () => {
  const reference = { value: 3.8, u: 0.001 };
  expect(differenceFrom(reference, { value: 3.803, u: 0.002 }, true).u).toBeCloseTo(Math.sqrt(3) * 0.001, 9);
  expect(differenceFrom(reference, { value: 3.803, u: 0.002 }, false).u).toBeCloseTo(Math.sqrt(5) * 0.001, 9);
});

test('one fine meter that is wrong does not drag the reference against four coarse ones that agree', () => {
  for (const off of [0.004, 0.006, 0.01, 0.03]) {
    const found = consensusOf(
      opinions([3.8, 0.004], [3.801, 0.004], [3.799, 0.004], [3.8, 0.004], [3.8 + off, 0.0003]),
    );
    expect(found.kind).toBe('agreed');
    if (found.kind === 'agreed') expect(Math.abs(found.reference.value - 3.8)).toBeLessThan(1.96 * found.reference.u);
  }
});

test('the channels of one instrument are one witness, not four', () => {
  const channels = [3.84, 3.841, 3.839, 3.84].map((value, i) => ({
    of: `C.${i + 1}`,
    instrument: 'C',
    reading: { value, u: 0.002 },
  }));
  expect(consensusOf([...channels, ...opinions([3.8, 0.002])])).toMatchObject({ kind: 'nobody-knows' });
  expect(consensusOf([...channels, ...opinions([3.8, 0.002], [3.801, 0.002], [3.799, 0.002])])).toMatchObject({
    apart: ['C.1', 'C.2', 'C.3', 'C.4'],
  });
});

test('a channel that contradicts its instrument is apart on its own; two that contradict each other are no witness', () => {
  const channels = [3.8, 3.76].map((value, i) => ({ of: `C.${i + 1}`, instrument: 'C', reading: { value, u: 0.002 } }));
  expect(consensusOf([...channels, ...opinions([3.8, 0.002], [3.801, 0.002], [3.799, 0.002])])).toMatchObject({
    apart: ['C.2'],
    consistent: ['C.1', 'm1', 'm2', 'm3'],
  });
});
