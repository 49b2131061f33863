import type { Locator, Page } from '@playwright/test';
import { writePlanFile } from '@wide-lattice/core/exchange';
import {
  addOperation,
  applyOperations,
  emptyPlan,
  kindNames,
  kinds,
  newId,
  withFallbacks,
} from '@wide-lattice/core/plan';
import type { EntityOf, Kind, Operation, Plan } from '@wide-lattice/core/plan';
import { expect, test, visit } from './fixtures.js';

/** How one of a kind is added by its form and edited in its sheet. */
interface Driven {
  /** The view that has its sheet. */
  readonly view: string;
  /** The name of the sheet. */
  readonly sheet: string;
  /** The button that opens its form, where it is not called Add. */
  readonly add?: string;
  /** What is typed or chosen, by label; everything else is left as it stands in the form. */
  readonly fields: Readonly<Record<string, string>>;
  /** A text of the new row. */
  readonly row: string;
  /** The column that is edited, what is typed there or which of its choices is taken, and what stands there then. */
  readonly edit: readonly [column: string, typed: string, shown?: string];
}

// A kind that is left out does not compile. Rebuilds come with the edit that needs them; they have no form.
const driven: Readonly<Record<Exclude<Kind, 'rebuilds'>, Driven>> = {
  networks: {
    view: 'ground?show=networks',
    sheet: 'Networks',
    fields: { Name: 'depot' },
    row: 'depot',
    edit: ['MTU', '1400', '1,400'],
  },
  blocks: {
    view: 'ground?show=blocks',
    sheet: 'Address blocks',
    fields: { Network: 'n1', Prefix: '10.0.0.0/8' },
    row: '10.0.0.0/8',
    edit: ['Note', 'kept'],
  },
  subnets: {
    view: 'ground?show=subnets',
    sheet: 'Subnets',
    fields: { Name: 'sub', Network: 'n1', Site: 'here', Purpose: 'other', Prefix: '10.8.1.0/24' },
    row: '10.8.1.0/24',
    edit: ['Name', 'renamed'],
  },
  links: {
    view: 'ground?show=links',
    sheet: 'Links',
    fields: { Name: 'p1', Kind: 'peering', Networks: 'n1, n2' },
    row: 'p1',
    edit: ['Name', 'p2'],
  },
  attachments: {
    view: 'ground?show=attachments',
    sheet: 'Link attachments',
    fields: { Link: 'hub', Network: 'n1' },
    row: 'n1',
    edit: ['Advertises', '10.8.0.0/24'],
  },
  inUse: {
    view: 'ground?show=inUse',
    sheet: 'Ranges in use elsewhere',
    fields: { Prefix: '192.168.0.0/16', Owner: 'Head office' },
    row: '192.168.0.0/16',
    edit: ['Owner', 'Coach company'],
  },
  sites: {
    view: 'ground?show=sites',
    sheet: 'Sites',
    fields: { Name: 'there', Kind: 'edge', Profile: 'plain', Zones: 'z1' },
    row: 'there',
    edit: ['Zones', 'z1, z2'],
  },
  profiles: {
    view: 'ground?show=profiles',
    sheet: 'Provider profiles',
    fields: { Name: 'ours', 'Subnet scope': 'zone' },
    row: 'ours',
    edit: ['Name', 'theirs'],
  },
  shapes: {
    view: 'ground?show=shapes',
    sheet: 'Machine shapes',
    fields: { Name: 'small', Profile: 'plain' },
    row: 'small',
    edit: ['Name', 'tiny'],
  },
  clusters: {
    view: 'demand',
    sheet: 'Clusters',
    fields: { Name: 'new', Site: 'here', Network: 'n1', 'Nodes now': '3', 'Nodes at horizon': '6' },
    row: 'new',
    edit: ['Nodes now', '4'],
  },
  nodePools: {
    view: 'demand?show=nodePools',
    sheet: 'Node pools',
    fields: { Cluster: 'c', Name: 'extra', Now: '1', 'Max nodes': '2', 'At horizon': '2' },
    row: 'extra',
    edit: ['Name', 'more'],
  },
  templates: {
    view: 'demand?show=templates',
    sheet: 'Templates',
    fields: { Name: 'kiosk' },
    row: 'kiosk',
    edit: ['Name', 'booth'],
  },
  reservations: {
    view: 'demand?show=reservations',
    sheet: 'Reserved addresses',
    fields: { Name: 'vip', Cluster: 'c', 'First address': '10.9.0.10' },
    row: 'vip',
    edit: ['Name', 'vip-2'],
  },
  pools: {
    view: 'ranges',
    sheet: 'Address pools',
    add: 'Add a pool',
    fields: { Name: 'wide', Prefix: '172.16.0.0/12', Purpose: 'node, pod' },
    row: 'wide',
    edit: ['Name', 'wider'],
  },
  allocations: {
    view: 'ranges?show=allocations',
    sheet: 'Allocated ranges',
    fields: { Cluster: 'c', Purpose: 'pod', Prefix: '10.90.0.0/20' },
    row: '10.90.0.0/20',
    edit: ['Prefix', '10.90.16.0/20'],
  },
  routeTables: {
    view: 'egress?show=routeTables',
    sheet: 'Route tables',
    fields: { Name: 'second', Network: 'n2' },
    row: 'second',
    edit: ['Name', 'third'],
  },
  routes: {
    view: 'egress?show=routes',
    sheet: 'Static routes',
    fields: { 'Route table': 'main', Prefix: '192.0.2.0/24', 'Next hop': 'drop' },
    row: '192.0.2.0/24',
    edit: ['Prefix', '192.0.2.0/25'],
  },
  natDevices: {
    view: 'egress?show=natDevices',
    sheet: 'NAT devices',
    fields: { Name: 'nat-2', Subnet: 'edge' },
    row: 'nat-2',
    edit: ['Name', 'nat-3'],
  },
  firewalls: {
    view: 'egress?show=firewalls',
    sheet: 'Firewalls',
    fields: { Name: 'wall-2', Subnet: 'edge' },
    row: 'wall-2',
    edit: ['Name', 'wall-3'],
  },
  firewallRules: {
    view: 'egress?show=firewallRules',
    sheet: 'Firewall rules',
    fields: { Firewall: 'wall', Position: '20', Protocol: 'udp', Ports: '123' },
    row: '123',
    edit: ['Ports', '124'],
  },
  filters: {
    view: 'egress?show=filters',
    sheet: 'Filters',
    fields: { Name: 'nodes' },
    row: 'nodes',
    edit: ['Name', 'others'],
  },
  filterRules: {
    view: 'egress?show=filterRules',
    sheet: 'Filter rules',
    fields: { Filter: 'fence', Direction: 'in', Position: '10', Protocol: 'tcp', Ports: '443' },
    row: '443',
    edit: ['Ports', '444'],
  },
  prefixSets: {
    view: 'egress?show=prefixSets',
    sheet: 'Prefix sets',
    fields: { Name: 'partners', Prefixes: '198.51.100.0/24' },
    row: 'partners',
    edit: ['Name', 'friends'],
  },
  endpoints: {
    view: 'egress?show=endpoints',
    sheet: 'Private endpoints',
    fields: { Name: 'store', Subnet: 'edge', Address: '10.8.0.10' },
    row: 'store',
    edit: ['Name', 'store-2'],
  },
  bastions: {
    view: 'egress?show=bastions',
    sheet: 'Bastions',
    fields: { Name: 'gate', Subnet: 'edge', Address: '10.8.0.9' },
    row: 'gate',
    edit: ['Name', 'gate-2'],
  },
  needs: {
    view: 'egress?show=needs',
    sheet: 'Needs',
    fields: { Name: 'time', Prefixes: '192.0.2.123/32' },
    row: 'time',
    edit: ['Name', 'clock'],
  },
  expectations: {
    view: 'egress?show=expectations',
    sheet: 'Expectations',
    fields: { Name: 'apart', From: 'node of c', To: '10.8.0.1 tcp 80' },
    row: 'apart',
    edit: ['Name', 'afar'],
  },
  workloads: {
    view: 'ingress?show=workloads',
    sheet: 'Workloads',
    fields: { Name: 'basket', Cluster: 'c', Replicas: '2', 'At horizon': '3' },
    row: 'basket',
    edit: ['Name', 'cart'],
  },
  services: {
    view: 'ingress?show=services',
    sheet: 'Services',
    fields: { Name: 'front', Cluster: 'c', Ports: 'web tcp 80 to http' },
    row: 'front',
    edit: ['Name', 'face'],
  },
  balancers: {
    view: 'ingress?show=balancers',
    sheet: 'Load balancers',
    fields: { Name: 'front', Subnet: 'edge' },
    row: 'front',
    edit: ['Name', 'face'],
  },
  listeners: {
    view: 'ingress?show=listeners',
    sheet: 'Listeners',
    fields: { Name: 'web', 'Load balancer': 'first' },
    row: 'web',
    edit: ['Name', 'web-2'],
  },
  backends: {
    view: 'ingress?show=backends',
    sheet: 'Backends',
    fields: { Name: 'old', 'Load balancer': 'first', Members: 'addresses', Addresses: '192.0.2.7', Port: '8080' },
    row: 'old',
    edit: ['Name', 'older'],
  },
  controllers: {
    view: 'ingress?show=controllers',
    sheet: 'Controllers',
    fields: { Name: 'inside', Cluster: 'c', Classes: 'plain' },
    row: 'inside',
    edit: ['Name', 'within'],
  },
  gateways: {
    view: 'ingress?show=gateways',
    sheet: 'Gateways',
    fields: { Name: 'front', Cluster: 'c', Class: 'plain', Listeners: 'b http 80' },
    row: 'front',
    edit: ['Name', 'face'],
  },
  ingressRoutes: {
    view: 'ingress?show=ingressRoutes',
    sheet: 'Routes to services',
    fields: { Name: 'shop', Cluster: 'c', 'Backend services': 'pay 80' },
    row: 'shop',
    edit: ['Name', 'store'],
  },
  networkPolicies: {
    view: 'ingress?show=networkPolicies',
    sheet: 'Network policies',
    fields: { Name: 'inside', Cluster: 'c' },
    row: 'inside',
    edit: ['Name', 'within'],
  },
  referenceGrants: {
    view: 'ingress?show=referenceGrants',
    sheet: 'Reference grants',
    fields: { Name: 'from-edge', Cluster: 'c', From: 'HTTPRoute in edge', To: 'Service' },
    row: 'from-edge',
    edit: ['Name', 'from-gate'],
  },
  zones: {
    view: 'dns?show=zones',
    sheet: 'Zones',
    fields: { Name: 'inner', 'Domain name': 'b.example' },
    row: 'inner',
    edit: ['Name', 'inside'],
  },
  records: {
    view: 'dns?show=records',
    sheet: 'Records',
    fields: { Zone: 'a.example', Name: 'www', Value: '192.0.2.9' },
    row: '192.0.2.9',
    edit: ['Value', '192.0.2.10'],
  },
  recordControllers: {
    view: 'dns?show=recordControllers',
    sheet: 'Record controllers',
    fields: { Name: 'hand', Cluster: 'c' },
    row: 'hand',
    edit: ['Name', 'hands'],
  },
  resolvers: {
    view: 'dns?show=resolvers',
    sheet: 'Resolvers',
    fields: { Name: 'second', Network: 'n2', Addresses: '10.20.0.53' },
    row: 'second',
    edit: ['Name', 'third'],
  },
  forwardingRules: {
    view: 'dns?show=forwardingRules',
    sheet: 'Forwarding rules',
    fields: { Name: 'to-b', 'Domain name': 'b.example', Networks: 'n1', 'Forward to': '10.8.0.53' },
    row: 'to-b',
    edit: ['Name', 'to-c'],
  },
  certificates: {
    view: 'dns?show=certificates',
    sheet: 'Certificates',
    fields: { Name: 'web', 'Subject names': 'a.example', 'Valid from': '2026-11-01' },
    row: 'web',
    edit: ['Name', 'web-2'],
  },
  connections: {
    view: 'cross-cluster?show=connections',
    sheet: 'Connections',
    fields: { Name: 'coast', Method: 'relays' },
    row: 'coast',
    edit: ['Name', 'shore'],
  },
  members: {
    view: 'cross-cluster?show=members',
    sheet: 'Members of connections',
    fields: { Connection: 'first join', Cluster: 'c', 'Member id': 'c-one' },
    row: 'c-one',
    edit: ['Member id', 'c-two'],
  },
  serviceExports: {
    view: 'cross-cluster?show=serviceExports',
    sheet: 'Exported services',
    fields: { 'Exported by': 'd in first join', Service: 'basket', 'Exported on': '2026-11-01' },
    row: 'basket',
    edit: ['Service', 'cart'],
  },
  buildTimes: {
    view: 'rehearsal?show=buildTimes',
    sheet: 'Build times',
    fields: { Step: 'firewall', Duration: '1200' },
    row: 'firewall',
    edit: ['Duration', '900'],
  },
  confirmations: {
    view: 'rehearsal?show=confirmations',
    sheet: 'Prerequisites confirmed by hand',
    fields: { Site: 'here', Confirmed: 'permissions', 'Confirmed by': 'Net', 'Confirmed on': '2026-12-01' },
    row: 'permissions',
    edit: ['Confirmed by', 'Platform'],
  },
};

