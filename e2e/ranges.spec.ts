import { idOf, pageOf } from './demo.js';
import { readFileSync } from 'node:fs';
import { expect, expectAccessible, test } from './fixtures.js';
import { press, rowOf, sheetOf, tableOf } from './pages.js';

test('a range is resized on the ribbon by keys and by its edge, with the consequences before it is stored', async ({
  page,
  open,
}) => {
  await open('ranges?view=10.28.0.0/16');
  const ribbon = page.getByRole('region', { name: 'Ribbon' });
  const draft = ribbon.getByRole('group', { name: 'Range being resized' });
  const tide = () => ribbon.getByRole('button', { name: /^10\.28\.0\.0\/\d+ tide-models pod/ });
  await expect(ribbon.getByRole('button', { name: /room for 10\.28\.0\.0\/19 to grow/ }).first()).toBeVisible();
  await tide().focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(draft).toContainText('10.28.0.0/18');
  await page.keyboard.press('Shift+ArrowRight');
  await expect(draft).toContainText('10.28.0.0/17');
  await expect(draft).toContainText('ends');
  await expect(draft).toContainText('tide-models: the pod range 10.28.0.0/19 is too small');
  await expect(tide()).toHaveAccessibleName(/10\.28\.0\.0\/17/);
  await page.keyboard.press('Escape');
  await expect(draft).toHaveCount(0);
  const edge = page.locator('[data-edge="right 10.28.0.0/19"]');
  const box = await edge.boundingBox();
  const [x, y] = [(box?.x ?? 0) + 2, (box?.y ?? 0) + 8];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 30, y, { steps: 4 });
  await page.mouse.up();
  await expect(draft).toContainText('10.28.0.0/18');
  await expectAccessible(page);
  await draft.getByRole('button', { name: 'Save' }).click();
  await expect(sheetOf(page, 'Allocated ranges')).toContainText('10.28.0.0/18');
});

test('the ribbon goes to an address, a prefix or a name', async ({ page, open }) => {
  await open('ranges');
  const search = page.getByLabel('Go to an address, prefix or name');
  await search.fill('10.41.0.9');
  await search.press('Enter');
  await expect(page).toHaveURL(/view=10\.41\.0\.0%2F24/);
  await search.fill('models-files');
  await search.press('Enter');
  await expect(
    page.getByRole('region', { name: 'Ribbon' }).getByRole('button', { name: /models-files/ }),
  ).toBeVisible();
  await search.fill('nobody');
  await search.press('Enter');
  await expect(page.getByText('Nothing with addresses is called "nobody".')).toBeVisible();
});

