export default {
  testEnvironment: 'node',
  runtime: '<rootDir>/test/run/runtime.cjs',
  roots: ['<rootDir>/test'],
  testMatch: ['**/*.test.ts'],
  moduleNameMapper: { '^(\\.{1,2}/.*)\\.js$': '$1' },
  transform: {},
  testTimeout: 60_000,
  maxWorkers: '100%',
  testSequencer: './scripts/long-first.mjs',
};
