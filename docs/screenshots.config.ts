import tests from '../playwright.config';

const config = { ...tests, testDir: '.', testMatch: 'screenshots.ts', workers: 1, reporter: 'list' };

export default config;
