const shared = {
  // Property tests draw the same cases every time: a red build can be repeated.
  setupFiles: ['<rootDir>/core/propertySeed.ts'],
  testEnvironment: 'node',
  // Jest looks a global up again wherever it is named, which costs more than all arithmetic in a loop of figures.
  sandboxInjectedGlobals: ['Math', 'Infinity', 'Number', 'Array', 'Object', 'Float64Array', 'Map', 'Set', 'Error'],
  transform: {
    '^.+\\.[jt]sx?$': ['@swc/jest', { jsc: { target: 'es2022', parser: { syntax: 'typescript', tsx: true } } }],
  },
  transformIgnorePatterns: [
    '/node_modules/(?!(pure-rand|date-fns|ml-[a-z-]+|is-any-array|hyparquet|hyparquet-writer|fzstd|hysnappy)/)',
  ],
  // The marker that keeps server modules out of the browser has no meaning here.
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/$1', '^server-only$': '<rootDir>/node_modules/server-only/empty.js' },
  modulePathIgnorePatterns: ['<rootDir>/\\.next'],
};

const config = {
  // A busy machine is no failure: what hangs is ended all the same.
  testTimeout: 300_000,
  projects: [
    {
      ...shared,
      displayName: 'unit',
      testMatch: ['<rootDir>/{bin,core,words,stations,ui,workers,demo,http,workshop,truth}/**/!(*.db).test.ts'],
    },
    {
      ...shared,
      displayName: 'records',
      globalSetup: '<rootDir>/records/templateMade.ts',
      globalTeardown: '<rootDir>/records/templateGone.ts',
      testMatch: ['<rootDir>/records/**/*.test.ts', '<rootDir>/{stations,workshop,http}/**/*.db.test.ts'],
    },
  ],
};

export default config;
