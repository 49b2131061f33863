import { idOf, pageOf } from './demo.js';
import { execFileSync, spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { expect, test, watchConsole } from './fixtures.js';
import { cellTexts, consequences, expectChanges, goTo, press, rowOf, sheetOf, tableOf } from './pages.js';

const cli = 'apps/cli/dist/main.js';

test('1 the demo plan is there, its mistakes marked on the board', async ({ page }) => {
  await page.goto('/');
  // Other tests add plans, and the list comes in pages.
  const demo = page.getByRole('link', { name: /^Skerry Line/ });
  const more = page.getByRole('button', { name: /^Show \d+ more/ });
  // The button may go while the next page comes, so that each try looks anew.
  await expect(async () => {
    if (await more.isVisible()) await more.click({ timeout: 1000 });
    await expect(demo).toBeVisible({ timeout: 1000 });
  }).toPass();
  await demo.click();
  const board = sheetOf(page, 'Board of clusters');
  await expect(board.getByRole('row').filter({ hasText: 'booking-north' })).toContainText('10.23.96.0/25');
  await expect(board.getByRole('row').filter({ hasText: 'tide-models' })).toContainText('Pod range, now');
  await expect(board.getByRole('row').filter({ hasText: 'weather-models' })).toContainText('2 missing');
  await page.getByLabel('Which clusters').selectOption('errors');
  await expect(page.getByText('3 of 48 clusters')).toBeVisible();
  await expect(page).toHaveURL(/only=errors/);
});

test('2 ranges in use are pasted: bad rows are listed with line, field and mend, good ones taken', async ({
  page,
  open,
}) => {
  await open('ground?show=inUse');
  await page.getByRole('button', { name: 'Import' }).click();
  await page
    .getByLabel(/Paste CSV/)
    .fill(
      'prefix,owner,network\n10.200.0.0/16,Ticket hall,piers\n10.201.0.9/16,Ticket hall,piers\n10.202.0.0/16,Depot,nowhere\n',
    );
  const bad = tableOf(page, 'Rows that cannot be imported');
  await expect(bad.getByRole('row')).toHaveCount(3);
  await expect(bad).toContainText('Write 10.201.0.0/16.');
  await expect(bad.getByRole('row').nth(2)).toContainText('Network');
  await page.getByRole('button', { name: 'Import 1 valid row' }).click();
  await expect(sheetOf(page, 'Ranges in use elsewhere')).toContainText('10.200.0.0/16');
});

test('2 pools come from a JSON file, clusters from YAML, and a form adds one', async ({ page, open }) => {
  await open('ranges');
  await page.getByRole('button', { name: 'Import pools' }).click();
  await page.getByLabel('Choose a file').setInputFiles({
    name: 'pools.json',
    mimeType: 'application/json',
    buffer: Buffer.from('[{"name":"North space","prefix":"10.64.0.0/12","for":["node","pod"]}]'),
  });
  await page.getByRole('button', { name: 'Import 1 valid row' }).click();
  await expect(sheetOf(page, 'Address pools')).toContainText('North space');
  await goTo(page, /Demand/);
  await expect(page.getByRole('heading', { name: 'Demand' })).toBeVisible();
  await press(page, 'Import');
  await page
    .getByLabel(/Paste CSV/)
    .fill(
      '- name: depot-a\n  site: Basalt hall\n  network: basalt-lan\n  nodes now: 3\n  nodes at horizon: 8\n- name: depot-b\n  site: Basalt hall\n  network: basalt-lan\n  nodes now: 3\n  nodes at horizon: -8\n',
    );
  await expect(page.getByText('Nodes at horizon: -8 is outside 0 to 20,000 nodes.')).toBeVisible();
  await page.getByRole('button', { name: 'Import 1 valid row' }).click();
  await press(page, 'Add');
  const form = page.getByRole('dialog');
  await form.getByLabel('Name', { exact: true }).fill('by-hand');
  await form.getByLabel('Nodes now').fill('x');
  await form.getByLabel('Nodes at horizon').fill('12');
  await form.getByRole('button', { name: 'Add' }).click();
  await expect(form.getByText('"x" is not a whole number.')).toBeVisible();
  await form.getByLabel('Nodes now').fill('4');
  await form.getByRole('button', { name: 'Add' }).click();
  await page.getByLabel('Filter clusters').fill('by-hand');
  await expect(rowOf(page, 'Clusters', 'by-hand')).toBeVisible();
});

test('3 missing ranges are proposed as a difference and applied as one change', async ({ page, open }) => {
  await open('ranges');
  await expect(page.getByText('140 rows')).toBeVisible();
  await press(page, 'Propose');
  const proposal = page.getByRole('dialog');
  await expect(
    proposal.getByRole('table', { name: 'Proposed ranges' }).getByRole('row').filter({ hasText: 'weather-models' }),
  ).toHaveCount(6);
  await expect(proposal.getByRole('row').filter({ hasText: 'kiosk-vaila' }).first()).toContainText('none');
  await proposal.getByRole('button', { name: 'Apply 15 ranges' }).click();
  await expect(page.getByText('155 rows')).toBeVisible();
  await expectChanges(page, 1);
  await expect(sheetOf(page, 'History')).toContainText('Allocate 15 ranges for 4 clusters');
});

test('4 a range typed by hand shows its consequences before it is stored', async ({ page, open }) => {
  await open('board');
  await page.getByRole('gridcell', { name: 'tide-models' }).click();
  const right = consequences(page);
  await expect(right.getByRole('row', { name: /^Pod range/ })).toContainText('53');
  const pods = page.getByLabel('pod range IPv4');
  await pods.fill('10.23.0.0/17');
  await expect(right).toContainText('As typed, not saved yet');
  await expect(right).toContainText('conflict');
  await pods.fill('10.26.0.1/17');
  await expect(page.getByText('Write 10.26.0.0/17.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Save' })).toBeDisabled();
  await pods.fill('10.26.0.0/17');
  // 256 node prefixes of /25, at rest with 20 % surge kept free.
  await expect(right.getByRole('row', { name: /^Pod range/ })).toContainText('213');
  await page.getByLabel(/^Nodes at horizon/).fill('400');
  await expect(right.getByText('480 nodes')).toBeVisible();
  await press(page, 'Discard');
  await expect(pods).toHaveValue('10.28.0.0/19');
  await pods.fill('10.26.0.0/17');
  await press(page, 'Save');
  await expect(right).toContainText('As saved');
  await page.reload();
  await expect(pods).toHaveValue('10.26.0.0/17');
});

