import { readFileSync } from 'node:fs';
import { expect, expectAccessible, test } from './fixtures.js';
import { consequences, expectChanges, goTo, pasteRows, press, rowOf, sheetOf } from './pages.js';

test('a quick start gives a whole network as a difference, and it is taken as one change', async ({ page, open }) => {
  await open('demand');
  await page.getByRole('button', { name: 'Quick start' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name').fill('refunds');
  await dialog.getByLabel('Site').selectOption('Halden south');
  const made = dialog.getByRole('table', { name: 'What would be made' });
  await expect(made.getByRole('row').filter({ hasText: 'private node subnet' })).toHaveCount(2);
  await expect(made).toContainText('refunds-private-s1');
  await expect(made.getByRole('row').filter({ hasText: 'public nat subnet' })).toContainText('direct, public');
  await expect(dialog).toContainText('It brings no new error or warning.');
  await dialog.getByLabel('Size').selectOption({ label: 'own: say the counts' });
  await dialog.getByLabel('Zones').fill('0');
  await expect(dialog).toContainText('Zones: write a whole number from 1 to 9.');
  await expectAccessible(page);
  await dialog.getByLabel('Zones').fill('2');
  await dialog.getByLabel('Purpose').selectOption('batch');
  await expect(made.getByRole('row').filter({ hasText: 'entry' })).toHaveCount(0);
  await dialog.getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByRole('heading', { name: 'refunds' })).toBeVisible();
  await expectChanges(page, 1);
  await goTo(page, /Ground/);
  await page.getByRole('tab', { name: /^Subnets/ }).click();
  await expect(sheetOf(page, 'Subnets')).toContainText('refunds-nat');
});

test('columns with other headings are named by hand; a second import shows what changes and drops nothing silently', async ({
  page,
  open,
}) => {
  await open('ground?show=inUse');
  await pasteRows(page, 'Netz,Wer,Farbe\n10.20.0.0/16,Desks and phones,rot\n10.211.0.0/16,Werft,blau\n');
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Netz').selectOption('Prefix');
  await dialog.getByLabel('Wer').selectOption('Owner');
  await dialog.getByLabel('Farbe').selectOption('leave it out');
  await expect(dialog).toContainText('2 rows: 2 new');
  await page
    .getByLabel(/Paste CSV/)
    .fill('prefix,owner,network\n10.20.0.0/16,Desks and phones,head-office\n10.100.0.0/16,Ferry control,basalt-lan\n');
  await expect(dialog).toContainText('2 rows: 0 new, 1 changed, 1 as in the plan');
  await expect(dialog.getByRole('table', { name: 'Rows that change what is there' })).toContainText(
    'Head office desks',
  );
  await expect(dialog).toContainText('8 in the plan are not named here and stay.');
  await expectAccessible(page);
  await dialog.getByRole('checkbox').check();
  await dialog.getByRole('button', { name: 'Import 1 valid row, remove 8' }).click();
  const sheet = sheetOf(page, 'Ranges in use elsewhere');
  await expect(sheet.getByRole('row')).toHaveCount(3);
  await expect(sheet).toContainText('Desks and phones');
});

test('a file that is too large or in another encoding is refused with the limit and the mend, and markup stays text', async ({
  page,
  open,
}) => {
  await open('ground?show=inUse');
  await page.getByRole('button', { name: 'Import' }).click();
  const choose = page.getByLabel('Choose a file');
  const file = (buffer: Buffer) => ({ name: 'ranges.csv', mimeType: 'text/csv', buffer });
  // The dialog goes by the size before it reads: 20 MB stand for more.
  await choose.setInputFiles(file(Buffer.alloc(20_000_000, 'a')));
  await expect(page.getByRole('alert')).toContainText('20 MB; an import takes 10 MB');
  await choose.setInputFiles(file(Buffer.from('prefix,owner\n10.0.0.0/8,Größe', 'latin1')));
  await expect(page.getByRole('alert')).toContainText('not UTF-8');
  await page
    .getByLabel(/Paste CSV/)
    .fill('prefix,owner\n10.219.0.0/16,<img src=x onerror=alert(1)>\n10.220.0.0/16,=1+1\n');
  await page.getByRole('button', { name: 'Import 2 valid rows' }).click();
  const sheet = sheetOf(page, 'Ranges in use elsewhere');
  await expect(sheet).toContainText('<img src=x onerror=alert(1)>');
  expect(await sheet.locator('img').count()).toBe(0);
});

test('rows are marked and one field of all is set as one change; cells pasted fill the sheet', async ({
  page,
  open,
}) => {
  await open('demand?filter=kiosk-&cols=name,nodesNow,nodesHorizon,services');
  const sheet = sheetOf(page, 'Clusters');
  await sheet.locator('[data-line="0"] [data-column="0"]').click();
  await sheet.locator('[data-line="3"] [data-column="0"]').click({ modifiers: ['Shift'] });
  await expect(page.getByText('4 marked')).toBeVisible();
  await page.getByLabel('Field to set').selectOption('Services');
  await page.getByLabel('Value for all marked rows').fill('-1');
  await press(page, 'Set all');
  await expect(page.getByRole('alert')).toContainText('outside 0 to 500,000');
  await page.getByLabel('Value for all marked rows').fill('77');
  await press(page, 'Set all');
  for (const line of [0, 1, 2, 3]) await expect(sheet.locator(`[data-line="${line}"]`)).toContainText('77');
  await expect(sheet.locator('[data-line="4"]')).not.toContainText('77');
  await sheet.evaluate((element) => {
    const data = new DataTransfer();
    data.setData('text/plain', '4\t8\n5\t9\n');
    element
      .querySelector('[data-line="5"] [data-column="1"]')
      ?.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true }));
  });
  await expect(sheet.locator('[data-line="5"] [data-column="2"]')).toHaveText('8');
  await expect(sheet.locator('[data-line="6"] [data-column="1"]')).toHaveText('5');
  await goTo(page, 'History');
  await expect(sheetOf(page, 'History')).toContainText('Paste 4 cells in Clusters');
  await expect(sheetOf(page, 'History')).toContainText('Services of 4 rows: 77');
});

