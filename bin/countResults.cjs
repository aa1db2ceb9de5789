/**
 * Passed and failed of a test runner's report: Jest's, or Playwright's, whose files that do not load are errors beside
 * its tests.
 */
function countResults(report) {
  const { stats, errors = [] } = report;
  if (stats) return { passed: stats.expected + stats.flaky, failed: stats.unexpected + errors.length };
  return { passed: report.numPassedTests, failed: report.numFailedTests + report.numRuntimeErrorTestSuites };
}

module.exports = { countResults };

if (require.main === module) {
  const { passed, failed } = countResults(JSON.parse(require('node:fs').readFileSync(process.argv[2], 'utf8')));
  console.log(passed, failed);
}
