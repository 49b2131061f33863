import { idOf } from './demo.js';
import { expect, test } from './fixtures.js';
import { consequences, decisions, press, rowOf, sheetOf, tableOf } from './pages.js';

const [north, harbour, tide, timetable] = ['booking-north', 'harbour-ops', 'tide-models', 'timetable'].map(idOf);

test('what runs out first: every limit on one scale, with month, working and the cheapest way to raise it', async ({
  page,
  open,
}) => {
  await open(`clusters/${north}`);
  const limits = tableOf(page, 'What runs out first');
  const snat = limits.getByRole('row').filter({ hasText: 'SNAT ports' });
  // 3 addresses × 63 nodes, less surge.
  await expect(snat).toContainText('170');
  await expect(limits).toContainText('Cheapest: 1,008 ports per node instead of 1,024');
  await page.getByRole('button', { name: /farther away/ }).click();
  for (const name of [
    'NodePorts',
    'Load balancer members',
    'Public addresses',
    'Pods per cluster',
    'Clusters per site',
  ])
    await expect(limits.getByRole('rowheader', { name })).toBeVisible();
  await snat.getByRole('button', { name: '170' }).click();
  await expect(page.getByRole('dialog')).toContainText('170 nodes ask for 189 of 189; 171 would ask for');
});

test('a self-run control plane changes the sizes while it is typed, and what each subnet holds is listed', async ({
  page,
  open,
}) => {
  await open(`clusters/${timetable}`);
  const right = consequences(page);
  await expect(right).toContainText('33 nodes');
  await page.locator('summary').filter({ hasText: 'Control plane' }).click();
  await page.getByLabel('Control plane').selectOption('self-run');
  await expect(right).toContainText('37 nodes');
  const subnets = tableOf(page, 'What each node subnet holds');
  await expect(subnets.getByRole('row', { name: /Control nodes and one spare/ })).toContainText('2');
  await page.getByLabel(/^Control nodes/).fill('4');
  await expect(page.getByText('4 control nodes tolerate no more failures than 3').first()).toBeVisible();
  await page.getByLabel(/^Control nodes/).fill('3');
  await press(page, 'Save');
  await expect(right).toContainText('As saved');
});

test('what cannot be is said at its field and in the consequences, and nothing else breaks', async ({ page, open }) => {
  await open(`clusters/${tide}`);
  const right = consequences(page);
  for (const [label, value, words] of [
    [/^Zones/, '9', 'Orrery east has 3 zones; 9 are required'],
    [/^Pods per node \(/, '300', 'a node of shape orrery-m16 runs at most 256 pods'],
    [/^Per-node prefix/, '30', 'a /30 has 4 addresses'],
  ] as const) {
    await page.getByLabel(label).first().fill(value);
    await expect(right.getByRole('alert')).toContainText(`Cannot be computed because ${words}`);
    await expect(decisions(page)).toContainText(words);
    await expect(tableOf(page, 'What runs out first')).toBeVisible();
    await press(page, 'Discard');
    await expect(right.getByRole('alert')).toHaveCount(0);
  }
  await page.getByLabel(/^Zones/).fill('0');
  await expect(page.getByText('Zones: 0 is outside 1 to 9 zones.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Save' })).toBeDisabled();
});

test('linked sizes: one moves, the others follow, pins stay, and what follows becomes decisions', async ({
  page,
  open,
}) => {
  await open(`clusters/${harbour}`);
  const part = page.getByRole('region', { name: 'Linked sizes' });
  const field = (name: string) => part.getByRole('textbox', { name });
  await expect(field('Pod range')).toHaveValue('/18');
  await field('Nodes').fill('200');
  await expect(field('Pod range')).toHaveValue('/16');
  await part.getByRole('button', { name: 'Pin pod range' }).click();
  await field('Nodes').fill('400');
  await expect(field('Pod range')).toHaveValue('/16');
  await expect(field('Per-node prefix')).toHaveValue('/25');
  await expect(field('Pods per node')).toHaveValue('64');
  await part.getByRole('button', { name: 'Pin pods per node' }).click();
  await field('Nodes').fill('900');
  await expect(part).toContainText(
    'Cannot be computed because the nodes of 900 cannot be while the pod range, the pods per node are pinned',
  );
  await field('Nodes').fill('300');
  await part.getByRole('button', { name: 'Take as decisions' }).click();
  await expect(page.getByLabel('Nodes at horizon (nodes)')).toHaveValue('300');
  await expect(page.getByLabel('Pods per node (pods)')).toHaveValue('64');
  await expect(consequences(page)).toContainText('As typed, not saved yet');
});