test('a sheet is grouped, its columns are chosen, and its file reads back as no change', async ({
  page,
  open,
}, info) => {
  await open('ground?show=subnets');
  await page.getByLabel('Group rows').selectOption('by network');
  const sheet = sheetOf(page, 'Subnets');
  await expect(sheet.getByRole('gridcell', { name: /^models 3$/ })).toBeVisible();
  await expect(sheet.getByRole('columnheader', { name: 'Route table' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Columns' }).click();
  await page.getByRole('menuitemcheckbox', { name: 'Route table' }).click();
  await page.keyboard.press('Escape');
  await expect(sheet.getByRole('columnheader', { name: 'Route table' })).toBeVisible();
  await expect(page).toHaveURL(/cols=.*routeTable/);
  for (const syntax of ['CSV', 'JSON', 'YAML']) {
    await page.getByRole('button', { name: 'Export' }).click();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('menuitem', { name: syntax }).click(),
    ]);
    const path = info.outputPath(download.suggestedFilename());
    await download.saveAs(path);
    await page.getByRole('button', { name: 'Import' }).click();
    await page.getByLabel('Choose a file').setInputFiles(path);
    await expect(page.getByRole('dialog')).toContainText('14 rows: 0 new, 0 changed, 14 as in the plan');
    await page.keyboard.press('Escape');
  }
});

test('the diagram is drawn from the plan, zooms by keys, opens what it shows, and is saved whole', async ({
  page,
  open,
}, info) => {
  await open('ground');
  const drawing = page.getByRole('group', { name: '11 networks and hubs, 10 joins' });
  await expect(drawing.getByRole('button', { name: /^basalt-lan: .*2 overlaps that break something/ })).toBeVisible();
  const wide = async () => (await drawing.getByRole('button', { name: /^piers:/ }).boundingBox())?.width ?? 0;
  const before = await wide();
  await drawing.focus();
  await page.keyboard.press('+');
  await expect.poll(wide).toBeGreaterThan(before);
  await page.keyboard.press('0');
  await expect.poll(wide).toBeCloseTo(before, 0);
  for (const [name, start] of [
    ['SVG', '<svg'],
    ['PNG', '\u0089PNG'],
  ] as const) {
    await page.getByRole('button', { name: 'Save' }).click();
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('menuitem', { name }).click()]);
    const path = info.outputPath(download.suggestedFilename());
    await download.saveAs(path);
    const text = readFileSync(path, 'latin1');
    expect(text.startsWith(start)).toBe(true);
    if (name === 'SVG') {
      expect(text).toContain('coast-radar');
      expect(text).not.toContain('var(');
    }
  }
  await drawing.getByRole('button', { name: /^skerry-hub/ }).press('Enter');
  await expect(sheetOf(page, 'Links').getByRole('row')).toHaveCount(2);
});

test('a profile is copied with its shapes and edited on its own', async ({ page, open }) => {
  await open('ground?show=profiles');
  await page.getByRole('button', { name: 'Copy Halden' }).click();
  const sheet = sheetOf(page, 'Provider profiles');
  await expect(sheet.getByText('Halden copy')).toBeVisible();
  await page.getByRole('tab', { name: /^Shapes/ }).click();
  await expect(sheetOf(page, 'Machine shapes')).toContainText('halden-wide-32 copy');
});

test('a subnet moves with the devices in it as one change, wherever it is told to; what cannot be is said', async ({
  page,
  open,
}) => {
  await open('ground?show=subnets&side=move');
  const right = consequences(page);
  await right.getByLabel('What moves').selectOption('booking: subnet booking-endpoints 10.31.0.64/26');
  await expect(right.getByRole('button', { name: /^Apply/ })).toBeEnabled();
  await right.getByLabel('To', { exact: true }).fill('10.31.8.0/24');
  await expect(right.getByRole('alert')).toContainText(
    '10.31.8.0/24 is not of its size. Write an IPv4 prefix with /26',
  );
  await right.getByLabel('To', { exact: true }).fill('10.31.8.64/26');
  await expect(right).toContainText('10.31.0.64/26 goes to 10.31.8.64/26; each address keeps its place in it.');
  await expect(right).toContainText('10.31.8.');
  await expectAccessible(page);
  await right.getByRole('button', { name: /^Apply/ }).click();
  await expect(rowOf(page, 'Subnets', 'booking-endpoints')).toContainText('10.31.8.64/26');
  await right.getByLabel('What moves').selectOption({ label: 'models: block 10.28.0.0/16' });
  await right.getByLabel('To', { exact: true }).fill('10.29.0.0/16');
  await expect(right).toContainText('10.28.0.0/16 goes to 10.29.0.0/16');
  await right.getByRole('button', { name: /^Apply/ }).click();
  await page.getByRole('tab', { name: /^Blocks/ }).click();
  await expect(sheetOf(page, 'Address blocks')).toContainText('10.29.0.0/16');
  await expectChanges(page, 2);
});