/** A small plan that has one of all that others refer to. */
function smallPlan(): Plan {
  const made: Operation[] = [];
  const add = <K extends Kind>(kind: K, fields: Partial<EntityOf[K]>): string => {
    const id = newId();
    made.push(addOperation(kind, withFallbacks(kind, { id, ...fields })));
    return id;
  };
  const profileId = add('profiles', { name: 'plain', reservedFirst: 1, reservedLast: 1, subnetScope: 'region' });
  const siteId = add('sites', { name: 'here', kind: 'region', profileId, zones: ['a'] });
  const networkId = add('networks', { name: 'n1' });
  const second = add('networks', { name: 'n2' });
  add('links', { name: 'hub', kind: 'hub', networkIds: [networkId, second] });
  add('routeTables', { name: 'main', networkId });
  const subnetId = add('subnets', { name: 'edge', networkId, siteId, purpose: 'other', prefix: '10.8.0.0/24' });
  const sized = { siteId, networkId, nodesNow: 3, nodesHorizon: 5 };
  const clusterId = add('clusters', { ...sized, name: 'c' });
  const other = add('clusters', { ...sized, name: 'd' });
  add('allocations', { clusterId, purpose: 'node', prefix: '10.9.0.0/24' });
  add('firewalls', { name: 'wall', subnetId });
  add('filters', { name: 'fence' });
  add('zones', { name: 'a.example', apex: 'a.example' });
  add('balancers', { name: 'first', subnetId, layer: '7' });
  const connectionId = add('connections', { name: 'first join', method: 'tunnels' });
  add('members', { connectionId, clusterId: other, memberId: 'd' });
  const applied = applyOperations(emptyPlan({ name: `Forms ${Date.now()}` }), made);
  if (!applied.ok) throw new Error(JSON.stringify(applied.problems));
  return applied.plan;
}

