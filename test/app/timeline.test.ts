import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { chromium, type Browser, type Page } from 'playwright-core';
import { chromiumArguments, chromiumPath } from '../../scripts/browser.mjs';
import { leeshore } from '../cli/run.js';
import { root } from '../helpers.js';

const executablePath = chromiumPath();
const browserOrSkip =
  executablePath === undefined && process.env.CI === undefined ? describe.skip : describe;
if (executablePath === undefined)
  process.stderr.write('The page of the timeline is not tried: there is no Chromium here.\n');

const example = (path: string) => fileURLToPath(new URL(`examples/skerry/${path}`, root));

browserOrSkip('the page of a timeline, in a real browser', () => {
  let browser: Browser;
  let folder: string;
  const errors: string[] = [];
  const requests: string[] = [];

  beforeAll(async () => {
    folder = mkdtempSync(join(tmpdir(), 'leeshore-timeline-'));
    browser = await chromium.launch({
      executablePath: executablePath ?? '',
      args: chromiumArguments,
    });
  });
  afterAll(async () => {
    await browser.close();
    rmSync(folder, { recursive: true, force: true });
  });

  /** The page that the program writes, opened. */
  async function opened(...args: readonly string[]): Promise<Page> {
    const made = await leeshore(folder, 'timeline', ...args, '--html', 'page.html');
    expect([made.code, made.err]).toEqual([0, '']);
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    page.on('pageerror', ({ message }) => errors.push(message));
    page.on('console', (message) => {
      if (message.type() === 'error') errors.push(message.text());
    });
    page.on('request', (request) => {
      if (!request.url().startsWith('file:')) requests.push(request.url());
    });
    await page.goto(pathToFileURL(join(folder, 'page.html')).href);
    await page.waitForSelector('body.loaded');
    return page;
  }

  const morning = () => opened(example('logs/morning.log.jsonl'));
  const textOf = async (page: Page, selector: string) => (await page.textContent(selector)) ?? '';

  test('shows the transactions, and the selected one in full', async () => {
    const page = await morning();
    expect(await textOf(page, '#count')).toBe('305 transactions');
    await page.focus('#list');
    for (let i = 0; i < 33; i++) await page.keyboard.press('ArrowDown');
    const about = await textOf(page, '#about');
    for (const part of [
      '34  timetable.book finish',
      'answers a call, run 8, call 14',
      '33 timetable.book start',
      '35 notices.fade start',
    ])
      expect(about).toContain(part);
    expect(await page.locator('.marked .key').allTextContents()).toEqual([
      'free',
      'receipt',
      'text',
    ]);
    expect(await page.locator('[aria-selected=true]').getAttribute('aria-posinset')).toBe('34');
    await page.click('.when[title="Last changed at turn 6"] >> nth=0');
    expect(await textOf(page, 'h2')).toBe('6  timetable.load finish');
  });

  test('is walked through, searched and filtered with the keyboard alone', async () => {
    const page = await morning();
    await page.focus('#list');
    await page.keyboard.press('End');
    expect(await textOf(page, 'h2')).toContain('305');
    await page.keyboard.press('/');
    await page.keyboard.type('stretch refused');
    expect(await textOf(page, '#count')).toBe('1 of 305 transactions');
    await page.keyboard.press('Escape');
    expect(await textOf(page, '#count')).toBe('305 transactions');
    await page.keyboard.press('Home');
    await page.keyboard.press('n');
    expect(await textOf(page, 'h2')).toContain('timetable.load start');
    await page.keyboard.press('p');
    await page.keyboard.press('End');
    expect(await textOf(page, '#state-title')).toBe('Then and now');
    expect(await page.locator('.titles .value').allTextContents()).toEqual(['turn 2', 'turn 305']);
    await page.keyboard.press('m');
    expect(await textOf(page, '#muted')).toContain('×');
  });

  test('gives a script of what was asked for, which the stores of the schema do', async () => {
    const page = await morning();
    await page.focus('#list');
    for (let i = 0; i < 59; i++) await page.keyboard.press('ArrowDown');
    const [download] = await Promise.all([page.waitForEvent('download'), page.click('#download')]);
    await download.saveAs(join(folder, 'saved.script.json'));
    const args = [
      'compare',
      example('harbour.stores.yaml'),
      '--script',
      'saved.script.json',
      '--style',
      'atom',
    ];
    const { code, out } = await leeshore(folder, ...args);
    expect([code, out]).toEqual([0, expect.stringContaining('no difference')]);
    const { steps } = JSON.parse(readFileSync(join(folder, 'saved.script.json'), 'utf8')) as {
      steps: unknown[];
    };
    expect(steps.length).toBeGreaterThan(40);
  });

  test('never takes a text from a log as markup, whatever it says', async () => {
    const hostile = [
      '<img src=x onerror="globalThis.hurt=1">',
      '</script><script>globalThis.hurt=1</script>',
      '<!--<script>',
      '"]}</style><b>',
      '\u2028${1}`',
    ];
    const state = { [hostile[0] ?? '']: { note: hostile[1], '</div>': hostile.slice(2) } };
    const lines = [
      { leeshoreLog: 1, state },
      ...hostile.map((text, i) => ({
        turn: i + 1,
        do: text,
        reason: text,
        outcome: 'refused',
        payload: { [text]: text },
        included: [text, text],
        notified: [text],
        changes: [
          {
            op: 'add',
            path: `/a/${text.replaceAll('~', '~0').replaceAll('/', '~1')}`,
            value: text,
          },
        ],
      })),
    ];
    writeFileSync(
      join(folder, '<b>log.jsonl'),
      lines.map((line) => JSON.stringify(line)).join('\n'),
    );
    const page = await opened('<b>log.jsonl');
    await page.focus('#list');
    for (const [i, text] of hostile.entries()) {
      if (i > 0) await page.keyboard.press('ArrowDown');
      expect(await textOf(page, '#about')).toContain(
        text.replace('\u2028', ''.padStart(0)).slice(0, 8),
      );
    }
    expect(await textOf(page, '#title')).toBe('<b>log.jsonl');
    expect(await page.evaluate(() => Reflect.get(globalThis, 'hurt') as unknown)).toBeUndefined();
    expect(await page.locator('main img, main b, main script').count()).toBe(0);
  });

  test('shows a script of compare with all participants side by side', async () => {
    const args = [example('ferry.stores.yaml'), '--with', example('old/terminal.participant.ts')];
    await leeshore(folder, 'compare', ...args, '--steps', '2000', '--save', 'found.script.json');
    const page = await opened('found.script.json', '--schema', ...args, '--style', 'atom');
    expect(await page.locator('.titles .value').allTextContents()).toEqual([
      'reference',
      'atom',
      'old terminal',
    ]);
    expect(await page.locator('.row.differs').count()).toBe(1);
    expect(await page.locator('.tree div.leaf.differs .key').allTextContents()).toEqual([
      'capacityM',
    ]);
  });

  test('takes odd lines, great texts and few columns', async () => {
    const great = 'x'.repeat(200_000);
    const lines: readonly object[] = [
      { leeshoreLog: 1, state: { a: { text: great, none: null, said: 'null', list: [1, 2] } } },
      { turn: 1, do: 'x', kind: 'fail' },
      { turn: 2, do: 'x', kind: 'fail', payload: { message: great }, toString: 'odd' },
      { turn: 3, do: 'x', kind: 'fail', payload: 7 },
      {
        ...{ turn: 4, do: 'a.set', payload: great, outcome: 'done' },
        changes: [{ op: 'replace', path: '/a/said', value: 'fog' }],
      },
    ];
    writeFileSync(join(folder, 'odd.jsonl'), lines.map((line) => JSON.stringify(line)).join('\n'));
    const page = await opened('odd.jsonl');
    // It opens with a state, in which a text is told from what is no text.
    expect(await textOf(page, 'h2')).toBe('1  x fail');
    await page.click('.tree summary >> nth=0');
    const values = await page.locator('.tree .inner .value').allTextContents();
    expect(values.slice(1)).toEqual(['null', '"null"', '2 items']);
    expect(values[0]).toContain('(199,602 more characters)');
    // Values stand in one column, however deep they are.
    await page.click('.tree .inner summary >> nth=0');
    const lefts: (number | undefined)[] = [];
    for (const value of await page.locator('.tree .value:visible').all())
      lefts.push(Math.round((await value.boundingBox())?.x ?? 0));
    expect(new Set(lefts).size).toBe(1);
    expect(await textOf(page, '#legend')).toBe('xarefusedfailed or broke');
    await page.setViewportSize({ width: 400, height: 800 });
    await page.keyboard.press('End');
    const width: unknown = await page.evaluate('document.documentElement.scrollWidth');
    expect(width).toBe(400);
    const changes = page.locator('#row-3 .changes');
    expect((await changes.boundingBox())?.width).toBeGreaterThan(100);
  });

  test('keys work after a click on the box, and letters typed into a list choose from it', async () => {
    const page = await morning();
    await page.check('#failed');
    await page.keyboard.press('n');
    const first = await textOf(page, 'h2');
    await page.keyboard.press('n');
    expect(await textOf(page, 'h2')).not.toBe(first);
    await page.keyboard.press('N');
    expect(await textOf(page, 'h2')).toBe(first);
    await page.focus('#store');
    await page.keyboard.press('p');
    expect(await page.getAttribute('#pin', 'aria-pressed')).toBe('false');
    await page.keyboard.press('Escape');
    await page.fill('#search', 'no such words');
    expect(await textOf(page, '#nothing')).toBe('No transaction is like that. Escape shows all.');
  });

  test('begins and ends at the turns that are asked for, with the state there', async () => {
    const page = await opened(example('logs/morning.log.jsonl'), '--from', '100', '--to', '110');
    expect(await textOf(page, '#count')).toBe('11 transactions');
    expect(await textOf(page, 'h2')).toMatch(/^100 /);
    expect(await textOf(page, '#about')).toContain('2031-05-02');
    await page.click('.tree summary:has-text("deck") >> nth=0');
    const shown = await page.locator('.tree .inner .value').allTextContents();
    expect(shown).toContain('240');
  });

  test('nothing was asked of any network, and nothing went wrong', () => {
    expect([requests, errors]).toEqual([[], []]);
  });
});
