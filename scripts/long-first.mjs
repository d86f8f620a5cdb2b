// Orders the tests so that those which take longest begin first: none of them is left over for one core alone.
import { relative } from 'node:path';

const longest = [
  'cli/program',
  'cli/generate',
  'faults/faults',
  'emit/generated-code',
  'cli/search',
  'cli/brought',
  'explore/compare',
  'arrange/arrange',
  'app/page',
  'emit/usage',
  'check/mutations',
  'cli/options',
  'docs-porting',
  'cli/language',
];

export default class LongFirst {
  sort(tests) {
    const place = ({ path, context }) => {
      const name = relative(`${context.config.rootDir}/test`, path).replace(/\.test\.ts$/, '');
      const at = longest.indexOf(name);
      return at < 0 ? longest.length : at;
    };
    return [...tests].sort((a, b) => place(a) - place(b));
  }

  shard(tests, { shardIndex, shardCount }) {
    return tests.filter((_, i) => i % shardCount === shardIndex - 1);
  }

  allFailedTests(tests) {
    return tests;
  }

  cacheResults() {
    // Nothing is kept: the order is the same each time.
  }
}
