// The example page in a browser: Chromium is found, or installed from Debian's packages.
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';

/** The frameworks in which the example page is drawn. */
export const frameworks = ['react', 'vue', 'angular'];

const known = ['/usr/bin/chromium', '/usr/bin/chromium-browser'];

/** Where Chromium is; `undefined` if it is not there. */
export const chromiumPath = () => known.find((path) => existsSync(path));

/** Whether this script may install packages of the system: on a CI server, or with `--install`. */
export const mayInstall = Boolean(process.env.CI) || process.argv.includes('--install');

/** Installs packages of Debian. */
export function installPackages(packages) {
  process.stderr.write(`installing ${packages.join(', ')} ...\n`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  spawnSync('apt-get', ['update'], { stdio: 'ignore', env });
  spawnSync('apt-get', ['install', '-y', '--no-install-recommends', ...packages], {
    stdio: 'ignore',
    env,
  });
}

/** Where Chromium is; installs it if it is missing and that is allowed; `undefined` if it is not there then. */
export function installChromium() {
  if (chromiumPath() === undefined && mayInstall)
    installPackages(['chromium', 'fonts-dejavu-core']);
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

/** Where a browser finds the example page, once it is served to it. */
export const appAddress = 'http://terminal.example/';

/** Answers what pages of a browser context ask of that address from the built example page, without a network. */
export const serveApp = (context) =>
  context.route(`${appAddress}**`, (route) => {
    const { pathname } = new URL(route.request().url());
    const path = join('.cache/app', pathname === '/' ? 'index.html' : pathname);
    return existsSync(path) ? route.fulfill({ path }) : route.fulfill({ status: 404 });
  });
