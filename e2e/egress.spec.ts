import { expect, test } from './fixtures.js';
import { consequences, expectChanges, press, rowOf, sheetOf, tableOf } from './pages.js';

const QUESTION = 'egress?from=node+of+kiosk-ardle&to=need+own+registry';

test('a question is asked from anywhere by a key, and is followed hop by hop with what decides', async ({
  page,
  open,
}) => {
  await open('findings');
  await page.keyboard.press('q');
  const bar = page.getByRole('search', { name: 'Question to the plan' });
  await expect(bar.getByLabel('From')).toBeFocused();
  await bar.getByLabel('From').fill('node of booking-north');
  await bar.getByLabel('to', { exact: true }).fill('need image registry');
  await bar.getByRole('button', { name: 'Ask' }).click();
  const right = consequences(page);
  await expect(right.getByRole('region', { name: 'Verdict' })).toContainText('passes');
  // There by the NAT device of its zone, and the answer comes back to the node.
  const road = right.getByRole('toolbar', { name: 'Steps of the road' });
  await road.getByRole('button', { name: 'there: translated' }).click();
  await expect(right).toContainText('Before');
  await press(page, 'Show as a table');
  const steps = tableOf(page, 'Steps of the road');
  await expect(steps.getByRole('row', { name: /there translated/ })).toBeVisible();
  await expect(steps.getByRole('row', { name: /back delivered/ })).toBeVisible();
});

test('a refused packet names the rule, its smallest change is applied as one, and then it passes', async ({
  page,
  open,
}) => {
  await open(QUESTION);
  const verdict = page.getByRole('region', { name: 'Verdict' });
  await expect(verdict).toContainText('The filter registry-door of private endpoint registry: no rule allows tcp 443');
  const mends = page.getByRole('listitem').filter({ hasText: 'Add rule 110 to the filter registry-door' });
  await expect(mends).toContainText('It opens in the matrix: kiosk-ardle to own registry.');
  await mends.getByRole('button', { name: 'Apply' }).click();
  await expect(verdict).toContainText('passes');
  await page.goto(page.url().replace(/egress.*/, 'egress?show=filterRules'));
  await expect(rowOf(page, 'Filter rules', '10.30.0.128/28')).toContainText('443');
  await expectChanges(page, 1);
});

test('a kept question is asked again after every change, and a broken one is a finding', async ({ page, open }) => {
  await open(QUESTION);
  await press(page, 'must pass');
  await expect(page.getByText(/Kept as the expectation/)).toBeVisible();
  await page.goto(page.url().replace(/\?/, '?show=expectations&'));
  await expect(rowOf(page, 'Expectations', 'node of kiosk-ardle')).toContainText('broken');
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(rowOf(page, 'Expectations', 'node of kiosk-ardle')).toContainText('kept');
});

test('what cannot be asked is said with the words that can', async ({ page, open }) => {
  await open('egress?from=pod+of+nowhere&to=need+own+registry');
  await expect(consequences(page).getByRole('alert')).toContainText('nowhere');
  const bar = page.getByRole('search', { name: 'Question to the plan' });
  await expect(bar.getByLabel('From')).toHaveValue('pod of nowhere');
});

test('a question is asked while a zone is lost, and its answer says so', async ({ page, open }) => {
  await open('egress?from=node+of+booking-north&to=the+internet+tcp+443');
  const right = consequences(page);
  await expect(right.getByRole('region', { name: 'Verdict' })).toContainText('must pass');
  await right.getByLabel('lost zone').selectOption('n1 of Halden north');
  await expect(right.getByRole('region', { name: 'Verdict' })).toContainText(
    'Nodes and devices in zone n1 of Halden north are gone.',
  );
  await page.reload();
  await expect(right.getByLabel('lost zone')).toHaveValue('n1 of Halden north');
});

test('a cell of the matrix says its verdict and opens its question', async ({ page, open }) => {
  await open('egress?side=matrix');
  const cell = sheetOf(page, 'Matrix').getByRole('button', { name: 'kiosk-ardle, own registry: refused' });
  // Clusters that miss as much stand in the order of their names: it may be below.
  await page.getByLabel('Filter the matrix').fill('kiosk-ardle');
  await cell.focus();
  await expect(consequences(page)).toContainText('no rule allows tcp 443 from 10.30.0.');
  await page.getByLabel('Filter the matrix').fill('booking');
  await expect(sheetOf(page, 'Matrix').getByRole('row')).toHaveCount(3);
  await page.getByLabel('Filter the matrix').fill('kiosk-ardle');
  await cell.click();
  await expect(page.getByRole('region', { name: 'Verdict' })).toContainText('own registry');
});

