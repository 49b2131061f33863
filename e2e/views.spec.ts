import { idOf, pageOf } from './demo.js';
import { expect, expectAccessible, test, visit } from './fixtures.js';
import { consequences, goTo, press, sheetOf } from './pages.js';

const views = [
  'board',
  'board?group=site',
  'ground',
  'ground?show=inUse',
  'ground?show=links',
  'ground?show=subnets&side=reach',
  'ground?show=profiles&side=join',
  'demand',
  'demand?side=cost&time=horizon',
  'demand?show=nodePools',
  'demand?show=templates',
  pageOf('tide-models'),
  'ranges',
  'ranges?side=use&view=10.28.0.0/16',
  'pod-network',
  `pod-network?side=paths&cluster=${idOf('harbour-ops')}`,
  'pod-network?side=fleet',
  'pod-network?side=locked',
  'egress',
  'egress?from=node+of+kiosk-ardle&to=need+own+registry',
  'egress?side=matrix&show=needs',
  'egress?side=propose&show=expectations',
  'ingress',
  'ingress?show=services',
  'ingress?show=balancers',
  'ingress?as=drawing&side=expose',
  'ingress?from=the+internet&to=https%3A%2F%2Ftickets.skerryline.example%2Fbasket&bytes=1400',
  'ingress?side=load&to=https%3A%2F%2Ftickets.skerryline.example%2F',
  'ingress?side=manifests',
  'dns',
  'dns?show=zones',
  'dns?show=certificates&from=pod+of+booking-north&to=name+tickets.skerryline.example+type+A&bytes=1280',
  'dns?show=recordControllers&side=cut-over',
  'dns?show=resolvers&side=load',
  'dns?show=forwardingRules&side=propose',
  'dns?show=zones&side=files',
  'cross-cluster',
  `cross-cluster?side=choose&join=timetable%2Charbour-ops&method=tunnels`,
  'cross-cluster?show=members&side=uses',
  'cross-cluster?show=serviceExports&side=values',
  'rehearsal',
  'rehearsal?even=yes&side=objects',
  'rehearsal?even=yes&side=log&show=buildTimes',
  'rehearsal?even=yes&side=compare&show=confirmations',
  'rehearsal?side=tests',
  'ledger',
  'findings',
  'history',
  'print',
  'handover',
];

// Both themes have the same elements and parts: the second is looked at for its colours, on one view of each page.
const pages = new Map<string, string[]>();
for (const view of views) {
  const name = view.split(/[?/]/)[0] ?? '';
  pages.set(name, [...(pages.get(name) ?? []), view]);
}
for (const [name, own] of pages) {
  test(`axe finds nothing on ${own.length} views of ${name}, in paper and in slate`, async ({ page, lookedAt }) => {
    test.slow();
    await page.goto(`/plans/${lookedAt}/${own[0]}`);
    const settled = async () => {
      await page.mouse.move(0, 0);
      // One that is broken off, since what it moved is gone, is over too.
      await page.evaluate(() => Promise.allSettled(document.getAnimations().map(({ finished }) => finished)));
    };
    for (const view of own)
      await test.step(view, async () => {
        await expect(page.getByRole('navigation', { name: 'Course of the work' })).toBeVisible();
        await visit(page, `/plans/${lookedAt}/${view}`);
        await expect(page.getByText('Computing...')).toHaveCount(0);
        await page.locator('h1').first().waitFor({ state: 'attached' });
        await settled();
        // The frame holds what it shows: parts scroll, the page does not.
        expect([view, await page.evaluate(() => document.documentElement.scrollHeight - innerHeight)]).toEqual([
          view,
          view === 'print' ? expect.any(Number) : 0,
        ]);
        // What stands around is the same on all views of a page.
        await expectAccessible(page, view === own[0] ? {} : { part: 'main' });
      });
    await page.getByRole('button', { name: 'Change to the slate theme' }).click();
    await settled();
    await expectAccessible(page, { rules: ['color-contrast'] });
  });
}

test('the course holds all thirteen places at 1280 wide, by keyboard too', async ({ page, open }) => {
  await open('ground');
  const course = page.getByRole('navigation', { name: 'Course of the work' });
  const places = [
    'Board',
    ...['Ground', 'Demand', 'Ranges', 'Pod network', 'Egress', 'Ingress', 'DNS', 'Cross-cluster', 'Rehearsal'],
    ...['Handover', 'Findings', 'History'],
  ];
  const links = course.getByRole('link');
  await expect(links).toHaveCount(places.length);
  expect(await course.evaluate((nav) => nav.scrollWidth - nav.clientWidth)).toBeLessThanOrEqual(0);
  const tops = await links.evaluateAll((all) => all.map((link) => link.getBoundingClientRect().top));
  expect(new Set(tops).size).toBe(1);
  expect(await links.evaluateAll((all) => all.every((link) => link.scrollWidth <= link.clientWidth))).toBe(true);
  await links.first().focus();
  for (const [i, name] of places.entries()) {
    await expect(links.nth(i)).toBeFocused();
    await expect(links.nth(i)).toContainText(name);
    await page.keyboard.press('Tab');
  }
});

test('axe finds nothing on the list of plans, in quick find, in a form and in an import', async ({ page, open }) => {
  await page.goto('/');
  await expect(page.getByRole('link', { name: /^(Skerry Line|Copy)/ }).first()).toBeVisible();
  await expectAccessible(page);
  await open('ground?show=inUse');
  await page.keyboard.press('/');
  await page.getByPlaceholder(/10\.20\.3\.4/).fill('kiosk');
  await expect(page.getByRole('option').first()).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('Escape');
  for (const name of ['Add', 'Import']) {
    await page.getByRole('button', { name, exact: true }).click();
    await expect(page.getByRole('dialog')).toBeVisible();
    await expectAccessible(page);
    await page.keyboard.press('Escape');
  }
});

