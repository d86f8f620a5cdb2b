// Orders the tests so that those which take longest begin first: none of them is left over for one core alone.
import { relative } from 'node:path';

const longest = [
  'cli/brought',
  'emit/generated-code',
  'cli/manner',
  'cli/differences',
  'cli/program',
  'cli/generate',
  'docs-tasks',
  'cli/kills',
  'explore/compare',
  'cli/search',
  'arrange/arrange',
  'faults/faults',
  'faults/task-faults',
  'app/page',
  'docs-porting',
  'cli/language',
  'emit/any-name',
  'bench',
  'emit/replay',
  'library',
  'faults/state-faults',
  'emit/usage',
  'check/mutations',
  'cli/options',
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
