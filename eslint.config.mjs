import nextVitals from 'eslint-config-next/core-web-vitals';
import tseslint from 'typescript-eslint';

/** Which rooms a room may not import from: the arrows of the house point one way. */
const closed = {
  core: ['records', 'stations', 'ui', 'app', 'workers', 'demo', 'bench', 'http', 'workshop', 'truth'],
  truth: ['records', 'ui', 'app', 'workers', 'demo', 'bench', 'http', 'workshop'],
  records: ['stations', 'ui', 'app', 'workers', 'demo', 'bench', 'http', 'workshop'],
  workshop: ['stations', 'ui', 'app', 'workers', 'demo', 'bench', 'http'],
  ui: ['records', 'stations', 'app', 'demo', 'bench', 'http', 'workshop'],
  stations: ['app', 'demo', 'bench', 'http'],
  http: ['app', 'demo', 'bench', 'ui', 'workers'],
  workers: ['records', 'stations', 'ui', 'app', 'demo', 'bench', 'http', 'workshop'],
  demo: ['stations', 'ui', 'app', 'bench'],
};

const rooms = Object.entries(closed).map(([room, others]) => ({
  files: [`${room}/**/*.{ts,tsx}`],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          {
            group: others.flatMap((other) => [`@/${other}`, `@/${other}/*`, `**/${other}/*`]),
            message: `${room} must not reach into that room.`,
          },
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
  ...nextVitals,
  ...tseslint.configs.strict,
  ...rooms,
  { files: ['**/*.cjs'], rules: { '@typescript-eslint/no-require-imports': 'off' } },
  {
    files: ['core/**/*.test.ts'],
    rules: { 'no-restricted-imports': 'off' },
  },
  {
    files: ['**/*.{ts,tsx}'],
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': 'error',
    },
  },
);