test('a node pool with bounds that cannot be is refused at the field, and a good one adds its nodes', async ({
  page,
  open,
}) => {
  await open('demand?show=nodePools');
  await press(page, 'Add');
  const form = page.getByRole('dialog');
  await form.getByLabel('Cluster', { exact: true }).selectOption({ label: 'timetable' });
  await form.getByLabel('Name').fill('rush-hour');
  await form.getByLabel('Now').fill('2');
  await form.getByLabel('Min nodes').fill('5');
  await form.getByLabel('Max nodes').fill('4');
  await form.getByLabel('At horizon').fill('6');
  await form.getByRole('button', { name: 'Add' }).click();
  await expect(form.getByRole('alert')).toContainText('Most (4) is below least (5).');
  await form.getByLabel('Min nodes').fill('0');
  await form.getByRole('button', { name: 'Add' }).click();
  await expect(sheetOf(page, 'Node pools')).toContainText('rush-hour');
  await sheetOf(page, 'Node pools').getByText('rush-hour').click();
  await expect(consequences(page)).toContainText('11 to 36');
});

test('a template change shows what it does to each cluster, and is applied to those that are chosen', async ({
  page,
  open,
}) => {
  await open('demand?show=templates');
  await sheetOf(page, 'Templates').getByText('ticket kiosk').click();
  const right = consequences(page);
  await expect(right).toContainText('Drifted: 1');
  await right.getByLabel('Nodes at horizon', { exact: true }).fill('12');
  await expect(right.getByRole('heading', { name: 'Accept it: 39' })).toBeVisible();
  await right.getByRole('checkbox', { name: /kiosk-ardle/ }).uncheck();
  await right.getByRole('button', { name: 'Save and apply to 38' }).click();
  await expect(right.getByRole('heading', { name: 'Drifted: 2' })).toBeVisible();
  await expect(right).toContainText('Unchanged: 38');
  await page.getByRole('tab', { name: 'Clusters' }).click();
  const sheet = sheetOf(page, 'Clusters');
  await expect(sheet.getByRole('row').filter({ hasText: 'kiosk-brae' })).toContainText('12');
  await expect(sheet.getByRole('row').filter({ hasText: 'kiosk-ardle' })).not.toContainText('12');
});

