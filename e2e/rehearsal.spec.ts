import { readFileSync } from 'node:fs';
import { Resolver } from 'node:dns/promises';
import { get } from 'node:https';
import { writePlanFile } from '@wide-lattice/core/exchange';
import { defaultSettings, emptyPlan, setOperation } from '@wide-lattice/core/plan';
import type { Plan } from '@wide-lattice/core/plan';
import { expect, expectAccessible, test } from './fixtures.js';
import { consequences, decisions, tableOf } from './pages.js';

test('a run waits for its prerequisites, then comes up, is scrubbed through, and every object says why', async ({
  page,
  open,
}) => {
  await open('rehearsal');
  const left = decisions(page);
  const right = consequences(page);
  await expect(left).toContainText('The run has not begun');
  await expect(tableOf(left, 'What holds it up')).toContainText('permissions');
  await expectAccessible(page);
  await left.getByRole('button', { name: 'Run even so' }).click();
  await expect(left.getByRole('region', { name: 'Outcome' })).toContainText(/It takes .* objects come up/);
  // The firewall of the data centre holds the cluster behind it up.
  await expect(tableOf(left, 'Critical path')).toContainText('basalt-edge');
  await expect(tableOf(left, 'Critical path').getByRole('row').last()).toContainText('shared-services');
  await right.getByRole('tab', { name: 'Objects' }).click();
  await left.getByRole('slider', { name: 'Time shown' }).fill('700');
  await expect(left).toContainText('11 min 40 s');
  await right.getByLabel('State', { exact: true }).selectOption({ label: 'all states' });
  await right.getByLabel('Filter by name or kind').fill('cluster dns timetable');
  await expect(tableOf(right, 'Objects').getByRole('button')).toHaveCount(1);
  await tableOf(right, 'Objects').getByRole('button', { name: 'timetable' }).click();
  await expect(tableOf(right, 'Conditions')).toContainText('PodNetworkNotReady');
  await expectAccessible(page);
});

test('a second pod network is refused, the log says when, and what is refused leads to its finding', async ({
  page,
  open,
}) => {
  await open('rehearsal?even=yes&side=log');
  const left = decisions(page);
  const right = consequences(page);
  await left.getByLabel('Second pod network').selectOption({ label: 'in timetable' });
  await right.getByLabel('State', { exact: true }).selectOption('refused');
  await right.getByLabel('Filter by name or kind').fill('pod network');
  await expect(tableOf(right, 'Log')).toContainText('only one may be installed');
  await right.getByLabel('Filter by name or kind').fill('edge-plain');
  await tableOf(right, 'Log').getByRole('button', { name: 'edge-plain' }).click();
  await expect(tableOf(right, 'Conditions')).toContainText('BackendOpening');
  await right.getByRole('link', { name: 'Finding' }).click();
  await expect(page).toHaveURL(/findings\?finding=backend\.opening/);
  await expect(page.getByRole('article').first()).toContainText('edge-plain');
});

test('what only people can know is ticked for every site, is kept, and is taken back', async ({ page, open }) => {
  await open('rehearsal');
  const right = consequences(page);
  const tools = right.getByRole('checkbox', { name: /^tools/ });
  await expect(tools).not.toBeChecked();
  await tools.click();
  await expect(right.getByText('confirmed at 45 sites')).toBeVisible();
  await page.reload();
  await expect(right.getByRole('checkbox', { name: /^tools/ })).toBeChecked();
  await right.getByRole('checkbox', { name: /^tools/ }).click();
  await expect(right.getByText('confirmed at 45 sites')).toHaveCount(0);
});

test('connection tests are counted, chosen by suite, lead to their road, and leave as JUnit', async ({
  page,
  open,
}) => {
  await open('rehearsal?side=tests');
  const right = consequences(page);
  await expect(right).toContainText(/\d+ run, \d+ failed, \d+ skipped/);
  await tableOf(right, 'Suites').getByRole('button', { name: 'entry by name' }).click();
  await right.getByLabel('Result').selectOption('failed');
  await expect(tableOf(right, 'Tests')).toContainText('seats.skerryline.example');
  await expectAccessible(page);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    right.getByRole('button', { name: 'JUnit XML' }).click(),
  ]);
  expect(download.suggestedFilename()).toMatch(/ connection tests\.xml$/);
  await tableOf(right, 'Tests').getByRole('link', { name: /seats/ }).first().click();
  await expect(consequences(page).getByRole('region', { name: 'Verdict' })).toContainText('certificate');
});

