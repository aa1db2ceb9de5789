import { countResults } from './countResults.cjs';

test('a browser test file that does not load is a failure', () => {
  expect(
    countResults({ stats: { expected: 5, flaky: 1, unexpected: 0 }, errors: [{ message: 'Cannot find module' }] }),
  ).toEqual({ passed: 6, failed: 1 });
  expect(countResults({ stats: { expected: 5, flaky: 0, unexpected: 2 }, errors: [] })).toEqual({
    passed: 5,
    failed: 2,
  });
});

test('so is a unit test file that does not load', () => {
  expect(countResults({ numPassedTests: 9, numFailedTests: 1, numRuntimeErrorTestSuites: 1 })).toEqual({
    passed: 9,
    failed: 2,
  });
});
