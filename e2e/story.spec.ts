import { expect, test } from './fixtures.js';
import { consequences, goTo, press } from './pages.js';

const list = [
  'Cluster;Site;Network;Node count;Nodes at horizon',
  'front-1;north;front;6;12',
  'front-2;north;front;6;12',
  'back-1;south;back;4;8',
  'back-2;south;back;4;8',
  'hall-1;Harbour hall;hall;5;6',
  'hall-2;Harbour hall;hall;3;6',
].join('\n');
const needs =
  'name,host names,prefixes,protocol,ports\nimages,images.north.example,198.51.100.0/24,tcp,443\ntime,time.north.example,198.51.100.8/32,udp,123';
const zones =
  'name,domain name,side,networks\noutside,north.example,public,\ninside,north.example,private,"front, back, hall, hub"';
const manifest = `apiVersion: apps/v1
kind: Deployment
metadata: {name: shop, namespace: shop}
spec:
  replicas: 3
  selector: {matchLabels: {app: shop}}
  template:
    metadata: {labels: {app: shop}}
    spec: {containers: [{name: shop, image: shop, ports: [{name: http, containerPort: 8080}]}]}
---
apiVersion: v1
kind: Service
metadata: {name: shop, namespace: shop}
spec: {selector: {app: shop}, ports: [{name: web, port: 80, targetPort: http}]}
`;

test('the whole story from nothing: two cloud sites and a hall, six clusters, a hub, a TLS entry, split DNS, two clusters joined, files; stuck never, in sixty actions', async ({
  page,
  request,
}) => {
  test.setTimeout(240_000);
  let actions = 0;
  const act = async (what: Promise<unknown>) => {
    await what;
    actions++;
  };
  const right = consequences(page);
  const apply = async () => {
    const button = right.getByRole('button', { name: /^Apply \d+ rows?$/ }).first();
    await expect(button).toBeEnabled();
    await act(button.click());
  };
  const paste = async (text: string, count: number) => {
    await act(press(page, 'Import'));
    await act(page.getByLabel(/Paste CSV/).fill(text));
    await act(page.getByRole('button', { name: `Import ${count} valid rows` }).click());
  };
  const tab = (name: RegExp | string) => act(page.getByRole('tab', { name }).first().click());

  await page.goto('/');
  await act(press(page, 'New plan'));
  await act(page.getByLabel('Name of the plan').fill(`Story ${Date.now()}`));
  await act(page.getByRole('radio', { name: /^Spreadsheet/ }).check());
  await act(press(page, 'Create plan'));
  await act(page.getByLabel(/Paste CSV/).fill(list));
  await expect(
    page.getByRole('dialog').getByLabel('Provider profile of Harbour hall').locator('option:checked'),
  ).toHaveText('Plain LAN, new');
  await act(page.getByRole('button', { name: 'Import 6 valid rows' }).click());
  const planId = /plans\/([^/]+)/.exec(page.url())?.[1] ?? '';
  const open = async (): Promise<string[]> => {
    const { findings } = (await (await request.get(`/api/plans/${planId}/findings`)).json()) as {
      findings: { severity: string; code: string; title: string }[];
    };
    return findings.filter(({ severity }) => severity !== 'note').map(({ code }) => code);
  };

  await act(goTo(page, /Ranges/));
  await act(press(page, 'Propose'));
  await act(page.getByRole('button', { name: /^Apply 26 ranges/ }).click());
  await expect(page.getByRole('dialog')).toHaveCount(0);
  expect([...new Set(await open())]).toEqual(['egress.undecided']);

  await act(goTo(page, /Egress/));
  await tab('Proposals');
  await act(press(page, 'Choose all'));
  await act(
    right
      .getByRole('region', { name: 'Hub and spoke' })
      .getByRole('button', { name: /^Apply/ })
      .click(),
  );
  await expect(page.getByText('Applied as one change.')).toBeVisible();
  expect(await open()).toEqual([]);
  await tab(/^Needs/);
  await paste(needs, 2);
  await expect(right).toContainText('The need images passes the firewall hub-firewall');
  await apply();
  await expect(right).toContainText('Every row that the decisions ask for is there.');

  await act(goTo(page, /Ingress/));
  await tab(/Manifests/);
  await page.getByRole('textbox', { name: 'Manifests' }).click();
  await act(page.keyboard.insertText(manifest));
  await apply();
  await tab('Expose');
  await act(page.getByLabel('Host name').fill('shop.north.example'));
  await expect(right).toContainText('subnet front-entry');
  await apply();
  await expect(page.getByText('Ask for the host name to test it.')).toBeVisible();
  await tab(/^Load balancers/);
  await act(page.getByRole('gridcell', { name: 'not decided' }).dblclick());
  await act(page.keyboard.insertText('198.51.100.20'));
  await act(page.keyboard.press('Enter'));

  await act(goTo(page, /DNS/));
  await tab(/^Zones/);
  await paste(zones, 2);
  await tab('Propose');
  await expect(right).toContainText('A 198.51.100.20 in zone inside');
  await apply();
  await expect(right).toContainText('Every host, API and load balancer that can have a name has one.');

  await act(goTo(page, /Cross-cluster/));
  await tab(/Choose/);
  for (const name of ['front-1', 'back-1']) {
    await act(right.getByLabel('Add a cluster').fill(name));
    await act(right.getByLabel('Add a cluster').press('Enter'));
  }
  await act(right.getByLabel('export all their services').check());
  await act(press(page, 'Propose tunnels'));
  await expect(right).toContainText('Openings and routes of front-1 and back-1');
  await apply();
  await tab('Service matrix');
  await act(press(page, 'Answer with what is planned'));
  await expect(
    right
      .getByRole('grid', { name: /Clusters by/ })
      .getByText('reached')
      .first(),
  ).toBeVisible();
  expect(await open()).toEqual([]);

  // The entry answers from outside, by its name, with its certificate.
  await page.goto(`/plans/${planId}/ingress?from=the+internet&to=https%3A%2F%2Fshop.north.example%2F&bytes=1400`);
  await expect(page.getByRole('region', { name: 'Verdict' })).toContainText(/pass/i);
  await act(goTo(page, /Handover/));
  for (const name of ['Download Plan file, JSON', 'Download Address plan, PDF']) {
    const download = page.waitForEvent('download', { timeout: 60_000 });
    await act(page.getByRole('link', { name }).click());
    expect(await (await download).failure()).toBeNull();
  }
  await expect(page.getByText('There is no conflict.')).toBeVisible();
  expect(actions).toBeLessThanOrEqual(60);
});
