import { describe, expect, test } from '@jest/globals';
import type { ComparisonJson } from '../../src/comparing/reports/comparison-json.js';
import { comparisonToJUnit } from '../../src/comparing/reports/comparison-junit.js';
import { comparisonMade, participantMade } from '../comparing/reports/comparison-made.js';

const same = comparisonMade({
  participants: ['reference', 'reducer', 'atom'].map((name) => participantMade(name)),
  tookMs: 1234,
  fullEvery: 1,
  coverage: {
    reached: 3,
    total: 4,
    missing: [],
    bounds: { broken: 0, never: [] },
    corners: { met: 0, never: [] },
  },
});

const different: ComparisonJson = {
  ...same,
  verdict: 'different',
  end: 'found',
  difference: {
    step: 0,
    what: 'state',
    at: '/deck/hold',
    participant: 'atom',
    expected: 1,
    actual: 2,
    script: { steps: [] },
    foundAfter: 9,
    stepsBefore: 0,
    action: 'deck.holdFor',
    place: null,
    patch: [],
    savedAs: null,
    scripts: 1,
  },
};

const options = {
  schema: 'ferry.stores.yaml',
  text: 'as people read it',
  requiredCoverage: undefined,
};

describe('JUnit XML of a comparison', () => {
  test('has a test for each participant but the first', () => {
    expect(comparisonToJUnit(same, options)).toBe(`<?xml version="1.0" encoding="UTF-8"?>
<testsuites name="leeshore compare" tests="2" failures="0" skipped="0">
  <testsuite name="ferry.stores.yaml" tests="2" failures="0" skipped="0" time="1.234">
    <testcase classname="leeshore.compare" name="reducer behaves as the reference" />
    <testcase classname="leeshore.compare" name="atom behaves as the reference" />
  </testsuite>
</testsuites>
`);
  });

  test('a difference is a failure of its participant; the others were not tried to the end', () => {
    const xml = comparisonToJUnit(different, options);
    expect(xml).toContain('tests="2" failures="1" skipped="1"');
    expect(xml).toContain(
      '<failure message="state differs at /deck/hold after deck.holdFor">as people read it</failure>',
    );
    expect(xml).toContain('<skipped message="ended with a difference" />');
  });

  test('what has to be reached is a test of its own', () => {
    expect(comparisonToJUnit(same, { ...options, requiredCoverage: 75 })).toContain(
      'tests="3" failures="0"',
    );
    const xml = comparisonToJUnit(same, { ...options, requiredCoverage: 76 });
    expect(xml).toContain('<failure message="75.0 % is reached">');
  });

  test('no comparison at all is no success', () => {
    const none: ComparisonJson = { ...same, verdict: 'nothing compared', steps: 0 };
    expect(comparisonToJUnit(none, options)).toContain('failures="2"');
  });

  test('text that XML does not take is written in another way', () => {
    const xml = comparisonToJUnit(different, {
      ...options,
      text: `<a href="x">'&' \u0001 \ud800 \u{1f6a2}`,
    });
    expect(xml).toContain('&#60;a href=&#34;x&#34;&#62;&#39;&#38;&#39; \\u0001 \\ud800 \u{1f6a2}<');
  });
});
