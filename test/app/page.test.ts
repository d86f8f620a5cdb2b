import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { chromium, type Browser, type BrowserContext, type Page } from 'playwright-core';
import { appAddress, chromiumArguments, chromiumPath, serveApp } from '../../scripts/browser.mjs';
import { projectComplaints } from '../compiler.js';
import { allStyles, root } from '../helpers.js';
import { drawn, loadTimetables, useTerminal } from './use-terminal.js';
import { someOf } from '../sweep.js';

/** The styles that are tried: another share each time, all of them in a soak. */
const styles = someOf(allStyles, 1);

const executablePath = chromiumPath();
const inProject = (path: string) => fileURLToPath(new URL(path, root));

const browserOrSkip =
  executablePath === undefined && process.env.CI === undefined ? describe.skip : describe;
if (executablePath === undefined)
  process.stderr.write('The page of the example is not tried: there is no Chromium here.\n');

browserOrSkip('the example page, in a real browser', () => {
  let browser: Browser;
  let page: Page;
  const errors: string[] = [];
  let plainScreens: Promise<readonly string[]> | undefined;

  /** A browser of its own, with an empty storage. */
  async function newContext(): Promise<BrowserContext> {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    await serveApp(context);
    return context;
  }

  async function opened(context: BrowserContext): Promise<Page> {
    const one = await context.newPage();
    one.on('pageerror', (error) => errors.push(error.message));
    await one.goto(appAddress);
    return one;
  }

  beforeAll(async () => {
    const { status, stderr } = spawnSync(
      process.execPath,
      [inProject('scripts/app.mjs'), '--build'],
      {
        cwd: fileURLToPath(root),
        encoding: 'utf8',
      },
    );
    expect([status, stderr]).toEqual([0, '']);
    browser = await chromium.launch({
      ...(executablePath === undefined ? {} : { executablePath }),
      args: chromiumArguments,
    });
    page = await opened(await newContext());
  });

  afterAll(async () => {
    await browser.close();
  });

  test('shows the same screens after the same clicks, in each style', async () => {
    const runs = new Map<string, readonly string[]>();
    for (const style of someOf(allStyles, 2)) {
      await page.check(`input[value=${style}]`);
      runs.set(style, await useTerminal(page, () => page.innerHTML('main')));
    }
    const [reference = []] = runs.values();
    expect(reference.length).toBe(40);
    expect(new Set(reference).size).toBeGreaterThan(15);
    expect(reference.join()).toContain('There is more on board than that.');
    expect(reference.at(-2)).toContain('berth: 0');
    for (const screens of runs.values()) expect(screens).toEqual(reference);
    expect(errors).toEqual([]);
  });

  test('loads, shows what fails, and drops late answers, in each style', async () => {
    for (const style of styles) {
      await page.check(`input[value=${style}]`);
      await loadTimetables(page);
    }
    expect(errors).toEqual([]);
  });

  test('undoes and redoes what was done to the plan, in each style', async () => {
    for (const style of styles) {
      await page.check(`input[value=${style}]`);
      const plan = async () => [
        await page.innerText('#called'),
        await page.inputValue('#planNote'),
      ];
      const isOff = (id: string) => page.isDisabled(id);
      expect(await Promise.all([isOff('#undo'), isOff('#redo')])).toEqual([true, true]);
      await page.click('[data-deed=port]');
      await page.click('[data-deed=centre]');
      await page.locator('#planNote').pressSequentially('lorries');
      expect(await plan()).toEqual(['port, centre', 'lorries']);
      // What is typed in a row is undone at once.
      await page.click('#undo');
      expect(await plan()).toEqual(['port, centre', '']);
      await page.click('#undo');
      expect(await plan()).toEqual(['port', '']);
      await page.click('#redo');
      await page.click('#redo');
      expect(await plan()).toEqual(['port, centre', 'lorries']);
      expect(await isOff('#redo')).toBe(true);
      await page.click('#undo');
      await page.click('[data-deed=starboard]');
      expect(await isOff('#redo')).toBe(true);
    }
    expect(errors).toEqual([]);
  });

  test('shows what happens in another tab, in each style', async () => {
    const context = await newContext();
    const one = await opened(context);
    for (const style of styles) {
      await one.check(`input[value=${style}]`);
      await one.fill('[name=plate]', 'SK 1');
      await one.click('#admit button');
      const [timeline] = await Promise.all([
        context.waitForEvent('page'),
        one.click('text=What happened'),
      ]);
      timeline.on('pageerror', (error) => errors.push(error.message));
      // What was there before is asked for, what comes later is heard.
      await timeline.waitForSelector('.row >> text=deck.admit');
      await one.click('text=Gust of 22');
      await timeline.waitForSelector('.row >> text=wind.measure');
      expect(await timeline.textContent('#count')).toBe('2 transactions');
      await timeline.close();
    }
    expect(errors).toEqual([]);
    await context.close();
  });

  test('loads the code of the tariff desk when that is opened, in each style', async () => {
    for (const style of styles) {
      const one = await opened(await newContext());
      const loaded: string[] = [];
      one.on('request', (request) => loaded.push(new URL(request.url()).pathname));
      await one.check(`input[value=${style}]`);
      await one.fill('[name=plate]', 'SK 104');
      await one.fill('[name=lengthM]', '10');
      await one.click('#admit button');
      await one.click('[data-deed=sign]');
      await one.click('[data-deed=board]');
      expect(await one.innerText('#due')).toBe('closed');
      expect(loaded).toEqual([]);
      await one.click('#openTariff');
      await one.locator('#due').filter({ hasText: '60 EUR' }).waitFor({ timeout: 8000 });
      expect(loaded).toEqual([expect.stringMatching(/^\/chunks\/tariff-\w+\.js$/)]);
      await one.click('#raise');
      expect(await one.innerText('#due')).toBe('70 EUR due on board');
      await one.context().close();
    }
    expect(errors).toEqual([]);
  });

  describe('keeps the settings of the desk', () => {
    const key = 'skerry-settings';
    const isLarge = async (one: Page) => (await one.locator('body.large').count()) > 0;
    const settingsOf = async (one: Page, style: string) => {
      await one.check(`input[value=${style}]`);
      return [await isLarge(one), await one.inputValue('#firstLane')];
    };

    /** What stands in the storage before a reload, and what the page begins with after it. */
    const cases: readonly (readonly [string, string, readonly unknown[]])[] = [
      [
        'of now',
        '{"version":2,"fields":{"largeType":true,"firstLane":"centre"}}',
        [true, 'centre'],
      ],
      ['of the version before', '{"version":1,"fields":{"type":"large"}}', [true, 'port']],
      ['of a version to come', '{"version":3,"fields":{"largeType":true}}', [false, 'port']],
      ['that are no JSON', '{"version":2,"fie', [false, 'port']],
      ['of another program', '[1, 2]', [false, 'port']],
      ['that do not fit', '{"version":2,"fields":{"largeType":"yes"}}', [false, 'port']],
    ];

    test.each(cases)('%s, over a reload, in each style', async (_what, text, settings) => {
      const one = await opened(await newContext());
      await one.evaluate(`localStorage.setItem('${key}', '${text}')`);
      await one.reload();
      for (const style of styles) expect(await settingsOf(one, style)).toEqual(settings);
      // Reading them has written nothing.
      expect(await one.evaluate(`localStorage.getItem('${key}')`)).toBe(text);
      await one.context().close();
      expect(errors).toEqual([]);
    });

    test.each(someOf(allStyles, 1))('as they were left: %s', async (style) => {
      const one = await opened(await newContext());
      await one.check(`input[value=${style}]`);
      await one.click('[data-deed=enlarge]');
      await one.selectOption('#firstLane', 'starboard');
      await one.reload();
      expect(await settingsOf(one, style)).toEqual([true, 'starboard']);
      await one.context().close();
    });

    test.each(someOf(allStyles, 1))(
      'of two pages the one that changed them last: %s',
      async (style) => {
        const context = await newContext();
        const [one, other] = [await opened(context), await opened(context)];
        await one.check(`input[value=${style}]`);
        await other.check(`input[value=${style}]`);
        await one.click('[data-deed=enlarge]');
        // The other page has read them already, and keeps its own.
        expect(await isLarge(other)).toBe(false);
        await other.selectOption('#firstLane', 'centre');
        await one.reload();
        expect(await settingsOf(one, style)).toEqual([false, 'centre']);
        await context.close();
      },
    );
  });

  describe.each(['react', 'vue', 'angular'])('with the readers of %s', (framework) => {
    /** The page drawn by the framework, in a browser of its own. */
    async function framed(): Promise<Page> {
      const one = await opened(await newContext());
      await one.goto(`${appAddress}${framework}.html`);
      return one;
    }
    /** What the page without a framework says; found once. */
    const screensOfPlainPage = () =>
      (plainScreens ??= (async () => {
        const plain = await opened(await newContext());
        return useTerminal(plain, () => halves(plain));
      })());

    /** What the two halves of the screen say, without spaces; the plain page has a third one. */
    const halves = async (one: Page) =>
      (await one.locator('main > section').allInnerTexts()).slice(0, 2).join().replace(/\s+/g, '');

    test('shows the same screens after the same clicks', async () => {
      const one = await framed();
      const expected = await screensOfPlainPage();
      expect(new Set(expected).size).toBeGreaterThan(15);
      expect(await useTerminal(one, () => halves(one))).toEqual(expected);
      expect(errors).toEqual([]);
      await one.context().close();
    });

    test('loads, shows what fails, and drops late answers', async () => {
      const one = await framed();
      await loadTimetables(one);
      expect(errors).toEqual([]);
      await one.context().close();
    });

    test('undoes, keeps the settings over a reload, and loads the tariff desk when it is opened', async () => {
      const one = await framed();
      await one.click('[data-deed=port]');
      await one.click('[data-deed=centre]');
      await one.locator('#planNote').pressSequentially('lorries');
      await one.click('#undo');
      await one.click('#undo');
      await drawn(one);
      expect(await one.innerText('#called')).toBe('port');
      expect(await one.inputValue('#planNote')).toBe('');
      await one.click('#redo');
      await drawn(one);
      expect(await one.isDisabled('#redo')).toBe(false);
      await one.click('[data-deed=enlarge]');
      await one.selectOption('#firstLane', 'starboard');
      await drawn(one);
      expect(await one.inputValue('#lane')).toBe('starboard');
      await one.reload();
      await one.locator('body.large').waitFor();
      await drawn(one);
      expect(await one.inputValue('#lane')).toBe('starboard');
      const loaded: string[] = [];
      one.on('request', (request) => loaded.push(new URL(request.url()).pathname));
      expect(await one.innerText('#due')).toBe('closed');
      await one.click('#openTariff');
      await one.locator('#due').filter({ hasText: '0 EUR' }).waitFor({ timeout: 8000 });
      expect(loaded).toEqual([expect.stringMatching(/^\/chunks\/tariff-\w+\.js$/)]);
      await one.click('#raise');
      await drawn(one);
      expect(await one.innerText('#said')).toBe('');
      expect(errors).toEqual([]);
      await one.context().close();
    });
  });

  test.each(['', '/angular'])('is made of code that the compiler takes: %s', (folder) => {
    expect(projectComplaints(`examples/skerry/app${folder}`)).toEqual([]);
  });
});