test('drills say what breaks and for whom, a change that helps is applied, and a drill becomes expectations', async ({
  page,
  open,
}) => {
  test.slow();
  await open('rehearsal?side=drills');
  const right = consequences(page);
  await expect(right.getByRole('region', { name: 'Score card' })).toContainText(/of \d+ drills hold/, {
    timeout: 60_000,
  });
  await expectAccessible(page);
  const change = tableOf(right, 'Changes that help').getByRole('row', { name: /Have gate-cert renew itself/ });
  await change.getByRole('button', { name: 'Apply' }).click();
  await expect(change).toHaveCount(0, { timeout: 60_000 });
  const hub = tableOf(right, 'Drills').getByRole('button', { name: 'Link skerry-hub cut' });
  await hub.click();
  await expect(tableOf(right, 'Drills')).toContainText('connection tests that passed fail');
  await right.getByRole('button', { name: /Record 10 tests as expectations/ }).click();
  await open('egress?show=expectations');
  await expect(decisions(page)).toContainText('Link skerry-hub cut, ');
});

test('an empty plan passes nothing: it says what to add, and the slider is worked by keys', async ({
  page,
  open,
  request,
}) => {
  const made = await request.post('/api/plans/import', {
    data: Buffer.from(writePlanFile(emptyPlan({ ...defaultSettings, name: `Empty ${Date.now()}` }), 'json')),
    headers: { 'content-type': 'application/json' },
  });
  const { id } = (await made.json()) as { readonly id: string };
  await page.goto(`/plans/${id}/rehearsal`);
  await expect(decisions(page)).toContainText('There is no cluster to bring up yet.');
  await page.goto(`/plans/${id}/rehearsal?side=tests`);
  await expect(consequences(page)).toContainText('There is nothing to test yet');
  await page.goto(`/plans/${id}/rehearsal?side=drills`);
  await expect(consequences(page)).toContainText('No drill can be run yet');
  await expect(consequences(page)).not.toContainText('100');
  await open('rehearsal?even=yes');
  const slider = decisions(page).getByRole('slider', { name: 'Time shown' });
  await slider.focus();
  await page.keyboard.press('Home');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await expect(slider).toHaveAttribute('aria-valuetext', '2 s');
  await expect(page).toHaveURL(/at=2$/);
});

test('several things are lost at once, and what breaks then is recorded', async ({ page, open }) => {
  await open('rehearsal?side=drills');
  const right = consequences(page);
  const add = right.getByLabel('Lost at once', { exact: true });
  await expect(add).toBeVisible({ timeout: 60_000 });
  const links = await add.getByRole('option', { name: /^Link .* cut$/ }).allTextContents();
  await add.selectOption({ label: links[0] ?? '' });
  await add.selectOption({ label: links[1] ?? '' });
  const table = tableOf(right, 'Lost at once');
  await expect(table).toContainText('Lost at once: link ');
  await expect(table.getByRole('row').nth(1)).toContainText(/breaks|holds/);
  await table.getByRole('button', { name: /^Lost at once/ }).click();
  await expectAccessible(page);
  await table.getByRole('button', { name: /^Record \d+ tests? as expectations$/ }).click();
  await expect(page.getByText(/revision 1/)).toBeVisible();
  await right.getByRole('button', { name: `Remove ${links[0] ?? ''}` }).click();
  await expect(table).toHaveCount(0);
});

