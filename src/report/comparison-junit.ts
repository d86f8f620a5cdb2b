import type { ComparisonJson } from './comparison-json.js';

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
    if (verdict === 'nothing compared') return failed(title, 'not one step was done', options.text);
    if (verdict === 'not repeatable' && difference !== undefined)
      return failed(
        title,
        'a difference that was not there when the script was done again',
        options.text,
      );
    if (difference !== undefined)
      return own.map(({ what, at, action }, i) => {
        const after = action === '' ? '' : ` after ${action}`;
        const numbered = i === 0 ? title : `${title} (difference ${i + 1})`;
        return failed(numbered, `${what} differs at ${at || '/'}${after}`, options.text);
      });
    // The search ends with the differences: what it says of the others is not their whole trial.
    return first === null ? passed(title) : skipped(title, 'ended with a difference');
  });
  const { requiredCoverage: required } = options;
  if (required !== undefined) {
    const percent = percentReached(comparison);
    const title = `at least ${required} % of what can happen is reached`;
    const missing = coverage.missing.map(({ id }) => id).join('\n');
    cases.push(
      percent >= required
        ? passed(title)
        : failed(title, `${percent.toFixed(1)} % is reached`, missing),
    );
  }
  const count = (kind: string) => cases.filter((one) => one.includes(`<${kind} `)).length;
  const numbers = `tests="${cases.length}" failures="${count('failure')}" skipped="${count('skipped')}"`;
  const suite = `<testsuite name="${escaped(options.schema)}" ${numbers} time="${(tookMs / 1000).toFixed(3)}">`;
  return `<?xml version="1.0" encoding="UTF-8"?>
<testsuites name="leeshore compare" ${numbers}>
  ${suite}
${cases.join('\n')}
  </testsuite>
</testsuites>
`;
}

/** How much of what can happen was reached, in percent. */
export function percentReached({
  coverage: { reached, total },
}: Pick<ComparisonJson, 'coverage'>): number {
  return total === 0 ? 100 : (100 * reached) / total;
}

const opening = (name: string) =>
  `    <testcase classname="leeshore.compare" name="${escaped(name)}"`;

const passed = (name: string): string => `${opening(name)} />`;

const skipped = (name: string, why: string): string =>
  `${opening(name)}>\n      <skipped message="${escaped(why)}" />\n    </testcase>`;

const failed = (name: string, message: string, text: string): string =>
  `${opening(name)}>\n      <failure message="${escaped(message)}">${escaped(text)}</failure>\n    </testcase>`;

/** Text as XML takes it: characters that XML does not have are shown by their number. */
function escaped(text: string): string {
  return text
    .replace(/[&<>"']/g, (character) => `&#${character.charCodeAt(0)};`)
    .replace(
      // eslint-disable-next-line no-control-regex
      /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g,
      (character) => `\\u${character.charCodeAt(0).toString(16).padStart(4, '0')}`,
    );
}