test('the ways to end an overlap are compared and one is applied', async ({ page, open }) => {
  await open('findings');
  await page
    .getByRole('grid', { name: 'Findings' })
    .getByText(/Pod range of shared-services/)
    .click();
  await page.getByRole('button', { name: 'Compare the fixes' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('radio')).not.toHaveCount(0);
  await expect(dialog.locator('label').first()).toContainText('nothing built');
  await expect(dialog).toContainText('Do not make the link coach-join');
  await expectAccessible(page);
  await dialog.getByRole('button', { name: 'Do this' }).click();
  await expect(dialog).toHaveCount(0);
  await expect(sheetOf(page, 'Findings').getByText(/Pod range of shared-services/)).toHaveCount(0);
});

test('a proposal says the routes before and after, and can leave room to grow', async ({ page, open }) => {
  await open('ranges');
  await press(page, 'Propose');
  const dialog = page.getByRole('dialog');
  const nodes = dialog.getByRole('row').filter({ hasText: 'weather-models' }).filter({ hasText: 'node' }).first();
  await expect(nodes).toContainText('/25');
  await dialog.getByText(/Advertised routes of the sites it touches/).click();
  await expect(dialog.getByRole('table', { name: 'Advertised routes' })).toContainText('Orrery east');
  await dialog.getByLabel('Subnets sized for today, with room to grow beside').check();
  await expect(nodes).toContainText('/27');
});

test('use by site and purpose opens its working', async ({ page, open }) => {
  await open('ranges?side=use');
  const row = rowOf(page, 'Use by site and purpose', 'Ardle pier');
  await row.filter({ hasText: 'pod' }).getByRole('button').last().click();
  await expect(page.getByRole('dialog')).toContainText('taken ÷ allocated');
});

test('a cluster shows the largest that fits and what longer prefixes free, and keeps addresses in a row', async ({
  page,
  open,
}) => {
  await open(pageOf('harbour-ops'));
  await expect(tableOf(page, 'Largest that still fits')).toContainText('Overlay pods');
  await expect(tableOf(page, 'What a longer per-node prefix would free')).toContainText('frees 8,192');
  await expect(tableOf(page, 'Consecutive addresses that are kept')).toContainText('harbour-ops control plane');
  await page.getByLabel('How many').fill('400');
  await expect(page.getByText('Write a whole number from 1 to 256.')).toBeVisible();
  await page.getByLabel('How many').fill('2');
  await page.getByLabel('Kept for').fill('ingress addresses');
  await page.getByRole('button', { name: 'Keep them' }).click();
  await expect(tableOf(page, 'Consecutive addresses that are kept')).toContainText('10.43.240.135');
  await page.getByLabel('How many').fill('200');
  await expect(page.getByText(/No 200 consecutive addresses are free/)).toBeVisible();
});

test('the board is narrowed to a finding', async ({ page, open }) => {
  await open('board');
  await page.getByLabel('Which finding').selectOption('ranges missing (4)');
  await expect(page.getByText('4 of 48 clusters')).toBeVisible();
  await expect(page).toHaveURL(/finding=range\.missing/);
});

test('entry ranges are a strand of the board once a cluster has subnets for them', async ({ page, open }) => {
  await open(pageOf('harbour-ops'));
  await page.getByLabel('Entry subnets').selectOption('yes');
  await press(page, 'Save');
  await expect(page.getByLabel('entry range IPv4')).toHaveValue('');
  await page.getByRole('link', { name: 'Board' }).first().click();
  const board = sheetOf(page, 'Board of clusters');
  await expect(board.getByRole('columnheader', { name: 'Entry ranges' })).toBeVisible();
  await expect(board.getByRole('row').filter({ hasText: 'harbour-ops' })).toContainText('1 missing');
});

test('two versions are compared on the ribbon', async ({ page, open }) => {
  await open('ranges');
  await press(page, 'Propose');
  await page.getByRole('button', { name: /^Apply/ }).click();
  await page.goto(page.url().replace('ranges', 'history?show=versions&from=0'));
  const figure = page.getByRole('figure', { name: 'The two on the ribbon' });
  await figure.getByLabel('On the ribbon of').selectOption('Backbone, 10.16.0.0/12');
  await expect(figure.getByRole('img').first()).toBeVisible();
  await expectAccessible(page);
});

test('the address plan is read as a page and saved as PDF', async ({ page, open }, info) => {
  await open('handover');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Download Address plan, PDF' }).click(),
  ]);
  const path = info.outputPath('plan.pdf');
  await download.saveAs(path);
  expect(readFileSync(path, 'latin1').slice(0, 5)).toBe('%PDF-');
  await page.getByRole('link', { name: 'address plan', exact: true }).click();
  await expect(page.getByRole('heading', { name: /^Address plan: Copy/ })).toBeVisible();
  await expect(page.getByRole('img', { name: /% taken/ })).toHaveCount(7);
  await expect(page.getByText('10.23.96.0/25').first()).toBeVisible();
  await page.emulateMedia({ media: 'print' });
  await expect(page.getByRole('button', { name: 'Print' })).toBeHidden();
  await expect(page.getByRole('navigation', { name: 'Course of the work' })).toBeHidden();
});

test('pod networks are compared for a cluster, weighed, and one is chosen; a built cluster is locked', async ({
  page,
  open,
}) => {
  await open(`pod-network?cluster=${idOf('tide-models')}`);
  const table = tableOf(page, 'Pod networks for tide-models');
  const possible = table.getByRole('row', { name: /^Possible/ });
  await expect(possible).toContainText('overlay addresses end at the cluster');
  await expect(possible).toContainText('Orrery gives pods no addresses from subnets');
  await expect(table.getByRole('row', { name: /^Largest packet between pods/ })).toContainText('1,450 bytes');
  await table
    .getByRole('row', { name: /^Efficiency/ })
    .getByRole('button')
    .first()
    .click();
  // IEEE 802.3 and RFC 7348: 1410 of 1538 bytes.
  await expect(page.getByRole('dialog')).toContainText('1,410 ÷ 1,538 = 91.7 %');
  await page.keyboard.press('Escape');
  await expect(table.getByRole('button', { name: 'Use native' })).toBeDisabled();
  const weight = page.getByLabel('Weight of reach');
  await weight.focus();
  await page.keyboard.press('ArrowRight');
  await expect(tableOf(page, 'Weights').getByRole('row', { name: /^Reach/ })).toContainText('6');
  await sheetOf(page, 'Clusters').getByText('timetable').click();
  const other = tableOf(page, 'Pod networks for timetable');
  await other.getByRole('button', { name: 'Use native' }).click();
  await expect(other.getByRole('columnheader', { name: /Native now/ })).toBeVisible();
  await sheetOf(page, 'Clusters').getByText('booking-north').click();
  await expect(page.getByText('Built: the pod network is locked.')).toBeVisible();
  await page.getByRole('tab', { name: 'Locked decisions' }).click();
  await expect(sheetOf(page, 'Locked decisions')).toContainText('booking-north');
  await page.getByRole('tab', { name: 'On the wire' }).click();
  await sheetOf(page, 'Clusters').getByText('harbour-ops').click();
  const paths = tableOf(page, 'Packets of harbour-ops');
  await expect(paths.getByRole('row', { name: /coast-radar/ })).toContainText('1,438');
});