test('5 every overlap has its verdict and chain, and a fix beside it', async ({ page, open }) => {
  await open('findings');
  const list = sheetOf(page, 'Findings');
  for (const heading of ['Severity', 'Kind', 'Finding'])
    await expect(list.getByRole('columnheader', { name: heading, exact: true })).toBeVisible();
  const cells = await cellTexts(page, 'Findings');
  for (const kind of ['conflict', 'shadowed', 'reuse']) expect([...cells]).toContain(kind);
  await list
    .getByText(/Service range of harbour-ops/)
    .first()
    .click();
  const right = consequences(page);
  await expect(right).toContainText('exists only inside its cluster, which is in network basalt-lan');
  await right.getByRole('button', { name: 'Propose another service range for harbour-ops' }).click();
  await expect(page.getByRole('dialog')).toContainText('10.96.0.0/12');
  await page.getByRole('button', { name: 'Apply 1 ranges' }).click();
  await expect(list.getByText(/Service range of harbour-ops/)).toHaveCount(0);
  await list
    .getByText(/when|once the planned link/)
    .first()
    .click();
  await expect(right).toContainText('by the peering coach-join, which is planned');
});

test('6 quick find answers addresses, prefixes and names; figures open their working', async ({ page, open }) => {
  await open('board');
  await page.keyboard.press('/');
  const find = page.getByPlaceholder('10.20.3.4, 10.20.0.0/16, kiosk...');
  await find.fill('10.28.3.4');
  await expect(page.getByRole('status')).toContainText('held by the pod range of tide-models');
  await expect(page.getByRole('option').first()).toContainText('prefix number 6');
  await find.fill('10.16.0.0/14');
  await expect(page.getByRole('status')).toContainText('is free, in pool Backbone');
  await find.fill('timetab');
  // What carries the name comes before the ranges that only mention it.
  await expect(page.getByRole('option').first()).toContainText('cluster at');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/clusters\//);
  await page
    .getByRole('button', { name: /256 nodes|33 nodes/ })
    .first()
    .click();
  await expect(page.getByRole('dialog')).toContainText('nodes + ⌈nodes × surge⌉');
  await expect(page.getByRole('dialog')).toContainText('Common practice');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
});

