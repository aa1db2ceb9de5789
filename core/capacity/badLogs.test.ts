import { refusalOf } from '@/words/impossible';
import { warningText } from '@/words/warnings';
import { createDischargeMeter } from './discharge';
import { createByteLog } from './logBytes';

const heading = 'Time (s),Voltage (V),Current (A)';
const times = Array.from({ length: 400 }, (_, i) => i * 10);
const voltsAt = (t: number): string => (4.1 - 1.4 * Math.min(1, t / 3600)).toFixed(3);
const rowAt = (t: number): string => `${t},${voltsAt(t)},1.000`;
const rows = times.map(rowAt);

function read(lines: readonly string[]) {
  const meter = createDischargeMeter({ load: { kind: 'column' }, cutoffV: 2.8 });
  const log = createByteLog((sample) => meter.push(sample));
  log.push(Buffer.from(lines.join('\n')));
  const { voltageStepV, currentStepA, warnings } = log.finish();
  const result = meter.finish(voltageStepV, currentStepA);
  return { ...result, said: [...warnings, ...result.warnings].map(warningText).join(' ') };
}
const refused = (lines: readonly string[]) => refusalOf(() => read(lines));
const whole = read([heading, ...rows]).capacityAh.value;

test('columns that change places in the middle are refused, with the row', () => {
  const swapped = times.map((t, i) => (i < 200 ? rowAt(t) : `${t},1.000,${voltsAt(t)}`));
  expect(refused([heading, ...swapped])).toContain('From row 202 on columns 2 and 3');
  // A current that happens to be as large as the voltage is no such thing.
  const alike = times.map((t) => `${t},${voltsAt(t)},${voltsAt(t)}`);
  expect(read([heading, ...alike]).reachedCutoff).toBe(true);
});

test('two logs in one file: of the same columns the first that ends counts, of others nothing does', () => {
  const again = read([heading, ...rows, heading, ...rows]);
  expect(again.capacityAh.value).toBeCloseTo(whole, 6);
  expect(again.said).toContain('The heading is repeated at row 402');
  const other = times.map((t) => `${voltsAt(t)},1.000,${t}`);
  expect(refused([heading, ...rows, 'Voltage (V),Current (A),Time (s)', ...other])).toContain('Row 402');
});

test('times that run backwards are refused; a clock that starts again is not', () => {
  expect(refused([heading, ...rows.toReversed()])).toContain('run backwards');
  expect(read([heading, ...times.map((t) => `${t % 1000},${voltsAt(t)},1.000`)]).said).toContain('The clock went back');
});

test('a charge is no discharge; a file cut in the middle of a row keeps what it holds', () => {
  const charge = times.map((t) => `${t},${(3.2 + (0.9 * t) / 4000).toFixed(3)},1.000`);
  expect(read([heading, ...charge])).toMatchObject({
    capacityAh: { value: 0 },
    said: expect.stringContaining('No discharge is in this log'),
  });
  const cut = [heading, ...rows].join('\n').slice(0, -9);
  expect(read([cut]).capacityAh.value).toBeCloseTo(whole, 3);
});

test('decimal points and commas mixed in one file are read alike', () => {
  const mixed = times.map((t, i) => {
    const row = rowAt(t).replaceAll(',', ';');
    return i % 2 === 0 ? row : row.replaceAll('.', ',');
  });
  expect(read([heading.replaceAll(',', ';'), ...mixed]).capacityAh.value).toBeCloseTo(whole, 6);
});
