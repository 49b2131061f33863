import { readFileSync } from 'node:fs';
import { unzipSync } from 'fflate';
import { expect, expectAccessible, test } from './fixtures.js';
import { consequences, decisions, tableOf } from './pages.js';

test('the whole design of a cluster leaves as one zip, with the steps of those who build it', async ({
  page,
  open,
}) => {
  await open('handover');
  const left = decisions(page);
  const right = consequences(page);
  const holds = tableOf(left, 'What the bundle holds');
  await expect(holds.getByRole('row', { name: /^tables/ })).toBeVisible();
  await expect(holds.getByRole('row', { name: /^zones .* 8$/ })).toBeVisible();
  await expect(tableOf(right, 'Checklist')).toContainText('hold: clients are led here from this step on');
  await expectAccessible(page);

  await left.getByLabel('Hand over').selectOption({ label: 'cluster tide-models' });
  await expect(holds.getByRole('row', { name: /^plan/ })).toHaveCount(0);
  await expect(tableOf(right, 'Checklist').getByRole('row', { name: /cluster DNS/ })).toHaveCount(1);
  const download = page.waitForEvent('download');
  await left.getByRole('link', { name: 'handover.zip' }).click();
  const files = unzipSync(readFileSync(await (await download).path()));
  // In a folder that has the plan’s name.
  const text = (path: string) =>
    new TextDecoder().decode(Object.entries(files).find(([name]) => name.endsWith(`/${path}`))?.[1]);
  expect(text('contents.txt')).toContain('handover of tide-models');
  expect((JSON.parse(text('clusters/tide-models/values.json')) as { cluster: { name: string } }).cluster.name).toBe(
    'tide-models',
  );
  expect(text('checklist.csv')).toContain('cluster DNS');

  // What stands already is nothing to build.
  await left.getByLabel('Hand over').selectOption({ label: 'cluster booking-south' });
  await expect(left.getByRole('link', { name: 'handover.zip' })).toHaveAttribute('href', /cluster=/);
});

test('an empty plan has a bundle of nothing, and says that nothing is to build', async ({ page, request }) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'New plan' }).click();
  await page.getByLabel('Name of the plan').fill(`Bundle ${Date.now()}`);
  await page.getByRole('radio', { name: /^Empty/ }).check();
  await page.getByRole('button', { name: 'Create plan' }).click();
  await page.waitForURL(/plans\/[0-9a-f-]{36}/);
  const id = /plans\/([0-9a-f-]+)/.exec(page.url())?.[1] ?? '';
  await page.goto(`/plans/${id}/handover`);
  await expect(consequences(page)).toContainText('Nothing is left to build here');
  await expect(tableOf(decisions(page), 'What the bundle holds').getByRole('row', { name: /^contents/ })).toBeVisible();
  expect((await request.get(`/api/plans/${id}/export/handover.zip`)).status()).toBe(200);
});
