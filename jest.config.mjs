const shared = {
  testEnvironment: 'node',
  transform: { '^.+\\.tsx?$': ['@swc/jest', { jsc: { target: 'es2022', parser: { syntax: 'typescript', tsx: true } } }] },
  transformIgnorePatterns: ['/node_modules/(?!(pure-rand|date-fns)/)'],
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/$1' },
  modulePathIgnorePatterns: ['<rootDir>/\\.next'],
};

const config = {
  projects: [
    { ...shared, displayName: 'unit', testMatch: ['<rootDir>/{core,stations,ui,workers,demo}/**/*.test.ts'] },
    { ...shared, displayName: 'records', testMatch: ['<rootDir>/records/**/*.test.ts'] },
  ],
};

export default config;