test('a template is stamped over a pasted list; a line that cannot be is named, the others get their ranges', async ({
  page,
  open,
}) => {
  await open(`demand?show=templates&template=${idOf('ticket kiosk')}`);
  await page.getByRole('button', { name: 'Stamp over sites' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Sites, one per line').fill('Basalt hall\nNowhere\nArdle pier, kiosk-ardle-2');
  await expect(dialog).toContainText('Line 2: There is no site "Nowhere".');
  await expect(dialog).toContainText('2 clusters, 6 ranges');
  await dialog.getByRole('button', { name: 'Make 2 clusters' }).click();
  await expect(dialog).toHaveCount(0);
  await page.getByRole('link', { name: 'Board', exact: true }).click();
  await page.getByLabel('Filter the board').fill('kiosk-ardle-2');
  await expect(page.getByRole('row').filter({ hasText: 'kiosk-ardle-2' })).toContainText('100.80.');
});

test('what is locked changes as a rebuild with its reason, stands in the ledger, and is taken back whole', async ({
  page,
  open,
}) => {
  await open(`pod-network?cluster=${north}`);
  const table = tableOf(page, 'Pod networks for booking-north');
  await table.getByRole('button', { name: 'Rebuild as routed' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('Pod network: native to routed');
  await expect(dialog.getByRole('button', { name: 'Plan the rebuild' })).toBeDisabled();
  await dialog.getByRole('button', { name: 'Cancel' }).click();
  await expect(table.getByRole('columnheader', { name: /Native now/ })).toBeVisible();
  await table.getByRole('button', { name: 'Rebuild as routed' }).click();
  await dialog.getByLabel('Reason').fill('Subnets of the north are full');
  await dialog.getByRole('button', { name: 'Plan the rebuild' }).click();
  await expect(table.getByRole('columnheader', { name: /Routed now/ })).toBeVisible();
  await page.getByRole('tab', { name: 'Locked decisions' }).click();
  await page.getByRole('link', { name: 'Ledger to print' }).click();
  await expect(page.getByRole('heading', { name: /Ledger of locked decisions/ })).toBeVisible();
  await expect(page.getByText('Subnets of the north are full')).toBeVisible();
  await expect(page.getByText('Pod network: native to routed')).toBeVisible();
  await press(page, 'Undo');
  await expect(page.getByText('Subnets of the north are full')).toHaveCount(0);
  // The sheet asks the same.
  await open('pod-network?cols=name,podMode,family');
  const cell = rowOf(page, 'Clusters', 'booking-north');
  await cell.getByText('native').dblclick();
  await sheetOf(page, 'Clusters').getByRole('combobox').selectOption('overlay');
  await expect(page.getByRole('dialog')).toContainText('Pod network: native to overlay');
});

test('the fleet: what a move of a whole site would take', async ({ page, open }) => {
  await open('pod-network?side=fleet');
  const right = consequences(page);
  await expect(right).toContainText('+6,144');
  await right.getByRole('button', { name: 'Orrery east' }).click();
  await expect(right).toContainText('Orrery gives pods no addresses from subnets.');
  await right.getByLabel('Pod network to move to').selectOption('overlay');
  await expect(right).toContainText('All its pod ranges find a place.');
  await expect(right.getByRole('row').filter({ hasText: 'tide-models' })).toContainText('−216');
});

test('money: now and at the horizon, what cannot be computed, and what drives the difference between versions', async ({
  page,
  open,
}) => {
  await open('demand?side=cost');
  const right = consequences(page);
  await expect(right.getByRole('heading', { name: /crowns per month/ })).toBeVisible();
  await expect(right).toContainText('cannot be computed because no machine shape is decided');
  const now = await right.getByRole('heading', { name: /crowns per month/ }).textContent();
  await right.getByRole('button', { name: 'at the horizon' }).click();
  await expect(right.getByRole('heading', { name: /crowns per month/ })).not.toHaveText(now ?? '');
  await open(`clusters/${tide}`);
  await page.getByLabel('Machine shape').selectOption({ label: 'orrery-m4' });
  await press(page, 'Save');
  await open('history?show=versions&from=0');
  const drivers = tableOf(page, 'What drives the difference');
  // 60 nodes × (104 − 416).
  await expect(drivers.getByRole('row').nth(1)).toContainText('tide-models: Nodes');
  await expect(drivers.getByRole('row').nth(1)).toContainText('−18,720.00');
});

test('growth by a rate: what follows from it, and a rate that overflows is named with the month', async ({
  page,
  open,
}) => {
  await open(`clusters/${timetable}`);
  const right = consequences(page);
  await page.locator('summary').filter({ hasText: 'Growth' }).click();
  await page.getByLabel(/^Growth( changed)?$/).selectOption('compound');
  await page.getByLabel(/^Growth per year/).fill('100');
  // 9 nodes doubling for three years.
  await expect(right).toContainText('9 to 72');
  await page.getByLabel(/^Growth per year/).fill('5000');
  await expect(right.getByRole('alert')).toContainText(
    /growth of 5,000 % a year from 9 nodes passes 20,000 in month \d+/,
  );
  await page.getByLabel(/^Growth( changed)?$/).selectOption('steps');
  await page.getByLabel(/^Growth per year/).fill('');
  await page.getByLabel(/^Growth steps/).fill('12=20, 6=15');
  await expect(page.getByText('The months of growth steps do not rise.').first()).toBeVisible();
  await page.getByLabel(/^Growth steps/).fill('6=15, 12=20');
  await expect(right.getByRole('alert')).toHaveCount(0);
});

test('more services of a kind than services are refused at the field, and stored figures stay', async ({
  page,
  open,
}) => {
  await open(`clusters/${timetable}`);
  await page.locator('summary').filter({ hasText: 'Services by kind' }).click();
  await page.getByLabel(/^NodePort services/).fill('900');
  await expect(page.getByText(/900 services are NodePort, LoadBalancer or headless/).first()).toBeVisible();
  await expect(consequences(page)).toContainText('33 nodes');
  await page.getByLabel(/^Services \(/).fill('1000');
  await expect(page.getByText(/900 services are NodePort/)).toHaveCount(0);
  await page.getByRole('button', { name: /farther away/ }).click();
  await expect(page.getByRole('rowheader', { name: 'NodePorts' })).toBeVisible();
});

test('a range typed over that of a built cluster is stored as a rebuild, or stays in the user’s hands', async ({
  page,
  open,
}) => {
  await open(`clusters/${north}`);
  const service = page.getByLabel('service range IPv4');
  await service.fill('100.114.0.0/22');
  await expect(consequences(page)).toContainText('As typed, not saved yet');
  await press(page, 'Save');
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('service range: 100.112.0.0/22 to 100.114.0.0/22');
  await dialog.getByRole('button', { name: 'Cancel' }).click();
  await expect(service).toHaveValue('100.114.0.0/22');
  await expect(page.getByRole('alert')).toContainText('a rebuild needs its reason');
  await press(page, 'Save');
  await dialog.getByLabel('Reason').fill('Shadowed elsewhere');
  await dialog.getByRole('button', { name: 'Plan the rebuild' }).click();
  await expect(page.getByText('As saved')).toBeVisible();
  await page.reload();
  await expect(service).toHaveValue('100.114.0.0/22');
});

test('a template cannot follow itself: the cell says by which way', async ({ page, open }) => {
  await open('demand?show=templates');
  const row = rowOf(page, 'Templates', 'pier site').first();
  await row.getByRole('gridcell').nth(1).dblclick();
  await sheetOf(page, 'Templates').getByRole('combobox').selectOption({ label: 'ticket kiosk' });
  await expect(page.getByRole('alert')).toContainText(
    'The template would follow itself: pier site, based on ticket kiosk, based on pier site',
  );
});

test('a price with no number is refused in its cell; a good one changes the cost', async ({ page, open }) => {
  await open('ground?show=profiles&cols=name,priceBalancer');
  const sheet = sheetOf(page, 'Provider profiles');
  const cell = sheet.getByRole('row').filter({ hasText: 'Halden' }).getByRole('gridcell').nth(1);
  await cell.dblclick();
  await sheet.getByRole('textbox').fill('dear');
  await page.keyboard.press('Enter');
  await expect(sheet.getByRole('alert')).toContainText('"dear" is not a number.');
  await sheet.getByRole('textbox').fill('100');
  await page.keyboard.press('Enter');
  await expect(cell).toHaveText('100');
  await open(`clusters/${north}`);
  // 12 services of 120 nodes at the horizon, and 5 of 46 now.
  await expect(tableOf(page, 'Cost per month').getByRole('row', { name: /^Load balancers/ })).toContainText('1,200.00');
});

test('encryption between nodes is stacked on the wire and meets the requirement in every mode', async ({
  page,
  open,
}) => {
  await open(`pod-network?cluster=${harbour}&cols=name,encryption,podNeeds`);
  const table = tableOf(page, 'Pod networks for harbour-ops');
  await expect(table.getByRole('row', { name: /^Possible/ })).toContainText('this overlay is not');
  const row = rowOf(page, 'Clusters', 'harbour-ops');
  await row.getByRole('gridcell').nth(2).dblclick();
  await sheetOf(page, 'Clusters').getByRole('combobox').selectOption('wireguard');
  // WireGuard leaves 1,440 of 1,500, VXLAN within it 1,390: below the floor of 1,420 that this cluster has.
  await expect(table.getByRole('row', { name: /^Largest packet between pods/ })).toContainText('1,390 bytes');
  await expect(table.getByRole('row', { name: /^Possible/ })).toContainText(
    'Packets of 1,420 bytes must pass, and 1,390 is the largest.',
  );
  await expect(table.getByRole('row', { name: /^Possible/ })).not.toContainText('must be encrypted');
});

test('a node subnet that is too small gets a further one beside it, typed or proposed', async ({ page, open }) => {
  await open(`clusters/${timetable}`);
  await page.getByLabel(/^Nodes at horizon/).fill('90');
  // 30 nodes in each zone, more with surge: a /27 does not hold them.
  await page.getByLabel('node range n1 IPv4, turn 2').fill('10.23.48.0/26');
  await press(page, 'Save');
  await expect(consequences(page)).toContainText('As saved');
  await expect(page.getByLabel('node range n1 IPv4, turn 2')).toHaveValue('10.23.48.0/26');
  await page.goto(page.url().replace(/clusters\/.*/, 'findings?filter=timetable'));
  await rowOf(page, 'Findings', 'timetable: the node range 10.23.63.64/27 is too small').click();
  await press(page, 'Propose another node subnet for timetable');
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('timetable');
  await dialog.getByRole('button', { name: /^Apply/ }).click();
  await expect(rowOf(page, 'Findings', 'timetable: the node range 10.23.63.64/27 is too small')).toHaveCount(0);
});
