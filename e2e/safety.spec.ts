import type { Browser, Page } from '@playwright/test';
import { demoPlan } from '@wide-lattice/core/demo';
import { expect, test, visit, watchConsole } from './fixtures.js';
import { consequences, decisions, press, rowOf, sheetOf } from './pages.js';

const demo = demoPlan();

/** Another person at the same plan: a browser of their own. */
async function colleague(browser: Browser, address: string): Promise<Page> {
  const page = await (await browser.newContext()).newPage();
  watchConsole(page);
  await page.goto(address);
  return page;
}

/** The cell of a network's MTU in the sheet, opened for editing. */
async function editMtu(page: Page, name: string) {
  const row = rowOf(page, 'Networks', name).first();
  const line = await row.getAttribute('data-line');
  const place = sheetOf(page, 'Networks').locator(`[data-line="${line}"]`);
  await place.locator('[data-column="1"]').dblclick();
  return { row, editor: place.getByRole('textbox') };
}

test('two people on one field: the second sees both sides before anything is overwritten, also when their page has heard of the first', async ({
  page,
  open,
  browser,
}) => {
  await open('ground?show=networks');
  const other = await colleague(browser, page.url());
  const name = demo.networks[0]?.name ?? '';
  const mine = await editMtu(page, name);
  await mine.editor.fill('1311');
  // The colleague saves meanwhile, and this page hears of it.
  const theirs = await editMtu(other, name);
  await theirs.editor.fill('1322');
  await theirs.editor.press('Enter');
  await expect(other.getByRole('banner')).toContainText('revision 1');
  await expect(page.getByRole('banner')).toContainText('revision 1');
  await mine.editor.press('Enter');
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('edited the same fields since you began');
  const sides = dialog.getByRole('table', { name: 'Both sides, field by field' });
  await expect(sides).toContainText('1,322');
  await expect(sides).toContainText('1,311');
  await expect(rowOf(other, 'Networks', name).first()).toContainText('1,322');
  await press(page, 'Save mine on top');
  await expect(rowOf(page, 'Networks', name).first()).toContainText('1,311');
  await expect(rowOf(other, 'Networks', name).first()).toContainText('1,311');
  // One who is alone is told of nobody.
  await other.context().close();
  await expect(page.getByText(/Somebody else/)).toHaveCount(0);
});

