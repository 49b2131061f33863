import { expect, test } from './fixtures.js';
import { consequences, decisions, expectChanges, pasteRows, press, rowOf, sheetOf, tableOf } from './pages.js';

test('a service says who answers at each port, and that nobody listens where the port is wrong', async ({
  page,
  open,
}) => {
  await open('ingress?show=services');
  const right = consequences(page);
  await rowOf(page, 'Services', 'tide-models').first().getByRole('gridcell', { name: 'tide', exact: true }).click();
  const members = tableOf(page, 'Members at tcp 80');
  // 18 and 2 pods: nine of ten calls to the first.
  await expect(members.getByRole('row', { name: /tide-v1/ })).toContainText('90.0 %');
  await expect(members.getByRole('row', { name: /tide-v2/ })).toContainText('10.0 %');
  await expect(right).toContainText('100.112.0.12, fixed');
  await sheetOf(page, 'Services').getByRole('gridcell', { name: 'archive', exact: true }).click();
  await expect(right).toContainText('nothing answers yet');

  await sheetOf(page, 'Services').getByRole('gridcell', { name: 'tide-gate', exact: true }).click();
  await expect(tableOf(page, 'Members at tcp 443')).toContainText('nothing listens');
  const ports = rowOf(page, 'Services', 'tide-gate').getByRole('gridcell', { name: /tcp 443 to/ });
  await ports.dblclick();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('tcp 443 to control node 30443');
  await page.keyboard.press('Enter');
  await expect(tableOf(page, 'Members at tcp 443').getByRole('row', { name: /tide-gate/ })).toContainText('9443');
  await expectChanges(page, 1);
});

test('what a zone that is lost leaves without room is told, and more nodes end it', async ({ page, open }) => {
  await open('ingress?show=workloads');
  const room = tableOf(page, 'Room on the nodes of booking-north');
  await expect(room.getByRole('row', { name: /^Today/ })).toContainText('all');
  await expect(room.getByRole('row', { name: /^Zone n1 lost/ })).toContainText('4 without room');
  await expect(consequences(page).getByRole('list', { name: 'Workloads without room' })).toContainText(
    'shop/seat-search',
  );
  await open('demand?show=nodePools');
  const now = rowOf(page, 'Node pools', 'seat-search').getByRole('gridcell', { name: '4', exact: true });
  await now.dblclick();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('6');
  await page.keyboard.press('Enter');
  await open('ingress?show=workloads');
  await expect(room.getByRole('row', { name: /lost/ })).toContainText('all');
});

test('workloads are pasted, a bad row is told with its place and keeps nothing from being mended', async ({
  page,
  open,
}) => {
  await open('ingress?show=workloads');
  const dialog = await pasteRows(
    page,
    'cluster,namespace,name,labels,replicas,at horizon,container ports\nbooking-north,shop,fares,app=fares,2,4,http tcp 8080\nbooking-north,shop,Seats,app=seats,2,4,http tcp 80800',
  );
  await expect(dialog).toContainText('80800');
  await expect(dialog).toContainText('a container port such as http tcp 8080');
  await page.keyboard.press('Escape');
  await press(page, 'Discard it');
  await expect(sheetOf(page, 'Workloads').getByRole('row')).toHaveCount(15);
});

test('a URL is asked in the question bar: the route that wins with those that lost, who answers, every hop, and what refuses', async ({
  page,
  open,
}) => {
  await open('ingress');
  const right = consequences(page);
  await page.getByLabel('From', { exact: true }).fill('the internet');
  await page.getByLabel('to', { exact: true }).fill('https://tickets.skerryline.example/basket/pay');
  await press(page, 'Ask');
  await expect(right.getByRole('region', { name: 'Verdict' })).toContainText('is served by shop/basket');
  const how = right.getByRole('region', { name: 'How it is answered' });
  await expect(how).toContainText('shop/tickets, rule 2');
  await expect(how).toContainText(
    'shop/basket-old, rule 1: tickets.skerryline.example/basket matches, too, and is not taken: the winner is older',
  );
  await expect(tableOf(page, 'Endpoints').getByRole('row', { name: /shop\/basket/ })).toContainText('100 %');
  await expect(right.getByRole('toolbar', { name: 'Steps of the road' })).toBeVisible();
  await press(page, 'must be answered by shop/basket');
  await expect(right).toContainText('Kept as the expectation');

  await page.getByLabel('to', { exact: true }).fill('https://tickets.skerryline.example/basket at 240 per minute');
  await press(page, 'Ask');
  await expect(right.getByRole('region', { name: 'Verdict' })).toContainText('Status 429');
  await page.getByLabel('to', { exact: true }).fill('http://tickets.skerryline.example/');
  await press(page, 'Ask');
  await expect(right.getByRole('region', { name: 'Verdict' })).toContainText(
    'Health checks of edge-plain on tcp 10256',
  );
});