test('a sheet is worked by keyboard alone: move, edit, be refused, leave', async ({ page, open }) => {
  await open('ranges');
  const sheet = sheetOf(page, 'Allocated ranges');
  await sheet.locator('[data-line="0"] [data-column="0"]').focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('F2');
  const field = page.getByLabel('Prefix of row 2');
  await field.fill('10.23.63.1/26');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('Write 10.23.63.0/26.');
  await expect(field).toHaveValue('10.23.63.1/26');
  await field.fill('10.23.62.0/26');
  await page.keyboard.press('Escape');
  await expect(field).toHaveCount(0);
  await expect(sheet.locator('[data-line="1"] [data-column="2"]')).toBeFocused();
  await expect(sheet.locator('[data-line="1"]')).toContainText('10.23.63.192/26');
});

test('rows pasted on a sheet open the import with them', async ({ page, open }) => {
  await open('ground?show=inUse');
  const sheet = sheetOf(page, 'Ranges in use elsewhere');
  await sheet.locator('[data-line="0"] [data-column="0"]').focus();
  await sheet.evaluate((element) => {
    const data = new DataTransfer();
    data.setData(
      'text/plain',
      'prefix\towner\tnetwork\n10.210.0.0/16\tKiosk office\tpiers\n10.211.0.0/16\tKiosk store\tpiers',
    );
    element
      .querySelector('[data-column="0"]')
      ?.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true }));
  });
  await page.getByRole('button', { name: 'Import 2 valid rows' }).click();
  await expect(sheet).toContainText('Kiosk store');
});

test('a network in use cannot be removed, and the message says by whom', async ({ page, open }) => {
  await open('ground?show=networks');
  await page.getByRole('button', { name: 'Remove booking' }).click();
  await expect(page.getByText(/still used by the load balancer "booking-front"/)).toBeVisible();
  await expect(sheetOf(page, 'Networks')).toContainText('booking');
});

test('any change that stands can be taken back from the history, and links reopen what was shown', async ({
  page,
  open,
}) => {
  await open(pageOf('harbour-ops'));
  await page.getByRole('button', { name: 'Remove' }).click();
  await expect(page).toHaveURL(/demand/);
  await goTo(page, 'History');
  await consequences(page).getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(sheetOf(page, 'History')).toContainText('Undo: Remove cluster harbour-ops');
  await page.goto(page.url().replace('history', 'board?filter=harbour'));
  await expect(page.getByRole('grid').getByRole('row').filter({ hasText: 'harbour-ops' })).toContainText(
    '100.80.0.0/18',
  );
  await expect(page.getByLabel('Filter the board')).toHaveValue('harbour');
});

test('an empty plan says what to do next, and an unknown address leads back', async ({ page }) => {
  await page.goto('/');
  await press(page, 'New plan');
  await page.getByLabel('Name of the plan').fill(`Empty ${Date.now()}`);
  await page.getByRole('radio', { name: /^Empty/ }).check();
  await press(page, 'Create plan');
  await expect(page.getByText(/A profile holds a provider/)).toBeVisible();
  await page.getByRole('link', { name: 'Board', exact: true }).click();
  await expect(page.getByText('No clusters yet.')).toBeVisible();
  await page.getByRole('link', { name: 'Ranges', exact: false }).first().click();
  await expect(page.getByText('Nothing is allocated yet.')).toBeVisible();
  await page.goto('/nowhere');
  await page.getByRole('link', { name: 'To the plans' }).click();
  await expect(page.getByRole('heading', { name: 'Plans' })).toBeVisible();
});

test('thousands of rows: only those in sight are drawn', async ({ page, open, planId, request }) => {
  const { revision, plan } = (await (await request.get(`/api/plans/${planId}`)).json()) as {
    revision: number;
    plan: { clusters: { id: string; name: string }[] };
  };
  const like = plan.clusters.at(-1);
  const operations = Array.from({ length: 3000 }, (_, i) => ({
    op: 'add',
    kind: 'clusters',
    entity: { ...like, id: `019bb000-0000-7000-8000-${i.toString(16).padStart(12, '0')}`, name: `many-${i}` },
  }));
  const answer = await request.post(`/api/plans/${planId}/changes`, {
    data: {
      baseRevision: revision,
      label: 'many',
      author: 'test',
      clientId: '019bb000-0000-7000-8000-000000000000',
      operations,
    },
  });
  expect(answer.status()).toBe(200);
  await open('board');
  await expect(page.getByText('3,048 of 3,048 clusters')).toBeVisible();
  expect(await page.getByRole('grid').getByRole('row').count()).toBeLessThan(80);
  await page.getByLabel('Filter the board').fill('many-2999');
  await expect(page.getByRole('gridcell', { name: 'many-2999' })).toBeVisible();
});

test('a sheet is copied as CSV as it is shown: filtered, with its headings', async ({ page, open, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await open('demand?filter=booking');
  await page.getByRole('button', { name: 'Copy as CSV' }).click();
  await expect(page.getByText('Clusters: 3 rows are on the clipboard.')).toBeVisible();
  const text = await page.evaluate(() => navigator.clipboard.readText());
  expect(text.split(/\r?\n/).slice(0, 2)).toEqual([
    'Name,Site,Network,Pod network,Nodes now,At horizon,Pods per node,Services',
    'booking-north,Halden north,booking,native,42,120,58,400',
  ]);
});
