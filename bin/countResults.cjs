/**
 * Passed and failed of a test runner's report, and the names of what failed: Jest's, or Playwright's, whose files that
 * do not load are errors beside its tests.
 */
function countResults(report) {
  const { stats, errors = [], suites = [], testResults = [] } = report;
  if (stats)
    return {
      passed: stats.expected + stats.flaky,
      failed: stats.unexpected + errors.length,
      names: [...suites.flatMap(failedIn), ...errors.map(({ message }) => message)],
    };
  return {
    passed: report.numPassedTests,
    failed: report.numFailedTests + report.numRuntimeErrorTestSuites,
    names: testResults
      .filter(({ status }) => status === 'failed')
      .flatMap(({ name, assertionResults }) => {
        const failed = assertionResults.filter(({ status }) => status === 'failed');
        return failed.length === 0 ? [name] : failed.map(({ fullName }) => `${name}: ${fullName}`);
      }),
  };
}

const failedIn = ({ suites = [], specs = [] }) => [
  ...specs.filter(({ ok }) => !ok).map(({ file, line, title }) => `${file}:${line}: ${title}`),
  ...suites.flatMap(failedIn),
];

module.exports = { countResults };

if (require.main === module) {
  const { passed, failed, names } = countResults(JSON.parse(require('node:fs').readFileSync(process.argv[2], 'utf8')));
  console.log([`${passed} ${failed}`, ...names].join('\n'));
}
