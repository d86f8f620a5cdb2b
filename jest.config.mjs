export default {
  testEnvironment: 'node',
  roots: ['<rootDir>/test'],
  testMatch: ['**/*.test.ts'],
  extensionsToTreatAsEsm: ['.ts'],
  moduleNameMapper: { '^(\\.{1,2}/.*)\\.js$': '$1' },
  transform: {
    '^.+\\.ts$': [
      '@swc/jest',
      { jsc: { target: 'es2023', parser: { syntax: 'typescript' } }, module: { type: 'es6' } },
    ],
  },
  testTimeout: 60_000,
  // The machines that run the tests have few cores, and much of the time is spent in programs that tests start.
  maxWorkers: '150%',
  testSequencer: './scripts/long-first.mjs',
};
