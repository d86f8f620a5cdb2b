import { expect } from '@jest/globals';
import type { Page } from 'playwright-core';

/** Frameworks draw a little later than something changes. */
export const drawn = (page: Page): Promise<void> =>
  page.evaluate(
    'new Promise((done) => setTimeout(() => requestAnimationFrame(() => setTimeout(done))))',
  );

/** What someone does at the page: the same in every style; gives the screens, and what was said of each action. */
export async function useTerminal(
  page: Page,
  screen: () => Promise<string>,
): Promise<readonly string[]> {
  const screens: string[] = [];
  const look = async () => {
    await drawn(page);
    screens.push(await screen(), await page.innerText('#said'));
  };
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

/** Loads timetables while the office is quick, slow, failing and silent: late answers and failures too. */
export async function loadTimetables(page: Page): Promise<void> {
  const says = (text: string) =>
    page.locator('#line').filter({ hasText: text }).waitFor({ timeout: 8000 });
  const crossings = () => page.locator('#crossings li').count();
  await page.selectOption('#office', 'quick');
  await page.click('[data-deed=today]');
  await says('2 crossings');
  // The answer for today would come last, and counts for nothing.
  await page.selectOption('#office', 'slow');
  await page.click('[data-deed=today]');
  await says('Loading ...');
  await page.selectOption('#office', 'quick');
  await page.click('[data-deed=tomorrow]');
  await says('3 crossings');
  await page.waitForTimeout(1400);
  expect(await crossings()).toBe(3);
  expect(await page.innerText('#day')).toBe('tomorrow');
  await page.selectOption('#office', 'failing');
  await page.click('[data-deed=today]');
  await says('Fog: no line to the office.');
  await drawn(page);
  expect(await page.innerText('#notice')).toBe('The office does not answer (rejected).');
  expect(await page.isVisible('#cancelLoad')).toBe(false);
  await page.selectOption('#office', 'silent');
  await page.click('[data-deed=today]');
  await says('Loading ...');
  await page.click('#cancelLoad');
  await says('3 crossings');
  await page.selectOption('#office', 'quick');
}
