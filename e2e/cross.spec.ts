import { expect, expectAccessible, test } from './fixtures.js';
import { consequences, expectChanges, press, sheetOf, tableOf } from './pages.js';

test('clusters by exported services: a cell says by which way and how far, and asks its question', async ({
  page,
  open,
}) => {
  await open('cross-cluster?side=uses');
  const uses = sheetOf(page, 'Clusters by exported services');
  const right = consequences(page);
  await right.getByLabel('Filter the clusters').fill('tide-models');
  await uses.getByRole('button', { name: /^tide-models, ops\/berth-board in tides/ }).click();
  await expect(right).toContainText('by tunnels of tides');
  await expect(right).toContainText('Answered by harbour-ops');
  await right.getByRole('button', { name: 'Ask the question' }).click();
  const verdict = right.getByRole('region', { name: 'Verdict' });
  await expect(verdict).toContainText('is served by ops/berth-board');
  await expect(right.getByRole('toolbar', { name: 'Steps of the road' })).toContainText('gateway');
});

test('a cell that is chosen is told as itself, whatever services the filter leaves beside it', async ({
  page,
  open,
}) => {
  await open('cross-cluster?side=uses');
  const uses = sheetOf(page, 'Clusters by exported services');
  await uses.getByRole('button', { name: /^kiosk-aith, tills\/ledger in / }).click();
  const told = consequences(page).locator('[aria-live]').filter({ hasText: 'kiosk-aith, tills/ledger by relays' });
  await expect(told).toContainText('Answered by shared-services');
  const said = await told.innerText();
  const filter = page.getByRole('textbox', { name: 'Filter the services' });
  await filter.fill('ledger');
  await expect(uses.getByRole('button', { name: /, tills\/prices in / })).toHaveCount(0);
  expect(await told.innerText()).toBe(said);
  // Where it is not shown, nothing is told in its place.
  await filter.fill('prices');
  await expect(uses.getByRole('button', { name: /, tills\/ledger in / })).toHaveCount(0);
  await expect(consequences(page).getByText('Choose a cell: by which way, how far, and why not.')).toBeVisible();
});

test('services and clusters are filtered, and what fails is found', async ({ page, open }) => {
  await open('cross-cluster?side=uses');
  const right = consequences(page);
  await right.getByLabel('Filter the services').fill('ledger');
  await expect(right).toContainText('1 of 7 services');
  await right.getByLabel('Which clusters').selectOption('failing');
  await expect(
    sheetOf(page, 'Clusters by exported services').getByRole('row', { name: /kiosk/ }).first(),
  ).toBeVisible();
  await right.getByLabel('Filter the clusters').fill('no such cluster');
  await expect(right).toContainText('0 of');
});

test('what is planned is asked like what stands, by one switch, and the difference between the two is shown', async ({
  page,
  open,
}) => {
  await open('cross-cluster?side=uses');
  const right = consequences(page);
  await expect(right).toContainText('46 of 46 clusters');
  await page.getByRole('checkbox', { name: 'With what is planned' }).check();
  // The coach depots, which only a planned connection joins, are among them.
  await expect(right).toContainText('of 47 clusters');
  await page.getByRole('button', { name: 'Compare', exact: true }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByText('Planned: no').first()).toBeVisible();
  await expect(dialog.getByRole('region', { name: 'Tried before it is applied' })).toBeVisible();
  await page.keyboard.press('Escape');
  await page.getByRole('checkbox', { name: 'With what is planned' }).uncheck();
  await expect(right).toContainText('46 of 46 clusters');
});

