import { expect, test } from '@jest/globals';
import { Random } from '../../../src/base/random.js';
import { checkSchemas } from '../../../src/jobs/check.js';
import { overviewOf } from '../../../src/language/reports/overview.js';
import { ferryText } from '../../helpers.js';
import { spoiltAnyhow } from '../../spoilt-schemas.js';
import { howMany } from '../../sweep.js';

/** How many files are spoilt; `npm run soak` does all. */
const files = howMany(120, 20_000);

test(`${files} spoilt schemas end in problems or success, never in an exception`, async () => {
  const random = new Random(11);
  let fine = 0;
  for (let i = 0; i < files; i++) {
    const text = spoiltAnyhow(ferryText, random);
    const { application, problems } = await checkSchemas([{ path: 'spoilt', text }]);
    expect(application !== undefined || problems.length > 0).toBe(true);
    if (application !== undefined) expect(overviewOf(application).stores).not.toEqual([]);
    for (const { span, message } of problems) {
      expect(message).not.toMatch(/undefined|\[object/);
      expect(span.start >= 0 && span.end <= text.length + 1 && span.start <= span.end).toBe(true);
    }
    if (application !== undefined) fine++;
  }
  expect(fine).toBeGreaterThan(0);
  expect(fine).toBeLessThan(files);
  if (files > 1000) {
    expect(process.resourceUsage().maxRSS).toBeLessThan(1024 * 1024);
  }
});
