// Orders the tests so that those which take longest begin first: none of them is left over for one core alone.
import { relative } from 'node:path';
import { keepSeconds, secondsOf } from './test-times.mjs';

const nameOf = ({ path, context }) => relative(context.config.rootDir, path).replaceAll('\\', '/');

export default class LongFirst {
  sort(tests) {
    return [...tests].sort((a, b) => secondsOf(nameOf(b)) - secondsOf(nameOf(a)));
  }

  shard(tests, { shardIndex, shardCount }) {
    return tests.filter((_, i) => i % shardCount === shardIndex - 1);
  }

  allFailedTests(tests) {
    return tests;
  }

  cacheResults(tests, { testResults }) {
    const names = new Map(tests.map((test) => [test.path, nameOf(test)]));
    const taken = testResults.flatMap(({ testFilePath, perfStats, skipped }) => {
      const seconds = Math.round((perfStats?.runtime ?? 0) / 100) / 10;
      const name = names.get(testFilePath);
      return skipped || name === undefined || seconds === 0 ? [] : [[name, seconds]];
    });
    keepSeconds(Object.fromEntries(taken));
  }
}
