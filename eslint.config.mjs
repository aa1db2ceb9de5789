import nextVitals from 'eslint-config-next/core-web-vitals';
import tseslint from 'typescript-eslint';

/** Which rooms a room may import from: the arrows of the house point one way. */
const open = {
  core: [],
  words: ['core'],
  records: ['core'],
  workshop: ['core', 'words', 'records'],
  ui: ['core', 'words'],
  stations: ['core', 'words', 'records', 'workshop', 'ui', 'workers'],
  http: ['core', 'words', 'records', 'workshop'],
  app: ['stations', 'http', 'ui'],
  workers: ['core', 'words'],
  truth: ['core', 'words'],
  demo: ['core', 'words', 'records', 'workshop'],
};
const allRooms = [...Object.keys(open), 'bench', 'e2e'];
const closed = Object.fromEntries(
  Object.entries(open).map(([room, to]) => [room, allRooms.filter((other) => other !== room && !to.includes(other))]),
);

const rooms = Object.entries(closed).map(([room, others]) => ({
  files: [`${room}/**/*.{ts,tsx}`],
  rules: {
    '@typescript-eslint/no-restricted-imports': [
      'error',
      {
        patterns: [
          { regex: `^@/(${others.join('|')})(/|$)`, message: `${room} must not reach into that room.` },
          { regex: `^(\\.\\./)+(${allRooms.join('|')})/`, message: 'Other rooms are named by @/.' },
          { regex: '^next/link$', message: 'Use @/ui/Link: it asks for a screen only when somebody goes there.' },
          ...(room === 'records'
            ? [
                {
                  regex: '^@/core(/|$)',
                  allowTypeImports: true,
                  message: 'records keeps facts: it knows core by its types.',
                },
              ]
            : []),
          ...(room === 'stations'
            ? [
                {
                  regex: '^@/core/(chemistry/openCircuit|simulation/packCharge|packs/diagnosis/middles)$',
                  importNames: ['openCircuitOf', 'chargePack', 'groupOf', 'usualOhmAh'],
                  message: 'Advice has one source: take it from @/core/state by @/workshop/states.',
                },
              ]
            : []),
          ...(room === 'core'
            ? [
                {
                  group: ['react', 'react-*', 'next', 'next/*', 'node:*', 'pg', 'fs', 'path'],
                  message: 'core is pure: no interface, no I/O.',
                },
              ]
            : []),
        ],
      },
    ],
  },
}));

export default tseslint.config(
  { ignores: ['.next*/**', 'node_modules/**', 'next-env.d.ts', 'test-results/**', 'playwright-report/**'] },
  // Only where there is an interface: to look for React in all the rest takes a quarter of the time.
  ...nextVitals.map((part) => ({ ...part, files: ['{app,stations,ui}/**/*.{ts,tsx}'] })),
  ...tseslint.configs.strict,
  ...rooms,
  { files: ['ui/Link.tsx'], rules: { '@typescript-eslint/no-restricted-imports': 'off' } },
  { files: ['**/*.cjs'], rules: { '@typescript-eslint/no-require-imports': 'off' } },
  {
    files: ['core/**/*.test.ts', 'records/**/*.test.ts', 'stations/**/*.test.ts'],
    rules: { '@typescript-eslint/no-restricted-imports': 'off' },
  },
  {
    files: ['**/*.{ts,tsx}'],
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': 'error',
      'no-nested-ternary': 'error',
      // The formatter leaves long texts alone. Titles of tests stay whole, and so does what JSX glues with a space.
      'max-len': [
        'error',
        { code: 120, ignorePattern: "^\\s*(await )?test(\\.step)?\\(|\\{' '\\}$", ignoreUrls: true },
      ],
    },
  },
);
