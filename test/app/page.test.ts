import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { chromium, type Browser, type BrowserContext, type Page } from 'playwright-core';
import { appAddress, chromiumArguments, chromiumPath, serveApp } from '../../scripts/browser.mjs';
import { allStyles, root } from '../helpers.js';

const executablePath = chromiumPath();
const inProject = (path: string) => fileURLToPath(new URL(path, root));

/** What someone does at the page: the same in every style. */
async function useTerminal(page: Page): Promise<readonly string[]> {
  const screens: string[] = [];
  const look = async () =>
    screens.push(await page.innerHTML('main'), await page.innerText('#said'));
  const admit = async (plate: string, lengthM: string, lane: string) => {
    await page.fill('[name=plate]', plate);
    await page.fill('[name=lengthM]', lengthM);
    await page.selectOption('[name=lane]', lane);
    await page.click('#admit button');
    await look();
  };
  const press = async (deed: string, which = 0) => {
    await page.locator(`[data-deed="${deed}"]`).nth(which).click();
    await look();
  };
  const measure = async (metres: string) => {
    await page.fill('[name=metres]', metres);
    await page.click('#stretch button >> nth=0');
    await look();
  };
  await look();
  await admit('SK 104', '4.5', 'port');
  await admit('FE 77', '12', 'centre');
  await admit('SK 9', '4', 'starboard');
  await admit('AB 310', '0', 'port');
  await press('board');
  await press('sign');
  await press('moor');
  await press('board', 1);
  await measure('180');
  await measure('eighty');
  await measure('3');
  await press('hold');
  await press('board');
  await press('hold');
  await press('turn away');
  await press('gust');
  await press('depart');
  await press('sign');
  await press('moor');
  return screens;
}

const browserOrSkip =
  executablePath === undefined && process.env.CI === undefined ? describe.skip : describe;
if (executablePath === undefined)
  process.stderr.write('The page of the example is not tried: there is no Chromium here.\n');

browserOrSkip('the example page, in a real browser', () => {
  let browser: Browser;
  let page: Page;
  const errors: string[] = [];

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
  }, 120_000);

  afterAll(async () => {
    await browser.close();
  });

  test('shows the same screens after the same clicks, in all four styles', async () => {
    const runs = new Map<string, readonly string[]>();
    for (const style of allStyles) {
      await page.check(`input[value=${style}]`);
      runs.set(style, await useTerminal(page));
    }
    const [reference = []] = runs.values();
    expect(reference.length).toBe(40);
    expect(new Set(reference).size).toBeGreaterThan(15);
    expect(reference.join()).toContain('There is more on board than that.');
    expect(reference.at(-2)).toContain('berth: 0');
    for (const screens of runs.values()) expect(screens).toEqual(reference);
    expect(errors).toEqual([]);
  }, 120_000);

  test('loads, shows what fails, and drops late answers, in all four styles', async () => {
    for (const style of allStyles) {
      await page.check(`input[value=${style}]`);
      const says = (text: string) =>
        page.locator('#line').filter({ hasText: text }).waitFor({ timeout: 8000 });
      const crossings = () => page.locator('#crossings li').count();
      await page.selectOption('#office', 'quick');
      await page.click('[data-deed=today]');
      await says('2 crossings');
      // The answer for today would come last, and counts for nothing.
      await page.selectOption('#office', 'slow');
      await page.click('[data-deed=today]');
      expect(await page.innerText('#line')).toBe('Loading ...');
      await page.selectOption('#office', 'quick');
      await page.click('[data-deed=tomorrow]');
      await says('3 crossings');
      await page.waitForTimeout(1400);
      expect(await crossings()).toBe(3);
      expect(await page.innerText('#day')).toBe('tomorrow');
      await page.selectOption('#office', 'failing');
      await page.click('[data-deed=today]');
      await says('Fog: no line to the office.');
      expect(await page.innerText('#notice')).toBe('The office does not answer (rejected).');
      expect(await page.isVisible('#cancelLoad')).toBe(false);
      await page.selectOption('#office', 'silent');
      await page.click('[data-deed=today]');
      expect(await page.innerText('#line')).toBe('Loading ...');
      await page.click('#cancelLoad');
      await says('3 crossings');
      await page.selectOption('#office', 'quick');
    }
    expect(errors).toEqual([]);
  }, 120_000);

  test('undoes and redoes what was done to the plan, in all four styles', async () => {
    for (const style of allStyles) {
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
  }, 120_000);

  test('loads the code of the tariff desk when that is opened, in all four styles', async () => {
    for (const style of allStyles) {
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
  }, 120_000);

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

    test.each(cases)('%s, over a reload, in all four styles', async (_what, text, settings) => {
      const one = await opened(await newContext());
      await one.evaluate(`localStorage.setItem('${key}', '${text}')`);
      await one.reload();
      for (const style of allStyles) expect(await settingsOf(one, style)).toEqual(settings);
      // Reading them has written nothing.
      expect(await one.evaluate(`localStorage.getItem('${key}')`)).toBe(text);
      await one.context().close();
      expect(errors).toEqual([]);
    });

    test.each(allStyles)('as they were left: %s', async (style) => {
      const one = await opened(await newContext());
      await one.check(`input[value=${style}]`);
      await one.click('[data-deed=enlarge]');
      await one.selectOption('#firstLane', 'starboard');
      await one.reload();
      expect(await settingsOf(one, style)).toEqual([true, 'starboard']);
      await one.context().close();
    });

    test.each(allStyles)('of two pages the one that changed them last: %s', async (style) => {
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
    });
  });

  test('is made of code that the compiler takes', () => {
    const { stdout, status } = spawnSync(
      process.execPath,
      [inProject('node_modules/typescript/bin/tsc'), '-p', inProject('examples/skerry/app')],
      { encoding: 'utf8' },
    );
    expect([stdout, status]).toEqual(['', 0]);
  }, 120_000);
});
