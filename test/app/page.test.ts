import { spawnSync } from 'node:child_process';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { chromium, type Browser, type Page } from 'playwright-core';
import { chromiumArguments, chromiumPath } from '../../scripts/browser.mjs';
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

  beforeAll(async () => {
    const { status, stderr } = spawnSync(process.execPath, [inProject('scripts/app.mjs')], {
      cwd: fileURLToPath(root),
      encoding: 'utf8',
    });
    expect([status, stderr]).toEqual([0, '']);
    browser = await chromium.launch({
      ...(executablePath === undefined ? {} : { executablePath }),
      args: chromiumArguments,
    });
    page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    page.on('pageerror', (error) => errors.push(error.message));
    await page.goto(pathToFileURL(inProject('.cache/app/index.html')).href);
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

  test('is made of code that the compiler takes', () => {
    const { stdout, status } = spawnSync(
      process.execPath,
      [inProject('node_modules/typescript/bin/tsc'), '-p', inProject('examples/skerry/app')],
      { encoding: 'utf8' },
    );
    expect([stdout, status]).toEqual(['', 0]);
  }, 120_000);
});