test('6 the ribbon draws to scale and zooms by click, wheel and keys', async ({ page, open }) => {
  await open('ranges');
  const ribbon = page.getByRole('region', { name: 'Ribbon' });
  const office = ribbon.getByRole('button', { name: /10\.20\.0\.0\/16 Head office/ });
  const lane = await office.locator('..').boundingBox();
  const box = await office.boundingBox();
  // 10.20.0.0/16 of 10.16.0.0/12: a sixteenth, starting at a quarter.
  expect((box?.width ?? 0) / (lane?.width ?? 1)).toBeCloseTo(1 / 16, 2);
  expect(((box?.x ?? 0) - (lane?.x ?? 0)) / (lane?.width ?? 1)).toBeCloseTo(1 / 4, 2);
  await office.click();
  // Two bits wider than the block, so that its neighbours stay in sight.
  await expect(page).toHaveURL(/view=10\.20\.0\.0%2F14/);
  await expect(ribbon.getByRole('button', { name: /10\.20\.0\.0\/16 Head office/ })).toBeVisible();
  await office.focus();
  await page.keyboard.press('-');
  await expect(page).toHaveURL(/view=10\.16\.0\.0%2F13/);
  await ribbon.getByRole('group').hover({ position: { x: 1000, y: 40 } });
  await page.mouse.wheel(0, -100);
  await expect(page).toHaveURL(/view=10\.20\.0\.0%2F14/);
  await page.goto(page.url().replace('10.20.0.0%2F14', '10.23.96.0%2F23'));
  await expect(ribbon.getByRole('button', { name: /10\.23\.96\.0\/25 booking-north.*conflict/ })).toBeVisible();
});

test('7 undo and redo, by button and by key', async ({ page, open }) => {
  await open('demand');
  const cell = () => page.getByRole('row').filter({ hasText: 'booking-south' }).getByRole('gridcell').nth(4);
  await cell().click();
  await page.keyboard.press('F2');
  await page.getByLabel('Nodes now of row 2').fill('31');
  await page.keyboard.press('Enter');
  await expect(cell()).toHaveText('31');
  await press(page, 'Undo');
  await expect(cell()).toHaveText('24');
  await press(page, 'Redo');
  await expect(cell()).toHaveText('31');
  await page.keyboard.press('Control+z');
  await expect(cell()).toHaveText('24');
  await page.keyboard.press('Control+y');
  await expect(cell()).toHaveText('31');
});

test('7 two browsers see each other; a stale edit shows both sides and is not lost', async ({
  page,
  open,
  browser,
  planId,
  baseURL,
}) => {
  await open('demand');
  const other = await browser.newPage();
  const errors = watchConsole(other);
  await other.goto(`${baseURL ?? ''}/plans/${planId}/clusters/${idOf('booking-south')}`);
  await other.getByLabel(/^Nodes now/).fill('29');
  const row = page.getByRole('row').filter({ hasText: 'booking-south' });
  await row.getByRole('gridcell').nth(4).dblclick();
  await page.getByLabel('Nodes now of row 2').fill('33');
  await page.keyboard.press('Enter');
  await expect(row.getByRole('gridcell').nth(4)).toHaveText('33');
  // The other browser follows, and what is being typed there stays.
  await expect(other.getByText(/Engineer: Nodes now of booking-south/)).toBeVisible();
  await expect(other.getByLabel(/^Nodes now/)).toHaveValue('29');
  // Cut off from the news, it edits the same cluster: both sides are shown.
  await other.route('**/changes?after=*', (route) => route.fulfill({ json: [] }));
  await row.getByRole('gridcell').nth(4).dblclick();
  await page.getByLabel('Nodes now of row 2').fill('35');
  await page.keyboard.press('Enter');
  await expect(row.getByRole('gridcell').nth(4)).toHaveText('35');
  await other.getByRole('button', { name: 'Save' }).click();
  const both = other.getByRole('dialog', { name: 'Engineer edited the same fields since you began' });
  await expect(both.getByRole('region', { name: 'Yours' })).toContainText('Nodes now: 29');
  await expect(both.getByRole('region', { name: 'Theirs' })).toContainText('Nodes now: 35');
  await other.unroute('**/changes?after=*');
  await both.getByRole('button', { name: 'Save mine on top' }).click();
  await expect(row.getByRole('gridcell').nth(4)).toHaveText('29');
  expect(errors).toEqual([]);
  await other.close();
});