test('what the decisions ask for is applied in groups, and asked again nothing of it is missing', async ({
  page,
  open,
}) => {
  await open('egress?side=propose');
  const right = consequences(page);
  const apply = right.getByRole('button', { name: /^Apply \d+ rows?$/ });
  await expect(apply).toBeVisible();
  const groups = right.getByRole('listitem').filter({ has: page.getByRole('checkbox') });
  const many = await groups.count();
  // Tried before it is applied: what it ends is said, and what it brings, which is nothing.
  await expect(right.getByRole('region', { name: 'Tried before it is applied' }).first()).toContainText(
    /it ends \d+ findings? and brings none/,
  );
  // One group is left out: it stays, and only it.
  await groups.first().getByRole('checkbox').uncheck();
  await apply.click();
  await expect(groups).toHaveCount(1);
  expect(many).toBeGreaterThan(1);
  await groups.first().getByRole('checkbox').check();
  await apply.click();
  await expect(right).toContainText('Every row that the decisions ask for is there.');
  // What it cannot end is not passed over.
  await expect(right).toContainText('Still open, and nothing more can be proposed');
  await expectChanges(page, 2);
});

test('a hub with its spokes is one change', async ({ page, open }) => {
  await open('egress?side=propose');
  await page.getByLabel('Name of the hub').fill('second-hub');
  await page.getByRole('group', { name: 'Spokes' }).getByRole('checkbox', { name: 'models' }).check();
  const hub = consequences(page).getByRole('region', { name: 'Hub and spoke' });
  await hub.getByRole('button', { name: /^Apply/ }).click();
  await expect(page.getByText('Applied as one change.')).toBeVisible();
  await expectChanges(page, 1);
  await expect(sheetOf(page, 'History')).toContainText('Hub second-hub with its spokes');
});

test('the hub that stands takes a further spoke, with the firewall it has', async ({ page, open }) => {
  await open('egress?side=propose');
  await page.getByRole('combobox', { name: 'Hub', exact: true }).selectOption({ label: 'hub, firewall hub-wall' });
  await expect(page.getByLabel('Name of the hub')).toBeHidden();
  await page.getByRole('group', { name: 'Spokes' }).getByRole('checkbox', { name: 'booking', exact: true }).check();
  const hub = consequences(page).getByRole('region', { name: 'Hub and spoke' });
  await expect(hub.getByRole('region', { name: 'Tried before it is applied' })).toBeVisible();
  await hub.getByRole('button', { name: /^Apply/ }).click();
  await expect(page.getByText('Applied as one change.')).toBeVisible();
  await open('egress?from=node+of+booking-north&to=the+internet+tcp+443');
  await expect(page.getByRole('region', { name: 'Verdict' })).toContainText('hub-wall');
});

test('what rests on a row is shown beside it', async ({ page, open }) => {
  await open('egress?show=filters');
  await sheetOf(page, 'Filters').getByRole('gridcell', { name: 'registry-door', exact: true }).click();
  await expect(page.getByRole('region', { name: 'What rests on registry-door' })).toContainText('own registry');
});

test('stops open on their picture, what is broken with a way on, and questions that are asked by one click', async ({
  page,
  open,
}) => {
  const right = consequences(page);
  for (const [stop, picture] of [
    ['egress', 'Ways out'],
    ['ingress', 'Entry points'],
    ['dns', 'Vantages'],
    ['cross-cluster', 'Sites'],
  ] as const) {
    await open(stop);
    await expect(page.getByRole('tab', { name: picture })).toHaveAttribute('aria-selected', 'true');
    await expect(right).toContainText(/\d+ things are broken/);
    await expect(right.getByRole('region', { name: 'Worst first' }).getByRole('article')).toHaveCount(3);
    await right.getByRole('region', { name: 'Worth asking here' }).getByRole('button').first().click();
    await expect(right.getByRole('region', { name: 'Verdict' })).toBeVisible();
  }
});

test('a band of the ways out asks its question, and a finding leads to its road', async ({ page, open }) => {
  await open('egress');
  const drawing = page.getByRole('img', { name: /networks, .* ways out/ });
  await expect(drawing).toContainText('no way out');
  await drawing.locator('path').first().click({ force: true });
  await expect(consequences(page).getByRole('region', { name: 'Verdict' })).toBeVisible();
  await open('egress');
  await consequences(page).getByRole('link', { name: 'Show the road' }).first().click();
  await expect(consequences(page).getByRole('region', { name: 'Verdict' })).toContainText('does not arrive');
});