test('the keyboard: skip link, first field, a question before what was typed is lost, the focus back, all keys', async ({
  page,
  open,
}) => {
  await open('ground?show=networks');
  await expect(sheetOf(page, 'Networks').getByRole('gridcell').first()).toBeVisible();
  await page.keyboard.press('Tab');
  const skip = page.getByRole('button', { name: 'Skip to the sheet' });
  await expect(skip).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(sheetOf(page, 'Networks').getByRole('gridcell').first()).toBeFocused();
  const add = page.getByRole('button', { name: 'Add', exact: true }).first();
  await add.click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByLabel('Name', { exact: true })).toBeFocused();
  await page.keyboard.type('half a name');
  await page.keyboard.press('Escape');
  await expect(dialog.getByText('What you typed is not saved.')).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(dialog.getByLabel('Name', { exact: true })).toHaveValue('half a name');
  await page.keyboard.press('Escape');
  await press(page, 'Discard it');
  await expect(dialog).toHaveCount(0);
  await expect(add).toBeFocused();
  await page.keyboard.press('?');
  await expect(dialog.getByRole('heading', { name: 'Keys' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(dialog).toHaveCount(0);
  // A letter typed into a cell is a letter, not a command.
  await rowOf(page, 'Networks', 'booking').first().locator('[data-column="0"]').focus();
  await page.keyboard.press('q');
  await expect(page).toHaveURL(/ground/);
  await page.keyboard.press('Escape');
});

test('back returns to the tab before, sheet and side alike', async ({ page, open }) => {
  await open('egress');
  await page.getByRole('tab', { name: /^Translation/ }).click();
  await page.getByRole('tab', { name: 'Matrix' }).click();
  await page.goBack();
  await expect(page.getByRole('tab', { name: 'Question' })).toHaveAttribute('aria-selected', 'true');
  await page.goBack();
  await expect(page.getByRole('tab', { name: 'Ways out' })).toHaveAttribute('aria-selected', 'true');
});

test('the split between the halves is dragged, kept, and stays where it is from tab to tab', async ({ page, open }) => {
  await open('egress');
  const width = async () => Math.round((await decisions(page).boundingBox())?.width ?? 0);
  const before = await width();
  await page.getByRole('tab', { name: 'Matrix' }).click();
  expect(await width()).toBe(before);
  const split = page.getByRole('separator', { name: 'Split between decisions and consequences' });
  const box = await split.boundingBox();
  if (box === null) throw new Error('no split');
  await page.mouse.move(box.x + 2, box.y + 200);
  await page.mouse.down();
  await page.mouse.move(box.x - 150, box.y + 200, { steps: 5 });
  await page.mouse.up();
  const after = await width();
  expect(after).toBeLessThan(before - 100);
  await page.reload();
  await expect.poll(width).toBe(after);
  await split.focus();
  await page.keyboard.press('ArrowRight');
  await expect.poll(width).toBeGreaterThan(after);
});

test('at 390 pixels the halves stand below one another, and no page is wider than the window', async ({
  page,
  open,
}) => {
  await page.setViewportSize({ width: 390, height: 844 });
  for (const view of [
    'board',
    'ground',
    'demand',
    'ranges',
    'pod-network',
    'egress',
    'ingress',
    'dns',
    'cross-cluster',
    'rehearsal',
    'findings',
    'history',
    'handover',
  ]) {
    await open(view);
    await expect(page.locator('main')).not.toBeEmpty();
    expect([view, await page.evaluate(() => document.documentElement.scrollWidth)]).toEqual([view, 390]);
    if (view === 'board') continue;
    const [left, right] = [await decisions(page).boundingBox(), await consequences(page).boundingBox()];
    expect([view, left?.width, right?.width]).toEqual([view, 390, 390]);
    expect(right?.y ?? 0).toBeGreaterThan(left?.y ?? 0);
  }
});

test('a zone file for another zone is read into none, and what a file leaves out stays until its removal is asked for', async ({
  page,
  open,
}) => {
  const [zone] = demo.zones;
  await open(`dns?show=zones&side=files&zone=${zone?.id}`);
  const right = consequences(page);
  const editor = right.getByRole('textbox', { name: 'Zone file' });
  await editor.fill('$ORIGIN nowhere.test.\n@ 3600 SOA ns h 1 2 3 4 5\nwww A 192.0.2.1\n');
  await expect(right.getByRole('list', { name: 'Problems' })).toContainText('The file is for nowhere.test');
  await expect(right.getByRole('button', { name: /^Apply/ })).toHaveCount(0);
  await press(page, 'Show the zone file');
  await expect(right.getByText('the zone holds it as it is')).toBeVisible();
  const text = await editor.innerText();
  const lines = text.split('\n').filter((line) => !/\sA\s/.test(line));
  await editor.fill(lines.join('\n'));
  const remove = right.getByRole('checkbox', { name: /Remove (it|them) too/ });
  await expect(remove).not.toBeChecked();
  await expect(right.getByRole('button', { name: 'Apply 0 rows' })).toBeDisabled();
  await remove.check();
  await expect(right.getByRole('button', { name: /^Apply [1-9]/ })).toBeEnabled();
  // A line that cannot be read may be the very record: then nothing is gone.
  await editor.fill(`${lines.join('\n')}\nwww A 192.0.2.999\n`);
  await expect(right.getByText('no record of the zone counts as gone')).toBeVisible();
  await expect(remove).toHaveCount(0);
});

/** A page whose worker fails in all it is asked, or in one thing, as by a fault in the core; what the browser logs of it is not looked at. */
async function failing(browser: Browser, only = ''): Promise<Page> {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await page.addInitScript((one) => {
    const Own = Worker;
    window.Worker = class extends Own {
      override postMessage(message: unknown, transfer?: Transferable[] | StructuredSerializeOptions): void {
        // As the library between page and worker writes a call.
        const { path, argumentList } = message as { path?: string[]; argumentList?: { value?: unknown }[] };
        const name = argumentList?.[0];
        if (path?.[0] === 'ask' && name !== undefined && (one === '' || one === name.value))
          name.value = 'no such slice';
        super.postMessage(message, transfer as Transferable[]);
      }
    };
  }, only);
  return page;
}

test('a computation that fails says so in its place, and the page goes on', async ({ planId, browser }) => {
  const page = await failing(browser, 'trace');
  await page.goto(
    `/plans/${planId}/egress?show=routeTables&from=node+of+booking-north&to=the+internet+tcp+443&bytes=1400`,
  );
  const right = consequences(page);
  await expect(right.getByRole('alert')).toContainText('This could not be computed.');
  await expect(right.getByRole('button', { name: 'Try again' })).toBeVisible();
  await expect(sheetOf(page, 'Route tables')).toBeVisible();
  await page.getByRole('tab', { name: 'Proposals' }).click();
  await expect(right.getByText('What the decisions ask for')).toBeVisible();
  await page.context().close();
});

test('a page that cannot be fetched says so in its place, and is there once it can', async ({ planId, browser }) => {
  // A page of its own: the browser complains of what was not fetched.
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await page.route(/DnsPage/, (route) => route.abort());
  await page.goto(`/plans/${planId}/board`);
  const course = page.getByRole('navigation', { name: 'Course of the work' });
  await course.getByRole('link', { name: /DNS/ }).click();
  await expect(page.locator('main').getByRole('alert')).toContainText('This page could not be fetched.');
  await expect(course).toBeVisible();
  await page.unroute(/DnsPage/);
  await page.locator('main').getByRole('button', { name: 'Try again' }).click();
  await expect(page.getByRole('tab', { name: /^Zones/ })).toBeVisible();
  await page.context().close();
});

const asking = [
  'board',
  'ground',
  'ground?side=reach',
  'demand?side=cost',
  'demand?show=templates',
  'ranges',
  'ranges?side=use',
  'pod-network',
  'pod-network?side=fleet',
  'pod-network?side=locked',
  'egress?from=node+of+booking-north&to=the+internet+tcp+443&bytes=1400',
  'egress?side=matrix',
  'egress?side=propose',
  'ingress',
  'ingress?side=load&from=the+internet&to=https%3A%2F%2Ftickets.skerryline.example%2F',
  'ingress?side=manifests',
  'dns',
  'dns?side=load',
  'dns?side=propose',
  'cross-cluster',
  'cross-cluster?side=uses',
  'cross-cluster?side=drills',
  'rehearsal',
  'rehearsal?even=yes&side=objects',
  'rehearsal?side=tests',
  'findings',
  'print',
];

test('whatever of a page is asked for and fails, it ends in words', async ({ planId, browser }) => {
  test.slow();
  const page = await failing(browser);
  await page.goto(`/plans/${planId}/history`);
  await expect(page.getByRole('navigation', { name: 'Course of the work' })).toBeVisible();
  for (const view of asking) {
    // By a page that asks for nothing, so that no alert of the view before is taken for its own.
    await visit(page, `/plans/${planId}/history`);
    await expect(page.locator('main').getByRole('alert')).toHaveCount(0);
    await visit(page, `/plans/${planId}/${view}`);
    await expect
      .soft(page.locator('main').getByRole('alert').first(), view)
      .toContainText('This could not be computed.');
    await expect.soft(page.locator('main').getByText('Computing...'), view).toHaveCount(0);
  }
  await expect(page.getByRole('banner')).toContainText('findings failed');
  await page.context().close();
});
