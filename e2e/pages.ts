import type { Locator, Page } from '@playwright/test';
import { expect } from './fixtures.js';

/** The half of a working screen that says what follows. */
export const consequences = (page: Page): Locator => page.getByRole('region', { name: 'Consequences' });

/** The half in which is decided. */
export const decisions = (page: Page): Locator => page.getByRole('region', { name: 'Decisions' });

/** A sheet by its name: "Clusters". */
export const sheetOf = (page: Page, name: string): Locator => page.getByRole('grid', { name });

/** A row of a sheet, by a text in it. */
export const rowOf = (page: Page, name: string, text: string): Locator =>
  sheetOf(page, name).getByRole('row').filter({ hasText: text });

/** What stands in the cells of a whole sheet; rows come into being as they are scrolled to. */
export async function cellTexts(page: Page, name: string): Promise<Set<string>> {
  const sheet = sheetOf(page, name);
  await expect(sheet.getByRole('gridcell').first()).toBeVisible();
  const texts = new Set<string>();
  for (let at = 0; ; at += 200) {
    const isEnd = await sheet.evaluate((grid, top) => {
      grid.scrollTo(0, top);
      return top >= grid.scrollHeight - grid.clientHeight;
    }, at);
    // A frame for the rows that come into sight.
    await page.evaluate(() => new Promise((seen) => requestAnimationFrame(() => requestAnimationFrame(seen))));
    for (const text of await sheet.getByRole('gridcell').allInnerTexts()) texts.add(text.trim());
    if (isEnd) break;
  }
  await sheet.evaluate((grid) => grid.scrollTo(0, 0));
  return texts;
}

/** A table by its name: "What runs out first". */
export const tableOf = (within: Page | Locator, name: string): Locator => within.getByRole('table', { name });

/** Presses a button of the page by its whole name. */
export async function press(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name, exact: true }).click();
}

/** Goes to a stop, to the findings or to the history by its link in the course: a page that is about to go may have one of that name too. */
export async function goTo(page: Page, name: string | RegExp): Promise<void> {
  await page.getByRole('navigation', { name: 'Course of the work' }).getByRole('link', { name }).click();
}

/** The history with this many changes in it: one row each under the head. */
export async function expectChanges(page: Page, count: number): Promise<void> {
  await goTo(page, 'History');
  await expect(sheetOf(page, 'History').getByRole('row')).toHaveCount(count + 1);
}

/** Opens the import of the sheet in sight and pastes rows; gives the dialog. */
export async function pasteRows(page: Page, text: string): Promise<Locator> {
  await page.getByRole('button', { name: 'Import' }).click();
  await page.getByLabel(/Paste CSV/).fill(text);
  return page.getByRole('dialog');
}
