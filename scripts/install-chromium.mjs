// What the tests need besides npm's packages: installs it on a CI server or with --install, or says what is missing.
import { installChromium } from './browser.mjs';

if (installChromium() === undefined) {
  process.stderr.write(
    'Chromium is missing: the tests of the example page are skipped. --install installs it.\n',
  );
  process.exit(process.env.CI ? 3 : 0);
}
