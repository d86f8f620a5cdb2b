// What the tests need besides npm's packages: installs it, or says that it cannot.
import { installChromium } from './browser.mjs';

if (installChromium() === undefined) {
  process.stderr.write('Chromium is missing and cannot be installed here.\n');
  process.exit(3);
}