test('two clusters compared three ways, one is proposed and applied as one planned change', async ({ page, open }) => {
  await open('cross-cluster?show=connections&side=choose');
  const right = consequences(page);
  const add = right.getByLabel('Add a cluster');
  await add.fill('timetables');
  await add.press('Enter');
  await expect(right.getByRole('alert')).toContainText('No cluster left to add is called “timetables”.');
  await add.fill('timetable');
  await add.press('Enter');
  await expect(right).toContainText('Choose two clusters or more');
  await add.fill('harbour-ops');
  await add.press('Enter');
  const compared = tableOf(page, 'Methods of connection');
  await expect(compared).toContainText('Largest packet');
  await expect(compared).toContainText('Tunnels or links');
  await expect(compared).toContainText('in an overlay');
  await right.getByLabel('Gateways each').fill('0');
  await expect(right.getByRole('alert')).toContainText('“0” is out of range: enter 1 to 16 gateways.');
  await right.getByLabel('Gateways each').fill('3');
  const addresses = right.getByLabel('Gateway addresses of timetable');
  await addresses.fill('203.0.113.900');
  await expect(right.getByRole('alert')).toContainText('Gateway addresses of timetable');
  await addresses.fill('203.0.113.90');
  await expect(right.getByRole('alert')).toHaveCount(0);
  await right.getByLabel('all joined with a hub').check();
  await right.getByLabel('timetable is the hub').check();
  // What was said outlasts the page.
  await page.reload();
  await expect(addresses).toHaveValue('203.0.113.90');
  await expect(right.getByLabel('timetable is the hub')).toBeChecked();
  await expect(right.getByLabel('Gateways each')).toHaveValue('3');
  await press(page, 'Propose tunnels');
  await expect(right).toContainText('as one difference');
  await right.getByRole('button', { name: /^Apply \d+ rows$/ }).click();
  await expect(sheetOf(page, 'Connections').getByRole('row', { name: /timetable/ })).toContainText('tunnels');
  await expectChanges(page, 1);
  await open('cross-cluster?side=values');
  const connection = consequences(page).getByLabel('Connection', { exact: true });
  const made = await connection.getByRole('option', { name: /timetable/ }).getAttribute('value');
  await connection.selectOption(made);
  const sheet = page.getByRole('region', { name: /^timetable in / });
  await expect(sheet).toContainText('203.0.113.90');
  await expect(sheet).toContainText('this one');
});

test('a lost gateway and a cut-off member are drilled, and two drills are compared', async ({ page, open }) => {
  await open('cross-cluster?side=drills');
  const right = consequences(page);
  await right.getByRole('button', { name: /^all of .* lost$/ }).click();
  await expect(right).toContainText(/uses (go on|are lost)/);
  await right.getByRole('button', { name: /^Leave out all of/ }).click();
  await right.getByLabel('What fails, drill').fill('gateway 1 of tide-models in tides lost');
  await page.keyboard.press('Enter');
  await expect(right).toContainText(/uses (go on|are lost)/);
  await expect(tableOf(page, 'Gateways that are left')).toContainText('tide-models');
  await press(page, 'Compare with another drill');
  await right.getByLabel('What fails, second drill').fill('harbour-ops cut off in tides');
  await page.keyboard.press('Enter');
  await expect(tableOf(page, 'Two drills compared')).toContainText('Uses lost');
  await page.reload();
  await expect(tableOf(page, 'Two drills compared')).toContainText('Uses lost');
});

test('sites are drawn with the ways between them, and the table has the same', async ({ page, open }) => {
  await open('cross-cluster');
  await expect(page.getByRole('img', { name: /sites and .* ways between them/ })).toBeVisible();
  await expect(tableOf(page, 'Ways between sites').getByRole('row')).not.toHaveCount(1);
  await expectAccessible(page);
});

test('the value sheet of a member is copied by its values and saved for all', async ({ page, open }) => {
  await open('cross-cluster?side=values');
  const right = consequences(page);
  await right.getByLabel('Connection', { exact: true }).selectOption({ label: 'tides' });
  await right.getByLabel('Filter the members').fill('tide-models');
  await expect(page.getByRole('region', { name: 'tide-models in tides' })).toContainText('keys/');
  await expect(page.getByRole('region', { name: 'harbour-ops in tides' })).toHaveCount(0);
  const [file] = await Promise.all([page.waitForEvent('download'), press(page, 'Save CSV')]);
  expect(file.suggestedFilename()).toBe('tides-values.csv');
});

test('a key pasted where its reference belongs is refused, and stays nowhere', async ({
  page,
  open,
  request,
  planId,
}) => {
  const key = 'mJ3vQ9bX0kT7yLw2sFhUe8RzNcA5pGdVqO1iBxK6tWE=';
  await open('cross-cluster?show=connections');
  await press(page, 'Import');
  await page.getByLabel(/Paste CSV/).fill(`name,kind,key reference\nnew,tunnels,${key}`);
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('looks like the key itself');
  // The text that was pasted is still there to be mended; nothing else repeats it.
  expect((await dialog.innerText()).split(key)).toHaveLength(1);
  await page.keyboard.press('Escape');
  const stored = await (await request.get(`/api/plans/${planId}/export/plan.json`)).text();
  expect(stored).not.toContain(key);
});

test('a finding on a connection is mended as one change', async ({ page, open }) => {
  await open('findings');
  await page.getByLabel('Filter findings').fill('only by its name');
  const findings = sheetOf(page, 'Findings');
  await findings.getByRole('gridcell', { name: /tills\/ledger only by its name/ }).click();
  await press(page, 'Mirror it pod by pod');
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('Pod by pod: yes');
  await dialog.getByRole('button', { name: 'Apply 1 row' }).click();
  await expect(findings.getByRole('gridcell', { name: /tills\/ledger only by its name/ })).toHaveCount(0);
  await expectChanges(page, 1);
});