test('network policies hold a pod of a workload, and the policy is named', async ({ page, open }) => {
  const from = 'pod of booking-north, workload shop/seat-search';
  const ask = (to: string) => open(`ingress?from=${encodeURIComponent(from)}&to=${encodeURIComponent(to)}&bytes=576`);
  await ask('service shop/basket of booking-north tcp 80');
  await expect(consequences(page)).toContainText('is served by shop/basket');
  await ask('service shop/storefront of booking-north tcp 80');
  await expect(consequences(page)).toContainText(
    'The network policy shop/seat-search selects shop/seat-search for egress',
  );
});

test('marking a host leaves what is linked to it, and an open end says what would mend it', async ({ page, open }) => {
  await open('ingress');
  const left = decisions(page);
  await left.getByRole('button', { name: 'seats.skerryline.example' }).click();
  await expect(left.getByRole('region', { name: 'Services' }).getByRole('button')).toHaveCount(1);
  await expect(left.getByRole('region', { name: 'Services' })).toContainText('shop/seat-search');
  await press(page, 'Show all');
  await left.getByRole('button', { name: /offers\.skerryline\.example/ }).click();
  await expect(left).toContainText('No controller implements the class edge-old.');
  await page.reload();
  await expect(left).toContainText('No controller implements the class edge-old.');
  await press(page, 'Ask for it');
  await expect(consequences(page)).toContainText('offers.skerryline.example is not answered (NXDOMAIN)');
  await left.getByLabel('Find an entry point').fill('tide');
  await expect(left.getByRole('region', { name: 'Hosts' })).toContainText('tide.models.skerryline.example');
  await press(page, 'As a drawing');
  await expect(left.getByRole('img', { name: /Entry points: 2 hosts/ })).toBeVisible();
});

test('a load is simulated with a zone lost, told in a sentence, charts and shares; the same seed gives the same', async ({
  page,
  open,
}) => {
  await open('ingress?side=load&to=https%3A%2F%2Ftickets.skerryline.example%2F');
  const right = consequences(page);
  await expect(tableOf(page, 'Replicas needed').getByRole('row', { name: /storefront/ })).toContainText('30');
  await page.getByLabel('Rate', { exact: true }).fill('100');
  await page.getByLabel('Lost', { exact: true }).selectOption('n1');
  await press(page, 'Simulate');
  const outcome = right.getByRole('region', { name: 'Outcome' });
  await expect(outcome).toContainText(/Of [\d,]+ requests/);
  const first = await outcome.innerText();
  // Machines that are gone answer nothing: their clients wait until the time-out.
  await expect(outcome).toContainText('timed out at the client');
  await expect(tableOf(page, 'Shares of the load').getByRole('row', { name: /n1/ })).toBeVisible();
  await press(page, 'Show as a table');
  await expect(tableOf(page, 'The load over the time').getByRole('row')).toHaveCount(61);
  await page.reload();
  await expect(page.getByLabel('Lost', { exact: true })).toHaveValue('n1');
  await press(page, 'Simulate');
  await expect(outcome).toHaveText(first, { useInnerText: true });
  await page.getByLabel('Lost calls').selectOption('fail at once');
  await press(page, 'Simulate');
  await expect(outcome).toContainText('lost with their pods');
  await page.getByLabel('Rate', { exact: true }).fill('1000000');
  await press(page, 'Simulate');
  await expect(right.getByRole('alert')).toContainText('600,000,000 requests are more than one simulation takes');
});

