// Finds Chromium, or installs it from Debian's packages: for the example page's test and picture.
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';

const known = ['/usr/bin/chromium', '/usr/bin/chromium-browser'];

/** Where Chromium is; `undefined` if it is not there. */
export const chromiumPath = () => known.find((path) => existsSync(path));

/** Installs Chromium if it is missing; `undefined` if that cannot be done here. */
export function installChromium() {
  if (chromiumPath() !== undefined) return chromiumPath();
  process.stderr.write('installing chromium ...\n');
  spawnSync('apt-get', ['update'], { stdio: 'ignore' });
  spawnSync(
    'apt-get',
    ['install', '-y', '--no-install-recommends', 'chromium', 'fonts-dejavu-core'],
    {
      stdio: 'ignore',
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    },
  );
  return chromiumPath();
}

/** How it is started without a display, and without a network. */
export const chromiumArguments = [
  '--no-sandbox',
  '--disable-gpu',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];
