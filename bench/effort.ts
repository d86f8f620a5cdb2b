/** With `--small` every part runs, but measures nothing to speak of: a test sees that all of them work. */
const isSmall = process.argv.includes('--small');

/** How much is measured. */
export const effort = isSmall
  ? {
      rounds: 1,
      sampleMs: 1,
      sizes: [10],
      watcherCounts: [0, 1],
      compare: { steps: 60, rounds: 1 },
      stores: { check: [2, 4], generate: [1, 2] },
      ways: { steps: 120, rounds: 2, seconds: 0.2 },
      survey: 9,
      replay: 300,
    }
  : {
      rounds: 9,
      sampleMs: 15,
      sizes: [10, 1000, 10_000],
      watcherCounts: [0, 10, 100],
      compare: { steps: 1500, rounds: 5 },
      stores: { check: [100, 1000], generate: [20, 200] },
      ways: { steps: 4800, rounds: 6, seconds: 10 },
      survey: 2000,
      replay: 40_000,
    };
