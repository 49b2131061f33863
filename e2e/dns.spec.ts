import { unzipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import { expect, test } from './fixtures.js';
import { consequences, decisions, expectChanges, pasteRows, press, rowOf, sheetOf, tableOf } from './pages.js';

test('a name is asked from a pod by its search list, and the answer is kept as an expectation', async ({
  page,
  open,
}) => {
  await open('dns');
  const right = consequences(page);
  await right.getByLabel('From', { exact: true }).fill('pod of booking-north, workload shop/storefront');
  await right.getByLabel('to', { exact: true }).fill('ask for tickets.skerryline.example type A');
  await press(page, 'Ask');
  const verdict = right.getByRole('region', { name: 'Verdict' });
  await expect(verdict).toContainText('gets 203.0.113.80');
  await expect(verdict).toContainText('8 queries, for 4 names of the search list');
  await expect(right).toContainText('tickets.skerryline.example.shop.svc.cluster.local A and AAAA');
  await expect(right.getByRole('toolbar', { name: 'Steps of the road' })).toContainText('resolver of booking');
  await press(page, 'must answer 203.0.113.80');
  await expect(verdict).toContainText('Kept as the expectation');
  await expectChanges(page, 1);
});

test('a URL goes on from its name to the entry point and the member', async ({ page, open }) => {
  await open('dns?from=the+internet&to=https%3A%2F%2Ftickets.skerryline.example%2Fbasket&bytes=1400');
  const right = consequences(page);
  await expect(right.getByRole('region', { name: 'Verdict' })).toContainText('is served by shop/basket');
  await expect(right).toContainText('the public DNS answers 203.0.113.80');
  await expect(right.getByRole('toolbar', { name: 'Steps of the road' })).toContainText('public DNS');
});

test('vantages show who gets which answer, and each answer opens its question', async ({ page, open }) => {
  await open('dns');
  const grid = tableOf(page, 'Split horizon');
  const board = grid.getByRole('row', { name: /board\.\s*harbour/ });
  await expect(board).toContainText('10.43.255.20');
  await expect(board).toContainText('NXDOMAIN');
  await expect(board).toContainText('differs');
  const other = decisions(page).getByLabel('Any other name');
  await other.fill('seats..skerryline.example');
  await expect(decisions(page).getByRole('alert')).toContainText('empty label');
  await other.fill('gone.skerryline.example');
  await expect(grid.getByRole('row', { name: /gone/ })).toContainText('NXDOMAIN');
  await other.fill('');
  await decisions(page).getByLabel('Which names').selectOption('differ');
  await expect(grid.getByRole('row', { name: /^offers/ })).toHaveCount(0);
  await board.getByRole('button', { name: '10.43.255.20' }).first().click();
  await expect(consequences(page).getByRole('region', { name: 'Verdict' })).toContainText('10.43.255.20');
});

test('a cut-over tells until when clients stay, and lowering the TTL before brings it within the aim', async ({
  page,
  open,
}) => {
  await open('dns?show=records&side=cut-over');
  const right = consequences(page);
  await expect(right.getByRole('region', { name: 'Verdict' })).toContainText('for 24 h: the aim of 10 min is missed');
  await expect(
    tableOf(page, 'Clients and until when they stay').getByRole('row', { name: /Browsers that ask for tickets/ }),
  ).toContainText('24 h');
  await right.getByLabel('To be done within, minutes').fill('-1');
  await expect(right.getByRole('alert')).toContainText('Write minutes');
  await right.getByLabel('To be done within, minutes').fill('10');
  await press(page, 'Lower 1 TTL now');
  await expect(right.getByRole('region', { name: 'Verdict' })).toContainText('within the aim');
  await expect(sheetOf(page, 'Records')).toContainText('540');
  await expectChanges(page, 1);
});

test('the load of a cluster’s DNS falls with ndots 2', async ({ page, open }) => {
  await open('dns?side=load');
  const right = consequences(page);
  await expect(right.getByRole('region', { name: 'Verdict' })).toContainText('3,603 queries per second');
  const row = tableOf(page, 'Savings').getByRole('row', { name: /ndots 2/ });
  await expect(row).toContainText('1,203');
  await row.getByRole('button', { name: 'Apply' }).click();
  await expect(right.getByRole('region', { name: 'Verdict' })).toContainText('1,203 queries per second');
});

test('proposed names close what is open: the API of the self-run cluster, reverse records, the host on no certificate', async ({
  page,
  open,
}) => {
  await open('dns?side=propose');
  const right = consequences(page);
  await expect(right).toContainText('api.harbour-ops.harbour.skerryline.example');
  await expect(right).toContainText('_acme-challenge.seats.skerryline.example');
  await expect(right.getByRole('region', { name: 'Open steps' })).toContainText('offers.skerryline.example');
  await right.getByRole('button', { name: /^Apply \d+ rows$/ }).click();
  await expect(right).toContainText('Every host, API and load balancer that can have a name has one.');
  await expectChanges(page, 1);
  await open('ingress?from=the+internet&to=https%3A%2F%2Fseats.skerryline.example%2F&bytes=1400');
  await expect(right).toContainText('The certificate shop/tickets-cert covers seats.skerryline.example');
});

test('a zone file is shown, read back as no change, and faults are named by their line', async ({ page, open }) => {
  await open('dns?show=zones&side=files');
  const right = consequences(page);
  await press(page, 'Show the zone file');
  const editor = right.getByRole('textbox', { name: 'Zone file' });
  await expect(editor).toContainText('$ORIGIN skerryline.example.');
  await expect(right).toContainText('the zone holds it as it is');
  await editor.click();
  await page.keyboard.press('Control+End');
  await page.keyboard.insertText('depot 60 A 203.0.113.90\n$INCLUDE /etc/hosts\nfar CH A 10.0.0.1\n');
  await expect(right).toContainText('1 new, 0 changed, 0 gone');
  await expect(right.getByRole('list', { name: 'Problems' })).toContainText('no other file is read');
  await expect(right.getByRole('list', { name: 'Problems' })).toContainText('The class CH');
  await press(page, 'Apply 1 row');
  await expectChanges(page, 1);
  await open('dns?show=records');
  await expect(sheetOf(page, 'Records')).toContainText('203.0.113.90');
  await open('dns?show=zones&side=files');
  const exported = async () => {
    const button = right.getByRole('button', { name: 'Export', exact: true });
    const [download] = await Promise.all([page.waitForEvent('download'), button.click()]);
    return readFileSync(await download.path(), 'utf8');
  };
  const serialOf = (text: string) => /SOA\s+\S+\s+\S+\s+(\d+)/.exec(text)?.[1];
  // RFC 1912 2.2: the day with two digits, or one more where the zone is past it; once for each change.
  const first = await exported();
  await expect(page.getByText(/The serial of .* was raised/)).toBeVisible();
  expect(serialOf(first)).toMatch(/^\d{10}$/);
  expect(first).toContain('203.0.113.90');
  expect(serialOf(await exported())).toBe(serialOf(first));
});

test('certificates stand on a calendar; records are pasted, and a bad value says how it is written', async ({
  page,
  open,
}) => {
  await open('dns?show=certificates');
  const strip = decisions(page).getByRole('region', { name: 'Expiry calendar' });
  // The demo’s certificates are dated from today.
  await expect(strip).toContainText(/expires \d{4}-\d\d-\d\d/);
  await expect(strip).toContainText('somebody has to renew it');
  await open('dns?show=records');
  await expect(tableOf(page, 'Kept records').getByRole('row', { name: /seats/ }).first()).toContainText(
    'booking-names',
  );
  const dialog = await pasteRows(
    page,
    'zone,name,type,value\nskerryline.example,depot,A,203.0.113.900\nskerryline.example,Depot,MX,mail.example',
  );
  await expect(dialog).toContainText('an IPv4 address, such as 10.40.16.8');
  await expect(dialog).toContainText('preference and name');
  await page.keyboard.press('Escape');
  await press(page, 'Discard it');
  await expect(rowOf(page, 'Records', 'depot').first()).toContainText('depot');
});

test('the board counts the names that clients find', async ({ page, open }) => {
  await open('board');
  await expect(rowOf(page, 'Clusters', 'harbour-ops').first()).toContainText('0 of 2');
});

test('all zones leave as one zip with a file for each, those of one origin too', async ({ page, open }) => {
  await open('dns?side=files');
  const download = page.waitForEvent('download');
  await consequences(page).getByRole('button', { name: 'Export all' }).click();
  const files = unzipSync(readFileSync(await (await download).path()));
  // Two zones of the demo are skerryline.example: the public one and the one inside.
  expect(Object.keys(files).filter((name) => name.startsWith('zones/skerryline.example-'))).toEqual([
    'zones/skerryline.example-public-skerryline.example.zone',
    'zones/skerryline.example-private-skerryline.example-inside.zone',
  ]);
  expect(Object.keys(files)).toHaveLength(8);
  for (const bytes of Object.values(files))
    expect(new TextDecoder().decode(bytes).match(/^\$ORIGIN /gm)).toHaveLength(1);
});
