import { countResults } from './countResults.cjs';

test('a browser test file that does not load is a failure', () => {
  expect(
    countResults({ stats: { expected: 5, flaky: 1, unexpected: 0 }, errors: [{ message: 'Cannot find module' }] }),
  ).toEqual({ passed: 6, failed: 1, names: ['Cannot find module'] });
  const specs = [
    { file: 'walk.spec.ts', line: 7, title: 'a box', ok: false },
    { file: 'walk.spec.ts', line: 9, title: 'a pack', ok: true },
  ];
  expect(
    countResults({ stats: { expected: 5, flaky: 0, unexpected: 1 }, errors: [], suites: [{ suites: [{ specs }] }] }),
  ).toEqual({ passed: 5, failed: 1, names: ['walk.spec.ts:7: a box'] });
});

test('so is a unit test file that does not load', () => {
  const testResults = [
    { name: 'a.test.ts', status: 'failed', assertionResults: [{ status: 'failed', fullName: 'counts' }] },
    { name: 'b.test.ts', status: 'failed', assertionResults: [] },
    { name: 'c.test.ts', status: 'passed', assertionResults: [{ status: 'passed', fullName: 'adds' }] },
  ];
  expect(countResults({ numPassedTests: 9, numFailedTests: 1, numRuntimeErrorTestSuites: 1, testResults })).toEqual({
    passed: 9,
    failed: 2,
    names: ['a.test.ts: counts', 'b.test.ts'],
  });
});