async function fill(dialog: Locator, label: string, text: string): Promise<void> {
  const field = dialog.getByLabel(label, { exact: true });
  if (!(await field.isVisible()))
    await dialog
      .locator('details', { has: dialog.page().getByLabel(label, { exact: true }) })
      .locator('summary')
      .first()
      .click();
  if ((await field.evaluate((each) => each.tagName)) === 'SELECT') await field.selectOption(text);
  else await field.fill(text);
}

async function drive(page: Page, base: string, { view, sheet, add = 'Add', fields, row, edit }: Driven): Promise<void> {
  await visit(page, `${base}/${view}`);
  // The whole name: other tables may have it in theirs.
  const grid = page.getByRole('grid', { name: sheet, exact: true });
  await expect(grid).toBeVisible();
  const revision = page.getByRole('banner').getByText(/^revision /);
  const before = Number((await revision.innerText()).replace(/\D/g, ''));
  const dialog = page.getByRole('dialog');
  await page.getByRole('button', { name: add, exact: true }).first().click();
  for (const [label, text] of Object.entries(fields)) await fill(dialog, label, text);
  await dialog.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(dialog).toHaveCount(0);
  const added = grid.getByRole('row').filter({ hasText: row }).last();
  await expect(added).toBeVisible();
  const [column, typed, shown = typed] = edit;
  const headings = await grid.getByRole('columnheader').allInnerTexts();
  const at = headings.findIndex((heading) => heading.trim() === column);
  expect([column, at]).not.toEqual([column, -1]);
  // By its place: what is edited is no text of the row any more.
  const place = grid.locator(`[data-line="${await added.getAttribute('data-line')}"]`);
  await place.locator(`[data-column="${at}"]`).dblclick();
  const editor = place.getByRole('textbox');
  await editor.fill(typed);
  await editor.press('Enter');
  await expect(editor).toHaveCount(0);
  const edited = grid.getByRole('row').filter({ hasText: shown }).last();
  await expect(edited).toBeVisible();
  const button = edited.getByRole('button', { name: /^Remove / });
  // Where a row has no button, the key does it.
  if ((await button.count()) > 0) await button.click();
  else {
    await edited.getByRole('gridcell').nth(1).click();
    await page.keyboard.press('Delete');
  }
  await expect(revision).toHaveText(`revision ${before + 3}`);
  // Three in a row, none waited for.
  await page.locator('main').focus();
  for (let undo = 0; undo < 3; undo++) await page.keyboard.press('Control+z');
  await expect(revision).toHaveText(`revision ${before + 6}`);
}

test('every kind has a form or comes with what needs it', () => {
  expect([...Object.keys(driven), 'rebuilds'].sort()).toEqual([...kinds].sort());
});

const stops = [...new Set(Object.values(driven).map(({ view }) => view.split('?')[0] ?? ''))];
for (const stop of stops) {
  const own = Object.entries(driven).filter(([, { view }]) => view.split('?')[0] === stop);
  test(`at ${stop}, ${own.length} kinds are added by their forms, edited, removed, and all of it undone`, async ({
    page,
    request,
  }) => {
    test.slow();
    const plan = smallPlan();
    const answer = await request.post('/api/plans/import', {
      data: Buffer.from(writePlanFile(plan, 'json')),
      headers: { 'content-type': 'application/json' },
    });
    const { id } = (await answer.json()) as { id: string };
    await page.goto(`/plans/${id}/board`);
    await expect(page.getByRole('navigation', { name: 'Course of the work' })).toBeVisible();
    for (const [kind, how] of own)
      await test.step(kindNames[kind as Kind], async () => {
        await drive(page, `/plans/${id}`, how);
        expect(((await (await request.get(`/api/plans/${id}`)).json()) as { plan: Plan }).plan).toEqual(plan);
      });
  });
}
