// Takes the pictures of docs/screenshots from a running application with fresh demo data.
// Usage: node scripts/screenshots.mjs [http://127.0.0.1:4380]
import { chromium } from '@playwright/test';
import { demoPlan } from '@wide-lattice/core/demo';

const idOf = (name) => [...demoPlan().clusters, ...demoPlan().templates].find((each) => each.name === name).id;
const pageOf = (name) => `clusters/${idOf(name)}`;
const base = process.argv[2] ?? 'http://127.0.0.1:4380';
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium-headless-shell',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const plans = await (await fetch(`${base}/api/plans`)).json();
const demo = plans.find(({ name }) => name === 'Skerry Line');
if (demo === undefined) throw new Error('The demo plan is not there: start with --fresh.');

async function show(name, view, act = async () => undefined) {
  await page.goto(`${base}/plans/${demo.id}/${view}`);
  await page.waitForLoadState('networkidle').catch(() => undefined);
  await page.waitForTimeout(700);
  await page.waitForFunction(() => !/Computing\.\.\.|counting\.\.\./.test(document.body.textContent));
  await act();
  await page.waitForTimeout(500);
  await page.screenshot({ path: `docs/screenshots/${name}.png` });
}

const tide = pageOf('tide-models');
await show('board', 'board');
await show('ground', 'ground');
await show('demand', 'demand');
await show('cluster', tide, () => page.getByLabel('pod range IPv4').fill('10.23.0.0/17'));
await show('ranges', 'ranges');
await show('proposal', 'ranges', () => page.getByRole('button', { name: 'Propose', exact: true }).click());
await show('findings', 'findings');
await show('egress', 'egress');
await show('question', 'egress?show=needs&from=pod+of+booking-north,+workload+shop/storefront&to=need+image+registry');
await show('matrix', 'egress?side=matrix&show=expectations', () => page.waitForTimeout(2500));
const asked = `from=the+internet&to=${encodeURIComponent('https://tickets.skerryline.example/basket/pay')}`;
await show('ingress', `ingress?${asked}&bytes=1400`);
await show(
  'load',
  `ingress?side=load&${asked}&load=${encodeURIComponent('lost=n2&clients=20000&rate=900')}`,
  async () => {
    await page.getByRole('button', { name: 'Simulate' }).click();
    await page.getByRole('region', { name: 'Outcome' }).waitFor();
  },
);
await show('address-plan', 'print');
await show('pod-network', `pod-network?cluster=${idOf('tide-models')}`);
await show('cross-cluster', 'cross-cluster?side=uses', () =>
  page.getByRole('button', { name: /^kiosk-ardle, ops\/berth-board in tides/ }).click(),
);
await show('rehearsal', 'rehearsal?even=yes&side=drills&at=1500', () =>
  page.getByRole('region', { name: 'Score card' }).waitFor({ timeout: 60_000 }),
);
await show('dns', 'dns');
await page.goto(base);
await page.getByRole('button', { name: 'New plan' }).click();
await page.getByLabel('Name of the plan').fill('Harbour group');
await page.waitForTimeout(600);
await page.screenshot({ path: 'docs/screenshots/new-plan.png' });
await page.evaluate(() => localStorage.setItem('wide-lattice.theme', 'slate'));
await show('handover', `handover?scope=cluster~${idOf('tide-models')}`, () =>
  page.getByRole('table', { name: 'Checklist' }).waitFor(),
);
await page.evaluate(() => localStorage.removeItem('wide-lattice.theme'));

await browser.close();