test('8 the plan file is exported, checked at the command line, and read back', async ({
  page,
  open,
  planId,
  request,
}, info) => {
  await open('handover');
  await expect(page.getByText('2 conflicts are left: do not build from this yet.')).toBeVisible();
  const save = async (name: string, file: string) => {
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name }).click()]);
    const path = info.outputPath(file);
    await download.saveAs(path);
    return path;
  };
  const yaml = await save('Download Plan file, YAML', 'plan.yaml');
  const json = await save('Download Plan file, JSON', 'plan.json');
  const csv = await save('Download Allocation table, CSV', 'allocations.csv');
  expect(readFileSync(csv, 'utf8')).toContain(
    'booking-north,Halden north,booking,native,node,n1,IPv4,10.23.96.0/25,128,/26,yes,conflict',
  );
  const checked = spawnSync(process.execPath, [cli, 'check', yaml], { encoding: 'utf8' });
  expect(checked.status).toBe(1);
  expect(checked.stdout).toContain('2 conflicts between ranges.');
  expect(execFileSync(process.execPath, [cli, 'convert', yaml, '--to', 'json'], { encoding: 'utf8' })).toBe(
    readFileSync(json, 'utf8'),
  );
  // Browser, server and command line find the same.
  const findings = (await (await request.get(`/api/plans/${planId}/findings`)).json()) as {
    findings: { title: string }[];
  };
  const fromCli = JSON.parse(
    spawnSync(process.execPath, [cli, 'check', json, '--as', 'json'], { encoding: 'utf8' }).stdout,
  ) as { findings: { title: string }[] };
  expect(fromCli.findings).toEqual(findings.findings);
  await page.getByRole('link', { name: 'Findings' }).first().click();
  const cells = [...(await cellTexts(page, 'Findings'))];
  for (const { title } of findings.findings) expect(cells.some((cell) => cell.includes(title))).toBe(true);
  await page.goto('/');
  await page.getByLabel('Open a plan file').setInputFiles(json);
  await expect(sheetOf(page, 'Board of clusters')).toContainText('booking-north');
  const taken = /plans\/([^/]+)\//.exec(page.url())?.[1] ?? '';
  expect(taken).not.toBe(planId);
  expect(await (await request.get(`/api/plans/${taken}/export/plan.yaml`)).text()).toBe(readFileSync(yaml, 'utf8'));
});

test('a version is named, compared with what came after, and restored as a change', async ({ page, open }) => {
  await open('history?show=versions');
  await page.getByLabel('Name of the version').fill('As agreed');
  await page.getByRole('button', { name: 'Name it' }).click();
  await expect(page.getByLabel('First')).toContainText('As agreed (revision 0)');
  await goTo(page, /Ranges/);
  await press(page, 'Propose');
  await page.getByRole('button', { name: 'Apply 15 ranges' }).click();
  await goTo(page, 'History');
  await page.getByRole('button', { name: 'Versions' }).click();
  await expect(page.getByRole('region', { name: 'Findings lost: 4' })).toContainText('kiosk-vaila lacks 3 ranges');
  await expect(page.getByRole('region', { name: 'Ranges that differ' }).getByRole('row')).toHaveCount(16);
  await page.getByRole('button', { name: 'Restore the first' }).click();
  await expect(sheetOf(page, 'History')).toContainText('Restore As agreed (revision 0)');
  await expect(page.getByText('No differences.')).toBeVisible();
});

test('what a peering would break is said before it is made, and it can be kept as planned', async ({ page, open }) => {
  await open('ground?side=join');
  const right = page.getByRole('region', { name: 'What would a peering break?' });
  await right.getByLabel('One network').selectOption('head-office');
  await right.getByLabel('The other').selectOption('tide-lab');
  await expect(right).toContainText('Nothing would break.');
  await right.getByLabel('One network').selectOption('basalt-lan');
  await right.getByLabel('The other').selectOption('coaches');
  await expect(right).toContainText('Nothing would break.');
  await right.getByLabel('One network').selectOption('booking');
  await expect(right.getByRole('listitem')).toHaveCount(0);
  await page.goto(page.url().replace('ground?', 'ground?show=links&'));
  await page.getByRole('button', { name: 'Remove coach-join' }).click();
  await right.getByLabel('One network').selectOption('basalt-lan');
  await right.getByLabel('The other').selectOption('coaches');
  await expect(right.getByRole('listitem').filter({ hasText: 'Coach depots' })).toBeVisible();
  await right.getByRole('button', { name: 'Keep it as planned' }).click();
  await expect(sheetOf(page, 'Links')).toContainText('basalt-lan to coaches');
});

test('a pool shows when it is exhausted, and a cluster how many more like it fit', async ({ page, open }) => {
  await open('ranges');
  await expect(page.getByRole('img', { name: /At the planned growth, Backbone/ })).toBeVisible();
  await sheetOf(page, 'Address pools').getByText('Old branch space').click();
  await expect(page.getByRole('img', { name: /Old branch space/ })).toBeVisible();
  await page.getByTitle('How this came about: Routes to advertise').click();
  await expect(page.getByRole('dialog')).toContainText('the fewest prefixes that hold exactly its ranges');
  await page.keyboard.press('Escape');
  await open(pageOf('booking-south'));
  await expect(page.getByRole('region', { name: 'Room for more' })).toContainText(
    /\d+ more like this one fit.*would lack (a \/\d+|public addresses)/,
  );
});
