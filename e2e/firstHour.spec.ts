import { expect, test } from './fixtures.js';
import { goTo, press, rowOf, sheetOf } from './pages.js';

const unique = () => `${Date.now()} ${Math.random()}`;

const table = [
  'Cluster,Site,Network,Node count',
  ...Array.from(
    { length: 10 },
    (_, i) => `fleet-${i},${i < 5 ? 'Harbour' : 'Island'},${i % 2 === 0 ? 'front' : 'back'},${4 + i}`,
  ),
].join('\n');

test('from nothing to a checked address plan for ten clusters of a spreadsheet, in ten actions', async ({
  page,
  request,
}) => {
  await page.goto('/');
  let actions = 0;
  const act = async (what: Promise<unknown>) => {
    await what;
    actions++;
  };
  await act(press(page, 'New plan'));
  await act(page.getByLabel('Name of the plan').fill(`First hour ${unique()}`));
  await act(page.getByRole('radio', { name: /^Spreadsheet/ }).check());
  await act(press(page, 'Create plan'));
  await act(page.getByLabel(/Paste CSV/).fill(table));
  await expect(page.getByRole('dialog')).toContainText('2 sites (Harbour, Island) and 2 networks (front, back)');
  await expect(page.getByRole('checkbox', { name: /Create what is not in the plan yet/ })).toBeChecked();
  await act(page.getByRole('button', { name: 'Import 10 valid rows' }).click());
  await expect(sheetOf(page, 'Clusters')).toContainText('fleet-9');
  await act(goTo(page, /Ranges/));
  await act(press(page, 'Propose'));
  await act(page.getByRole('button', { name: /^Apply \d+ ranges/ }).click());
  expect(actions).toBeLessThanOrEqual(10);
  await goTo(page, 'Board');
  await expect(page.getByText('10 of 10 clusters')).toBeVisible();
  const planId = /plans\/([^/]+)/.exec(page.url())?.[1] ?? '';
  const { findings } = (await (await request.get(`/api/plans/${planId}/findings`)).json()) as {
    findings: { severity: string; code: string }[];
  };
  expect(findings.filter(({ severity, code }) => severity === 'error' || code === 'range.missing')).toEqual([]);
});

test('a list with its addresses, as platform teams keep it, becomes a plan that looks as right as it is, in eight actions', async ({
  page,
  request,
}) => {
  const list = [
    'Cluster name;Region;VPC;VPC CIDR;Nodes;Max nodes;Node CIDR;Pod CIDR;Service CIDR',
    'web-1;north;web;10.10.0.0/16;12;20;10.10.0.0/22;10.96.0.0/14;172.20.0.0/18',
    'web-2;north;web;10.10.0.0/16;8;8;10.10.4.0/22;10.100.0.0/14;172.20.64.0/18',
    'batch;Harbour DC;own;;5;6;192.168.40.0/24;10.200.0.0/16;172.21.0.0/18',
  ].join('\n');
  let actions = 0;
  const act = async (what: Promise<unknown>) => {
    await what;
    actions++;
  };
  await page.goto('/');
  await act(press(page, 'New plan'));
  await act(page.getByLabel('Name of the plan').fill(`List ${unique()}`));
  await act(page.getByRole('radio', { name: /^Spreadsheet/ }).check());
  await act(press(page, 'Create plan'));
  await act(page.getByLabel(/Paste CSV/).fill(list));
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('table', { name: 'What comes along with rows' })).toContainText(
    'counts as built, node range 10.10.0.0/22',
  );
  await expect(dialog.getByLabel('Provider profile of Harbour DC').locator('option:checked')).toHaveText(
    'Plain LAN, new',
  );
  await expect(dialog.getByLabel('Provider profile of north').locator('option:checked')).toHaveText(
    'Regional subnets, new',
  );
  await act(page.getByRole('button', { name: 'Import 3 valid rows' }).click());
  await expect(sheetOf(page, 'Clusters')).toContainText('batch');
  expect(actions).toBeLessThanOrEqual(8);
  const planId = /plans\/([^/]+)/.exec(page.url())?.[1] ?? '';
  const { findings } = (await (await request.get(`/api/plans/${planId}/findings`)).json()) as {
    findings: { severity: string; code: string; title: string }[];
  };
  // Nothing of the list itself is wrong; how it reaches the internet is the next thing to decide.
  expect(findings.filter(({ severity }) => severity === 'error')).toEqual([]);
  expect([...new Set(findings.filter(({ severity }) => severity === 'warning').map(({ code }) => code))]).toEqual([
    'egress.undecided',
  ]);
  await goTo(page, 'Board');
  await expect(page.getByText('3 of 3 clusters')).toBeVisible();
});

