import tests from '../playwright.config';

export default { ...tests, testDir: '.', testMatch: 'screenshots.ts', workers: 1, reporter: 'list' };
