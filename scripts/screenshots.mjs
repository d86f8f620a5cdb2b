// Takes a picture of each main command's output on the demo data, in a terminal window. With --install, or on a CI
// server, it installs what it needs.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { chromium } from 'playwright-core';
import {
  appAddress,
  chromiumArguments,
  installChromium,
  installPackages,
  mayInstall,
  serveApp,
} from './browser.mjs';
import { begin, makeReady, printedBy, shots } from './shots.mjs';

const needed = {
  'xvfb-run': 'xvfb',
  xterm: 'xterm',
  import: 'imagemagick',
  xauth: 'xauth',
  xdpyinfo: 'x11-utils',
};
const out = resolve('docs/screenshots');

function has(command) {
  return spawnSync('sh', ['-c', `command -v ${command}`]).status === 0;
}

/** Whether what is needed is there, after it was installed if that is allowed. */
function isReady() {
  const missing = Object.entries(needed).filter(([command]) => !has(command));
  if (missing.length > 0 && mayInstall)
    installPackages([...missing.map(([, name]) => name), 'fonts-dejavu']);
  return missing.every(([command]) => has(command));
}

if (!isReady()) {
  const message =
    'screenshots: skipped, since Xvfb, xterm or ImageMagick is missing. --install installs them.\n';
  process.stderr.write(message);
  process.exit(process.env.CI ? 3 : 0);
}

const only = process.argv.slice(2).filter((name) => name !== '--install');
const folder = mkdtempSync(join(tmpdir(), 'leeshore-shots-'));
/** Where the commands are run once more for their text: what the first run left behind is not there. */
const textFolder = mkdtempSync(join(tmpdir(), 'leeshore-shots-'));
mkdirSync(out, { recursive: true });
makeReady(folder, resolve('.'));
makeReady(textFolder, resolve('.'));

/** Colours that can be told from the background. */
const colours = [
  '*color1: #ff8078',
  '*color2: #6fd66f',
  '*color3: #e6c34d',
  '*color6: #5fd7d7',
  '*color8: #a8a8a8',
]
  .map((one) => `-xrm "XTerm${one}"`)
  .join(' ');

/** Runs commands in a terminal window, and takes a picture of its last screen. */
function shoot(name, { font, geometry }, ...commands) {
  const shown = commands
    .map((command) => `printf '\\033[36m$ ${command}\\033[0m\\n'; ${command}`)
    .join('; ');
  const script = `PATH="${folder}:$PATH"; cd "${folder}"; ${shown}; touch done; sleep 30`;
  writeFileSync(join(folder, 'show.sh'), script);
  rmSync(join(folder, 'done'), { force: true });
  const picture = join(out, `${name}.png`);
  const window = `xterm -fa "DejaVu Sans Mono" -fs ${font} -bg "#1e1e1e" -fg "#e6e6e6" ${colours} -b 8 -bw 0 +sb -geometry ${geometry}+0+0 -e sh show.sh &`;
  const session = `${window} for i in $(seq 600); do [ -e done ] && break; sleep 0.1; done; sleep 0.5; import -window root "${picture}"; kill %1`;
  const { status, stderr } = spawnSync(
    'xvfb-run',
    ['-a', '-s', '-screen 0 1280x800x24 -nolisten tcp', 'bash', '-c', session],
    { cwd: folder, encoding: 'utf8' },
  );
  if (!existsSync(picture) || status > 1) throw new Error(`no picture of ${name}: ${stderr}`);
  process.stderr.write(`docs/screenshots/${name}.png\n`);
}

for (const shot of shots) {
  if (only.length > 0 && !only.includes(shot.name)) continue;
  begin(shot, folder);
  shoot(shot.name, shot.window, ...shot.commands);
  shot.after?.(folder);
  // Beside each picture stands what is on it: a test notices when the commands print something else.
  writeFileSync(join(out, `${shot.name}.txt`), printedBy(shot, textFolder));
}
rmSync(folder, { recursive: true, force: true });
rmSync(textFolder, { recursive: true, force: true });
await shootPage();
await shootTimelines();

/** The pages of the timeline: a morning with two moments side by side, and a script that shows a difference. */
async function shootTimelines() {
  if (only.length > 0 && !only.includes('timeline-page')) return;
  const executablePath = installChromium();
  if (executablePath === undefined) throw new Error('no picture of timelines: no Chromium');
  const made = mkdtempSync(join(tmpdir(), 'leeshore-timelines-'));
  const leeshore = (...args) =>
    spawnSync(process.execPath, [resolve('bin/leeshore.js'), ...args], { cwd: made });
  const example = resolve('examples/skerry');
  leeshore('timeline', `${example}/logs/morning.log.jsonl`, '--html', 'morning.html');
  const [schema, old] = [`${example}/ferry.stores.yaml`, `${example}/old/terminal.participant.ts`];
  leeshore('compare', schema, '--with', old, '--differences', '2', '--steps', '6000');
  const script = 'ferry.seed-1-2.script.json';
  leeshore('timeline', script, '--schema', schema, '--with', old, '--html', 'script.html');
  const browser = await chromium.launch({ executablePath, args: chromiumArguments });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(`file://${made}/morning.html`);
  await page.waitForSelector('body.loaded');
  for (const turn of [34, 68]) {
    for (let i = 0; i < 34; i++) await page.press('#list', 'ArrowDown');
    if (turn === 34) await page.press('#list', 'p');
  }
  await page.waitForTimeout(200);
  await page.screenshot({ path: join(out, 'timeline-page.png') });
  await page.goto(`file://${made}/script.html`);
  await page.waitForSelector('body.loaded');
  await page.waitForTimeout(200);
  await page.screenshot({ path: join(out, 'timeline-script.png') });
  await browser.close();
  rmSync(made, { recursive: true, force: true });
  process.stderr.write('docs/screenshots/timeline-page.png and timeline-script.png\n');
}

/** The example page on observable stores, after some work at the terminal. */
async function shootPage() {
  if (only.length > 0 && !only.includes('app')) return;
  const executablePath = installChromium();
  if (executablePath === undefined) throw new Error('no picture of app: there is no Chromium');
  spawnSync(process.execPath, ['scripts/app.mjs', '--build'], { stdio: 'ignore' });
  const browser = await chromium.launch({ executablePath, args: chromiumArguments });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await serveApp(page.context());
  await page.goto(appAddress);
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
  for (const lane of ['centre', 'port']) await page.click(`[data-deed=${lane}]`);
  await page.fill('#planNote', 'lorries first');
  await page.click('#undo');
  await page.click('#openTariff');
  await page.click('[data-deed=tomorrow]');
  await page.waitForTimeout(300);
  await page.screenshot({ path: join(out, 'app.png') });
  await shootFramework(browser, 'react');
  await browser.close();
  process.stderr.write('docs/screenshots/app.png and app-react.png\n');
}

/** The page drawn by a framework, in a browser of its own. */
async function shootFramework(browser, framework) {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  await serveApp(context);
  const page = await context.newPage();
  await page.goto(`${appAddress}${framework}.html`);
  for (const [plate, lengthM] of [
    ['SK 104', '4.5'],
    ['FE 77', '12'],
  ]) {
    await page.fill('[name=plate]', plate);
    await page.fill('[name=lengthM]', lengthM);
    await page.click('#admit button');
  }
  for (const deed of ['sign', 'board', 'today', 'centre', 'port'])
    await page.click(`[data-deed=${deed}]`);
  await page.click('#openTariff');
  await page.click('[data-deed=gust]');
  await page.waitForTimeout(300);
  await page.screenshot({ path: join(out, `app-${framework}.png`) });
  await context.close();
}