test('stand-ins answer stock clients, a stopped pod is gone for them, and they end when they are stopped', async ({
  page,
  open,
}) => {
  await open('rehearsal?side=stand-ins');
  const right = consequences(page);
  await right.getByLabel('First port').fill('80');
  await expect(right.getByRole('alert')).toContainText('Enter 1,024 to 65,535');
  await expect(right.getByRole('button', { name: 'Start', exact: true })).toBeDisabled();
  await right.getByLabel('First port').fill('');
  await right.getByLabel('Health checks').fill('301');
  await expect(right.getByRole('alert')).toContainText('Enter 0 to 300');
  await right.getByLabel('Health checks').fill('1');
  await right.getByLabel('Vantages', { exact: true }).selectOption({ label: 'machines of booking' });
  await expectAccessible(page);
  await right.getByRole('button', { name: 'Start', exact: true }).click();
  await expect(right).toContainText('Answering at 127.0.0.1');
  const ports = tableOf(right, 'Name servers').getByRole('row', { name: /the internet/ });
  const resolver = new Resolver({ timeout: 60_000, tries: 1 });
  resolver.setServers([`127.0.0.1:${/\d{4,5}/.exec((await ports.textContent()) ?? '')?.[0] ?? ''}`]);
  expect(await resolver.resolve4('tickets.skerryline.example')).toEqual(['203.0.113.80']);
  await expect(tableOf(right, 'Recent requests')).toContainText('tickets.skerryline.example A (DNS) from the internet');
  await expectAccessible(page);

  // As the copied command asks.
  const row = tableOf(right, 'Load balancers')
    .getByRole('row', { name: /tcp 203\.0\.113\.80:443/ })
    .first();
  const command = (await row.getByRole('button').getAttribute('aria-label')) ?? '';
  const [, port = ''] = /127\.0\.0\.1:(\d+)/.exec(command) ?? [];
  const download = page.waitForEvent('download');
  await right.getByRole('link', { name: 'Authority certificate' }).click();
  const authority = readFileSync(await (await download).path());
  const said = () =>
    new Promise<string>((resolve, reject) => {
      const options = {
        ...{ host: '127.0.0.1', port, ca: authority, servername: 'tickets.skerryline.example', agent: false as const },
        headers: { host: 'tickets.skerryline.example' },
      };
      get(options, (response) => {
        let text = `${response.statusCode ?? 0} `;
        response.on('data', (chunk: Buffer) => (text += chunk.toString()));
        response.on('end', () => {
          resolve(text);
        });
      }).on('error', reject);
    });
  expect(await said()).toMatch(/^200 \{"pod":"storefront-\d+","workload":"shop\/storefront"/);
  await right.getByRole('button', { name: 'Stop one pod of ops/tide-gate in harbour-ops' }).click();
  await expect(tableOf(right, 'Members').getByRole('row', { name: /ops\/tide-gate/ })).toContainText('2 of 3 pods');
  await right.getByRole('button', { name: 'Start one pod of ops/tide-gate in harbour-ops again' }).click();
  await expect(tableOf(right, 'Members').getByRole('row', { name: /ops\/tide-gate/ })).toContainText('3 of 3 pods');
  const config = page.waitForEvent('download');
  await right.getByRole('link', { name: 'read shop' }).click();
  expect(readFileSync(await (await config).path(), 'utf8')).toContain('namespace: shop');

  await right.getByRole('button', { name: 'Stop', exact: true }).click();
  await expect(right.getByRole('button', { name: 'Start', exact: true })).toBeVisible();
  await expect(said()).rejects.toThrow(/ECONNREFUSED/);
});

test('a run is set beside that of an earlier state of the plan', async ({ page, open, planId, request }) => {
  const { plan, revision } = (await (await request.get(`/api/plans/${planId}`)).json()) as {
    readonly plan: Plan;
    readonly revision: number;
  };
  const cluster = plan.clusters.find(({ name }) => name === 'timetable');
  const changed = await request.post(`/api/plans/${planId}/changes`, {
    data: {
      baseRevision: revision,
      author: 'test',
      label: 'more nodes',
      clientId: '019bb000-0000-7000-8000-000000000000',
      operations: [setOperation('clusters', cluster?.id ?? '', { nodesNow: (cluster?.nodesNow ?? 0) + 2 })],
    },
  });
  expect(changed.ok()).toBe(true);
  await open('rehearsal?even=yes&side=compare');
  const right = consequences(page);
  await right
    .getByLabel('The run on the left, and the same')
    .selectOption({ label: `of the plan: As started (revision 0)` });
  const table = tableOf(right, 'Objects that differ');
  await expect(table.getByRole('row', { name: /timetable/ })).toHaveCount(2);
  await expect(table).toContainText('only in the first');
  await expectAccessible(page);
});
