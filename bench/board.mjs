// Opens a generated plan of 5,000 clusters in Chromium and scrolls its board; long tasks (over 50 ms) of the page are counted.
// Needs a running application: node bench/board.mjs [http://127.0.0.1:4380]. The demo plan is the reference of the same run.
import { chromium } from '@playwright/test';
import { writePlanFile } from '@wide-lattice/core/exchange';
import { organisation } from './organisation.mjs';

const base = process.argv[2] ?? 'http://127.0.0.1:4380';
const args = ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-component-update'];
const plans = await (await fetch(`${base}/api/plans`)).json();
const demo = plans.find(({ name }) => name === 'Skerry Line');
const generated = JSON.parse(writePlanFile(organisation(5000, 60, 10_000), 'json'));
generated.settings.name = `Organisation ${Date.now()}`;
const answer = await fetch(`${base}/api/plans/import`, {
  method: 'POST',
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify(generated),
});
if (!answer.ok) throw new Error(await answer.text());
const { id } = await answer.json();

const browser = await chromium.launch({ executablePath: '/usr/bin/chromium-headless-shell', args });
for (const [name, planId] of [
  ['demo, 31 clusters', demo.id],
  ['organisation, 5,000 clusters', id],
]) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.addInitScript(() => {
    globalThis.longTasks = [];
    new PerformanceObserver((list) =>
      globalThis.longTasks.push(...list.getEntries().map(({ duration }) => duration)),
    ).observe({
      type: 'longtask',
      buffered: true,
    });
  });
  const from = performance.now();
  await page.goto(`${base}/plans/${planId}/board`);
  await page.getByRole('grid').getByRole('row').nth(5).waitFor({ timeout: 300_000 });
  const opened = performance.now() - from;
  const opening = await page.evaluate(() => globalThis.longTasks.splice(0));
  const scroll = async (pixels, steps) => {
    for (let step = 0; step < steps; step++) {
      await page.getByRole('grid').evaluate((grid, by) => grid.scrollBy(0, by), pixels);
      await page.waitForTimeout(30);
    }
    return page.evaluate(() => globalThis.longTasks.splice(0));
  };
  const notches = await scroll(120, 200);
  const pages = await scroll(700, 60);
  const say = (tasks) =>
    `${tasks.length} long tasks${tasks.length > 0 ? `, the longest ${Math.round(Math.max(...tasks))} ms` : ''}`;
  console.log(
    `${name}: board shown after ${Math.round(opened)} ms; opening: ${say(opening)}; 200 notches of the wheel: ${say(notches)}; 60 whole pages: ${say(pages)}`,
  );
  await page.close();
}
await browser.close();