test('a workbook is read from its first sheet with rows, and says which', async ({ page, open }) => {
  await open('demand');
  await press(page, 'Import');
  await page.locator('input[type=file]').setInputFiles('apps/web/test/fleet.xlsx');
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('from the sheet Fleet of the workbook');
  await expect(dialog.getByRole('checkbox', { name: /1 site \(north\) and 1 network \(web\)/ })).toBeVisible();
});

test('quick start works in an empty plan: it brings a site of a usual kind with it', async ({ page }) => {
  await page.goto('/');
  await press(page, 'New plan');
  await page.getByLabel('Name of the plan').fill(`Quick ${unique()}`);
  await page.getByRole('radio', { name: /^Empty/ }).check();
  await press(page, 'Create plan');
  await goTo(page, /Demand/);
  await expect(page.getByRole('region', { name: 'Consequences' })).toContainText('From nothing to an address plan');
  await page.getByRole('button', { name: 'Quick start' }).first().click();
  await page.getByLabel('Name', { exact: true }).fill('shop');
  await page.getByLabel('Site', { exact: true }).selectOption({ label: 'New site: Plain LAN' });
  await page.getByLabel('Name of the new site').fill('Cellar');
  await expect(page.getByRole('table', { name: 'What would be made' })).toContainText('Plain LAN');
  await press(page, 'Apply');
  await expect(rowOf(page, 'Clusters', 'shop')).toContainText('Cellar');
});

test('what a form refers to is created from within it', async ({ page }) => {
  await page.goto('/');
  await press(page, 'New plan');
  await page.getByLabel('Name of the plan').fill(`Forms ${unique()}`);
  await press(page, 'Create plan');
  await page.getByRole('button', { name: 'Add a cluster' }).click();
  await press(page, 'New network');
  const inner = page.getByRole('dialog', { name: 'Add a network' });
  await inner.getByLabel('Name', { exact: true }).fill('side');
  await inner.getByRole('button', { name: 'Add', exact: true }).click();
  const outer = page.getByRole('dialog', { name: 'Add a cluster' });
  await expect(outer.getByLabel('Network', { exact: true })).toHaveValue('side');
  await outer.getByLabel('Name', { exact: true }).fill('kiosk');
  await outer.getByLabel('Nodes now', { exact: true }).fill('3');
  await outer.getByLabel(/Nodes at horizon|At horizon/).fill('5');
  await outer.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(rowOf(page, 'Clusters', 'kiosk')).toContainText('side');
});

test('plans are listed by their last change, duplicated, and removed after being asked twice', async ({
  page,
  request,
}) => {
  const name = `Short-lived ${unique()}`;
  await page.goto('/');
  await press(page, 'New plan');
  await page.getByLabel('Name of the plan').fill(name);
  await press(page, 'Create plan');
  await expect(page.getByText('No clusters yet.')).toBeVisible();
  await page.goto('/');
  await press(page, `Duplicate ${name}`);
  await expect(page.getByRole('link', { name: `${name} (copy)` })).toBeVisible();
  await press(page, `Remove ${name}`);
  const dialog = page.getByRole('dialog');
  const remove = dialog.getByRole('button', { name: 'Remove the plan' });
  const href = await dialog.getByRole('link', { name: /Save a plan file first/ }).getAttribute('href');
  expect(await (await request.get(href ?? '')).json()).toMatchObject({ settings: { name } });
  await remove.click();
  await expect(page.getByRole('link', { name, exact: false })).toHaveCount(1);
  await expect(page.getByRole('link', { name: `${name} (copy)` })).toBeVisible();
  await press(page, `Restore ${name}`);
  await expect(page.getByRole('link', { name, exact: false })).toHaveCount(2);
  await page.getByText('Log of plans').click();
  await expect(page.getByRole('list', { name: 'Log of plans' })).toContainText(`${name} was restored at revision 0`);
});
