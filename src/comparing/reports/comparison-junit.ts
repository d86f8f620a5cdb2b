import type { ComparisonJson } from './comparison-json.js';
import { failedTest, junitOf, passedTest, skippedTest } from '../../report/junit.js';

/** What a CI server shows of a comparison. */
export interface JUnitOptions {
  /** The schema, as the user wrote its path. */
  readonly schema: string;
  /** The report as people read it, without colours: the text of a failure. */
  readonly text: string;
  /** How much of what can happen has to be reached, in percent, if that is required. */
  readonly requiredCoverage: number | undefined;
}

/** The result of a comparison as JUnit XML: a test for each participant, and one for what has to be reached. */
export function comparisonToJUnit(comparison: ComparisonJson, options: JUnitOptions): string {
  const { participants, difference: first, alsoFound, verdict, coverage, tookMs } = comparison;
  const all = first === null ? [] : [first, ...alsoFound];
  const [reference = '', ...others] = participants.map(({ name }) => name);
  const cases = others.flatMap((name) => {
    const title = `${name} behaves as the ${reference}`;
    const own = all.filter(({ participant }) => participant === name);
    const [difference] = own;
    if (verdict === 'nothing compared')
      return failedTest('leeshore.compare', title, 'not one step was done', options.text);
    if (verdict === 'not repeatable' && difference !== undefined)
      return failedTest(
        'leeshore.compare',
        title,
        'a difference that was not there when the script was done again',
        options.text,
      );
    if (difference !== undefined)
      return own.map(({ what, at, action }, i) => {
        const after = action === '' ? '' : ` after ${action}`;
        const numbered = i === 0 ? title : `${title} (difference ${i + 1})`;
        return failedTest(
          'leeshore.compare',
          numbered,
          `${what} differs at ${at || '/'}${after}`,
          options.text,
        );
      });
    // The search ends with the differences: what it says of the others is not their whole trial.
    return first === null
      ? passedTest('leeshore.compare', title)
      : skippedTest('leeshore.compare', title, 'ended with a difference');
  });
  const { requiredCoverage: required } = options;
  if (required !== undefined) {
    const percent = percentReached(comparison);
    const title = `at least ${required} % of what can happen is reached`;
    const missing = coverage.missing.map(({ id }) => id).join('\n');
    cases.push(
      percent >= required
        ? passedTest('leeshore.compare', title)
        : failedTest('leeshore.compare', title, `${percent.toFixed(1)} % is reached`, missing),
    );
  }
  return junitOf({ suites: 'leeshore compare', suite: options.schema, tookMs }, cases);
}

/** How much of what can happen was reached, in percent. */
export function percentReached({
  coverage: { reached, total },
}: Pick<ComparisonJson, 'coverage'>): number {
  return total === 0 ? 100 : (100 * reached) / total;
}
