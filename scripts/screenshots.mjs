// Takes a picture of each main command's output on the demo data, in a terminal window. Installs what it needs.
import { spawnSync } from 'node:child_process';
import {
  copyFileSync,
  cpSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import { chromium } from 'playwright-core';
import { chromiumArguments, installChromium } from './browser.mjs';

const needed = {
  'xvfb-run': 'xvfb',
  xterm: 'xterm',
  import: 'imagemagick',
  xauth: 'xauth',
  xdpyinfo: 'x11-utils',
};
const out = resolve('docs/screenshots');
const program = resolve('bin/leeshore.js');

function has(command) {
  return spawnSync('sh', ['-c', `command -v ${command}`]).status === 0;
}

function install() {
  const missing = Object.entries(needed).filter(([command]) => !has(command));
  if (missing.length === 0) return true;
  const packages = [...missing.map(([, name]) => name), 'fonts-dejavu'];
  process.stderr.write(`installing ${packages.join(', ')} ...\n`);
  spawnSync('apt-get', ['update'], { stdio: 'ignore' });
  spawnSync('apt-get', ['install', '-y', '--no-install-recommends', ...packages], {
    stdio: 'ignore',
  });
  return missing.every(([command]) => has(command));
}

if (!install()) {
  const message =
    'screenshots: skipped, since Xvfb, xterm or ImageMagick is missing and cannot be installed here.\n';
  process.stderr.write(message);
  process.exit(process.env.CI ? 3 : 0);
}

const only = process.argv.slice(2);
const folder = mkdtempSync(join(tmpdir(), 'leeshore-shots-'));
mkdirSync(out, { recursive: true });
copyFileSync('examples/skerry/ferry.stores.yaml', join(folder, 'ferry.stores.yaml'));
cpSync('examples/skerry/old', join(folder, 'old'), { recursive: true });

/** Changes a file of the folder; the text must be there. */
function change(file, to, ...changes) {
  let text = readFileSync(join(folder, file), 'utf8');
  for (const [from, by] of changes) {
    if (!text.includes(from)) throw new Error(`${file} has no '${from}'`);
    text = text.replace(from, by);
  }
  writeFileSync(join(folder, to), text);
}

/** Runs commands in a terminal window, and takes a picture of its last screen. */
function shoot(name, { font, geometry }, ...commands) {
  if (only.length > 0 && !only.includes(name)) return;
  const shown = commands
    .map((command) => `printf '\\033[36m$ ${command}\\033[0m\\n'; ${command}`)
    .join('; ');
  const script = `PATH="${folder}:$PATH"; cd "${folder}"; ${shown}; touch done; sleep 30`;
  writeFileSync(join(folder, 'show.sh'), script);
  writeFileSync(join(folder, 'leeshore'), `#!/bin/sh\nexec node "${program}" "$@"\n`, {
    mode: 0o755,
  });
  rmSync(join(folder, 'done'), { force: true });
  const picture = join(out, `${name}.png`);
  const window = `xterm -fa "DejaVu Sans Mono" -fs ${font} -bg "#1e1e1e" -fg "#e0e0e0" -b 8 -bw 0 +sb -geometry ${geometry}+0+0 -e sh show.sh &`;
  const session = `${window} for i in $(seq 600); do [ -e done ] && break; sleep 0.1; done; sleep 0.5; import -window root "${picture}"; kill %1`;
  const { status, stderr } = spawnSync(
    'xvfb-run',
    ['-a', '-s', '-screen 0 1280x800x24 -nolisten tcp', 'bash', '-c', session],
    { cwd: folder, encoding: 'utf8' },
  );
  if (!existsSync(picture) || status > 1) throw new Error(`no picture of ${name}: ${stderr}`);
  process.stderr.write(`docs/screenshots/${name}.png\n`);
}

/** Letters as people have them, and small ones for what is long. */
const large = { font: 11, geometry: '142x46' };
const small = { font: 8, geometry: '182x61' };

change(
  'ferry.stores.yaml',
  'slips.stores.yaml',
  ['v => v.boarded)', 'v => v.borded)'],
  ['clear:', 'freeM:'],
  ['hold === null && !full', 'hold == null && !full'],
  ['"(byLane[payload.lane] ?? 0) + payload.lengthM"', '"payload.plate * payload.lengthM"'],
  ['hold: "payload"', 'hold: "vehicles.find(v => v.id === payload)?.plate"'],
  ['maximum: 40, default: 18', 'maximum: 40'],
  ['minLength: 1, maxLength: 10', 'pattern: "^SK"'],
);
spawnSync(
  process.execPath,
  [program, 'generate', 'ferry.stores.yaml', '--style', 'atom', '--out', 'broken'],
  { cwd: folder },
);
change('broken/atom/deck.store.ts', 'broken/atom/deck.store.ts', [
  'tx.get(vehicles).filter((v) => !v.boarded)',
  'tx.get(vehicles).filter((v) => v.boarded)',
]);

shoot('check', large, 'leeshore check ferry.stores.yaml');
shoot('check-problems', small, 'leeshore check slips.stores.yaml');
shoot('explain', large, 'leeshore explain maybe-missing');
shoot('show', small, 'leeshore show ferry.stores.yaml --store log');
shoot(
  'generate',
  small,
  'leeshore generate ferry.stores.yaml',
  'head -n 28 stores/proxy/wind.store.ts',
);
change(
  'ferry.stores.yaml',
  'ferry.stores.yaml',
  ['default: 240', 'default: 260'],
  ['maximum: 40, default: 18', 'maximum: 40, default: 20'],
);
shoot('generate-diff', large, 'leeshore generate ferry.stores.yaml --style atom --diff');
change(
  'ferry.stores.yaml',
  'ferry.stores.yaml',
  ['default: 260', 'default: 240'],
  ['maximum: 40, default: 20', 'maximum: 40, default: 18'],
);
shoot('compare-same', large, 'leeshore compare ferry.stores.yaml --steps 4000');
shoot(
  'compare-different',
  large,
  'leeshore compare ferry.stores.yaml --generated broken --style atom',
);
shoot(
  'compare-old',
  large,
  'leeshore compare ferry.stores.yaml --with old/terminal.participant.ts --style reducer',
);
shoot('compare-faults', small, 'leeshore compare ferry.stores.yaml --faults 60 --steps 6000');
shoot('demo', small, 'leeshore demo');
rmSync(folder, { recursive: true, force: true });
await shootPage();

/** The example page on observable stores, after some work at the terminal. */
async function shootPage() {
  if (only.length > 0 && !only.includes('app')) return;
  const executablePath = installChromium();
  if (executablePath === undefined) throw new Error('no picture of app: there is no Chromium');
  spawnSync(process.execPath, ['scripts/app.mjs'], { stdio: 'ignore' });
  const browser = await chromium.launch({ executablePath, args: chromiumArguments });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(pathToFileURL(resolve('.cache/app/index.html')).href);
  await page.check('input[value=observable]');
  for (const [plate, lengthM, lane] of [
    ['SK 104', '4.5', 'port'],
    ['FE 77', '12', 'centre'],
    ['SK 9', '4', 'starboard'],
    ['AB 310', '5.5', 'port'],
  ]) {
    await page.fill('[name=plate]', plate);
    await page.fill('[name=lengthM]', lengthM);
    await page.selectOption('[name=lane]', lane);
    await page.click('#admit button');
  }
  for (const deed of ['sign', 'moor', 'board', 'board']) await page.click(`[data-deed=${deed}]`);
  for (const metres of ['180', '3']) {
    await page.fill('[name=metres]', metres);
    await page.click('#stretch button >> nth=0');
  }
  await page.screenshot({ path: join(out, 'app.png') });
  await browser.close();
  process.stderr.write('docs/screenshots/app.png\n');
}
