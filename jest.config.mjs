export default {
  testEnvironment: 'node',
  runtime: '<rootDir>/test/run/runtime.cjs',
  roots: ['<rootDir>/test'],
  testMatch: ['**/*.test.ts'],
  moduleNameMapper: { '^(\\.{1,2}/.*)\\.js$': '$1' },
  transform: {},
  // For what hangs: no test is to be done by some time.
  testTimeout: process.env.LEESHORE_SOAK === undefined ? 600_000 : 7_200_000,
  maxWorkers: '100%',
  testSequencer: './scripts/long-first.mjs',
};
