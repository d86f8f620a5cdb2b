import { failedTest, junitOf, passedTest, skippedTest } from '../../report/junit.js';
import type { ReplayJson } from './replay-json.js';

const classOf = 'leeshore.replay';

/** A replay as JUnit XML: a test for each participant. `text`: the report as people read it. */
export function replayToJUnit(result: ReplayJson, text: string): string {
  const cases = result.participants.flatMap(({ name, lines }) => {
    const title = `${name} does what the log says`;
    const own = result.mismatches.filter(({ participants }) => participants.includes(name));
    if (lines === 0) return [failedTest(classOf, title, 'not one line was replayed', text)];
    if (result.verdict === 'interrupted') return [skippedTest(classOf, title, 'interrupted')];
    if (own.length === 0) return [passedTest(classOf, title)];
    return own.map(({ what, at, line, do: action }, i) =>
      failedTest(
        classOf,
        i === 0 ? title : `${title} (mismatch ${i + 1})`,
        `${what} differs at ${at || '/'} after line ${line} (${action})`,
        text,
      ),
    );
  });
  return junitOf({ suites: 'leeshore replay', suite: result.log, tookMs: result.tookMs }, cases);
}