test('pods come and go with the load, and a node is lost; both are in the address and in a chart', async ({
  page,
  open,
}) => {
  await open('ingress?side=load&to=https%3A%2F%2Ftickets.skerryline.example%2F');
  await page.getByLabel('Rate', { exact: true }).fill('1500');
  await page.getByLabel('Pods at start').fill('10');
  await page.getByLabel('Scaling').selectOption('by load');
  await page.getByLabel('Target use').fill('40');
  await page.getByLabel('Lost', { exact: true }).selectOption('fullest node');
  await press(page, 'Simulate');
  await expect(page.getByRole('img', { name: /Pods in service/ })).toBeVisible();
  await press(page, 'Show as a table');
  const rows = tableOf(page, 'The load over the time').getByRole('row');
  // 1,500 a second at some 18 ms are 27 calls at once: more than 3 pods at 40 %.
  await expect(rows.nth(1).getByRole('cell').last()).toHaveText('3');
  await expect(rows.nth(60).getByRole('cell').last()).not.toHaveText('3');
  await page.reload();
  await expect(page.getByLabel('Scaling')).toHaveValue('by load');
  await page.getByLabel('Target use').fill('0');
  await press(page, 'Simulate');
  await expect(consequences(page).getByRole('alert')).toContainText('Scaling target');
});

test('a long simulation shows how far it is, and can be cancelled', async ({ page, open }) => {
  await open('ingress?side=load&to=https%3A%2F%2Ftickets.skerryline.example%2F&load=rate%3D3000%26seconds%3D6000');
  await press(page, 'Simulate');
  await expect(page.getByLabel('Simulated so far')).toBeVisible();
  await press(page, 'Cancel');
  await expect(page.getByRole('button', { name: 'Simulate' })).toBeVisible();
  await expect(consequences(page).getByRole('region', { name: 'Outcome' })).toHaveCount(0);
});

test('an entry point is opened in one action, and answers after it', async ({ page, open }) => {
  await open('ingress?side=expose');
  const right = consequences(page);
  await page.getByLabel('Service', { exact: true }).selectOption({ label: 'shop/basket, booking-north' });
  await page.getByLabel('Host name').fill('fares.skerryline.example');
  await page.getByLabel('With TLS').uncheck();
  // The record controller of the cluster names it by itself: no name is left to be entered.
  await expect(right).toContainText('for fares.skerryline.example');
  await expect(right).not.toContainText('fares.skerryline.example must answer');
  await press(page, 'Apply 1 row');
  await expect(page.getByText('Ask for the host name to test it.')).toBeVisible();
  await expect(decisions(page).getByRole('button', { name: 'fares.skerryline.example' })).toBeVisible();
  await expectChanges(page, 1);
});

test('manifests are read with their problems by line, upgraded, and applied as one change', async ({ page, open }) => {
  await open('ingress?side=manifests');
  const right = consequences(page);
  await page.getByRole('textbox', { name: 'Manifests' }).click();
  const old =
    'apiVersion: extensions/v1beta1\nkind: Ingress\nmetadata: {name: old, namespace: shop, annotations: {kubernetes.io/ingress.class: booking-edge}}\nspec: {rules: [{host: old.skerryline.example, http: {paths: [{path: /, backend: {serviceName: basket, servicePort: 80}}]}}]}\n---\na: [\n';
  await page.keyboard.insertText(old);
  await expect(right).toContainText('1 object read');
  await expect(right.getByRole('list', { name: 'Problems' })).toContainText(/Line [67]: The YAML cannot be read/);
  await expect(right).toContainText('extensions/v1beta1 becomes networking.k8s.io/v1');
  await press(page, 'Apply 1 row');
  await expect(page.getByText('Imported as one change.')).toBeVisible();
  await press(page, 'Show manifests');
  // What is written is of today's version: putting it into the cluster ends the retired form there.
  await expect(right).toContainText('Deprecated version: no');
  await expectChanges(page, 1);
});

test('what a load balancer will hold is listed, and what differs without a node', async ({ page, open }) => {
  await open('ingress?show=balancers');
  const right = consequences(page);
  await expect(right.getByRole('region', { name: 'Derived configuration' })).toContainText('tcp 443 to edge-secure');
  await page.getByLabel('Compared with').selectOption('when a node leaves');
  // One node fewer in each of two backends.
  await expect(right.getByRole('region', { name: 'Differences' })).toContainText('0 added, 2 removed');

  // One without an address takes a free one of its subnet.
  await rowOf(page, 'Load balancers', 'models-front').getByRole('gridcell', { name: '10.28.255.40' }).dblclick();
  await page.keyboard.press('Control+a');
  await page.keyboard.press('Delete');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: /which is free in its subnet/ }).click();
  await expect(right.getByRole('region', { name: 'Derived configuration' })).toContainText('10.28.255.');
  await expectChanges(page, 2);
});
