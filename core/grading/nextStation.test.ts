import type { DutyVerdict } from './duty';
import type { IntakeVerdict } from './intake';
import { nextStation } from './nextStation';

const intake = (of: IntakeVerdict['class']): IntakeVerdict => ({ class: of, reasons: [], missing: [], unsafe: false });
const duty = (of: DutyVerdict['duty'], missing: DutyVerdict['missing'] = []): DutyVerdict => ({
  duty: of,
  missing,
  health: null,
  rateC: null,
  checks: [],
  isAtLeast: false,
  measureAgain: null,
  because: { code: 'meets-all' },
});

test.each([
  [intake(null), duty(null, ['capacity', 'resistance']), false, 'intake'],
  [intake('usable'), duty(null, ['capacity', 'resistance']), false, 'resistance'],
  [intake('usable'), duty(null, ['capacity']), false, 'capacity'],
  [intake('usable'), duty('steady'), false, 'shelf'],
  [intake('usable'), duty('steady'), true, 'build'],
  [intake('rescue-only'), duty(null), false, 'rescue'],
  [intake('out'), duty(null), true, 'out'],
] as const)('case %#', (intakeVerdict, dutyVerdict, inBuild, expected) => {
  expect(nextStation(intakeVerdict, dutyVerdict, { inBuild, putAway: false })).toBe(expected);
  expect(nextStation(intakeVerdict, dutyVerdict, { inBuild, putAway: true })).toBe('put-away');
});
