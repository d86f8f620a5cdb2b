/** What a report is called, and what it is about. */
interface JUnitNames {
  readonly suites: string;
  readonly suite: string;
  readonly tookMs: number;
}

/** A report of tests as JUnit XML. */
export function junitOf({ suites, suite, tookMs }: JUnitNames, cases: readonly string[]): string {
  const count = (kind: string) => cases.filter((one) => one.includes(`<${kind} `)).length;
  const numbers = `tests="${cases.length}" failures="${count('failure')}" skipped="${count('skipped')}"`;
  return `<?xml version="1.0" encoding="UTF-8"?>
<testsuites name="${suites}" ${numbers}>
  <testsuite name="${escaped(suite)}" ${numbers} time="${(tookMs / 1000).toFixed(3)}">
${cases.join('\n')}
  </testsuite>
</testsuites>
`;
}

const opening = (className: string, name: string) =>
  `    <testcase classname="${className}" name="${escaped(name)}"`;

export const passedTest = (className: string, name: string): string =>
  `${opening(className, name)} />`;

export const skippedTest = (className: string, name: string, why: string): string =>
  `${opening(className, name)}>\n      <skipped message="${escaped(why)}" />\n    </testcase>`;

export const failedTest = (
  className: string,
  name: string,
  message: string,
  text: string,
): string =>
  `${opening(className, name)}>\n      <failure message="${escaped(message)}">${escaped(text)}</failure>\n    </testcase>`;

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
