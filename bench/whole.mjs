// A plan that has everything, sent to a running server, fetched from it and opened in a browser, with a light request beside it
// all the time. Each row with its aim, and how it grows with the rows of the plan.
// node bench/whole.mjs http://127.0.0.1:4380 [clusters...]
import { once } from 'node:events';
import { readdirSync, readFileSync } from 'node:fs';
import { Worker } from 'node:worker_threads';
import { gzipSync } from 'node:zlib';
import { chromium } from '@playwright/test';
import { demoPlan } from '@wide-lattice/core/demo';
import { evaluate } from '@wide-lattice/core/evaluation';
import { writePlanFile } from '@wide-lattice/core/exchange';
import { applyOperations, kinds, newId, setOperation } from '@wide-lattice/core/plan';
import { add, each, withEverything } from './everythingOf.mjs';
import { organisation } from './organisation.mjs';

const [base = 'http://127.0.0.1:4380', ...counts] = process.argv.slice(2);
const STOPS = ['Ground', 'Demand', 'Ranges', 'Pod network', 'Egress', 'Ingress', 'DNS', 'Cross-cluster', 'Handover'];
const seconds = (ms) => (ms < 1000 ? `${ms.toFixed(0)} ms` : `${(ms / 1000).toFixed(1)} s`);

/** What each row took, by its name: the rows of the plan, and milliseconds. */
const taken = new Map();

function told(what, ms, said, aim = '') {
  console.log(`${what}: ${seconds(ms)}${said === '' ? '' : `, ${said}`}${aim === '' ? '' : ` (aim: ${aim})`}`);
  taken.set(what, [...(taken.get(what) ?? []), [rows, ms]]);
}

/** The process of the server: its threads say how long they computed. */
function serverOf(port) {
  const read = (id, file) => {
    try {
      return readFileSync(`/proc/${id}/${file}`, 'utf8');
    } catch {
      return '';
    }
  };
  const found = readdirSync('/proc').find(
    (id) =>
      read(id, 'cmdline').includes('apps/server/dist/main.js') &&
      read(id, 'environ').split('\0').includes(`WL_PORT=${port}`),
  );
  if (found === undefined) throw new Error(`No server of Wide Lattice runs here at port ${port}.`);
  return Number(found);
}
const serverId = serverOf(new URL(base).port);

/** Does something while a light request is asked again and again by a thread of its own; how long it took, and the longest that one waited and was computed beside. */
async function beside(work) {
  const asking = new Worker(new URL('lightRequest.mjs', import.meta.url), {
    workerData: { url: `${base}/api/plans/log`, serverId },
  });
  await once(asking, 'message');
  const from = performance.now();
  const answer = await work();
  const took = performance.now() - from;
  asking.postMessage('done');
  const [longest] = await once(asking, 'message');
  return { answer, took, longest };
}

async function answered(path, options) {
  const answer = await fetch(base + path, options);
  if (!answer.ok) throw new Error(`${path}: ${answer.status} ${(await answer.text()).slice(0, 300)}`);
  return answer;
}

/** Opens a plan and goes through its stops: milliseconds of each, the longest task of the page, and the memory of page and worker. */
async function inBrowser(planId) {
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium-headless-shell',
    args: ['--no-sandbox', '--disable-gpu', '--js-flags=--expose-gc'],
  });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.addInitScript(() => {
    globalThis.tasks = [];
    new PerformanceObserver((list) =>
      globalThis.tasks.push(...list.getEntries().map(({ duration }) => duration)),
    ).observe({
      type: 'longtask',
      buffered: true,
    });
    // What the worker was asked and has not answered yet.
    globalThis.asked = new Set();
    const heard = new WeakSet();
    const send = Worker.prototype.postMessage;
    Worker.prototype.postMessage = function (message, ...rest) {
      if (message?.id !== undefined) globalThis.asked.add(message.id);
      if (!heard.has(this)) this.addEventListener('message', ({ data }) => globalThis.asked.delete(data?.id));
      heard.add(this);
      return send.call(this, message, ...rest);
    };
  });
  // The program is fetched and compiled before anything is measured.
  await page.goto(base);
  await page.getByRole('link').first().waitFor();
  /** Waits until the worker has nothing to answer and nothing says that it is being computed, for a quarter of a second; when that began. */
  const settled = async () => {
    await page.evaluate(() => (globalThis.idleSince = undefined));
    await page.waitForFunction(
      () => {
        // Text as it is drawn would have the page laid out for each look.
        const isBusy =
          globalThis.asked.size > 0 ||
          /Computing|[Cc]ounting\.\.\.|Opening|Loading|Following/.test(document.body.textContent);
        globalThis.idleSince = isBusy ? undefined : (globalThis.idleSince ?? Date.now());
        return !isBusy && Date.now() - globalThis.idleSince > 250;
      },
      null,
      { timeout: 300_000, polling: 100 },
    );
    return page.evaluate(() => globalThis.idleSince);
  };
  const stops = new Map();
  let from = Date.now();
  await page.goto(`${base}/plans/${planId}`);
  await page
    .getByRole('link', { name: /Ground/ })
    .first()
    .waitFor({ timeout: 120_000 });
  stops.set('opening', (await settled()) - from);
  const opening = Math.max(0, ...(await page.evaluate(() => globalThis.tasks.splice(0))));
  for (const stop of STOPS) {
    from = Date.now();
    await page
      .getByRole('link', { name: new RegExp(`(^|\\d\\s*)${stop}`) })
      .first()
      .click();
    stops.set(stop, (await settled()) - from);
  }
  const tasks = Math.max(0, ...(await page.evaluate(() => globalThis.tasks)));
  const session = await browser.newBrowserCDPSession();
  /** Megabytes of the process of page and worker, now or at most. */
  const resident = async (field) => {
    const { processInfo } = await session.send('SystemInfo.getProcessInfo');
    const all = processInfo
      .filter(({ type }) => type === 'renderer')
      .map(({ id }) =>
        Number(new RegExp(`${field}:\\s+(\\d+)`).exec(readFileSync(`/proc/${id}/status`, 'utf8'))?.[1] ?? 0),
      );
    return Math.max(...all) / 1000;
  };
  const most = await resident('VmHWM');
  // What is no longer used, and only not collected yet, says nothing of the plan.
  for (const each of [page, ...page.workers()])
    await each.evaluate(() => globalThis.gc({ type: 'major', execution: 'sync', flavor: 'last-resort' }));
  const held = await resident('VmRSS');
  await browser.close();
  return { stops, opening, tasks, held, most };
}

const plans = await (await answered('/api/plans?offset=0')).json();
const demo = plans.find(({ name }) => name === demoPlan().settings.name);
if (demo === undefined) throw new Error('The server has no demo plan: start it as the README says.');
const ofDemo = await inBrowser(demo.id);
console.log(
  `the demo: opened in ${seconds(ofDemo.stops.get('opening'))}, the longest task of the page ${Math.max(ofDemo.opening, ofDemo.tasks).toFixed(0)} ms, ${ofDemo.held.toFixed(0)} MB held`,
);

let rows = 0;
for (const clusters of counts.length === 0 ? [100, 1000] : counts.map(Number)) {
  const plan = withEverything(organisation(clusters, 60));
  rows = kinds.reduce((sum, kind) => sum + plan[kind].length, 0);
  const text = writePlanFile(plan, 'json');
  const file = gzipSync(text);
  const size = `${(text.length / 1e6).toFixed(0)} MB, packed ${(file.length / 1e6).toFixed(1)}`;
  console.log(`\n${clusters} clusters, ${rows.toLocaleString('en-US')} rows, a plan file of ${size}`);

  let from = performance.now();
  let evaluation = evaluate(plan);
  const found = evaluation.findings().length;
  told('findings from nothing', performance.now() - from, `${found.toLocaleString('en-US')} of them`);
  for (const [kind, fields] of [
    ['clusters', { nodesHorizon: 31 }],
    ['allocations', { prefix: '10.250.0.0/24' }],
    ['workloads', { replicasNow: 5 }],
    ['records', { value: '198.51.100.9' }],
    ['filterRules', { protocol: 'tcp', ports: ['9001'] }],
  ]) {
    const applied = applyOperations(evaluation.plan, [setOperation(kind, plan[kind][3].id, fields)]);
    if (!applied.ok) throw new Error(JSON.stringify(applied.problems));
    evaluation = evaluate(applied.plan, evaluation);
    from = performance.now();
    evaluation.findings();
    told(`findings after one edit of ${kind}`, performance.now() - from, '');
  }

  const sentTold = ({ took, longest }, what) =>
    told(
      what,
      took,
      `a light request waits ${longest.waited.toFixed(0)} ms at most, ${longest.computed.toFixed(0)} ms of it computing`,
      '100 ms of computing',
    );
  const sent = await beside(async () => {
    const answer = await answered('/api/plans/import', {
      method: 'POST',
      headers: { 'content-type': 'application/octet-stream', 'content-encoding': 'gzip' },
      body: file,
    });
    return (await answer.json()).id;
  });
  sentTold(sent, 'sent and stored');
  const of = `/api/plans/${sent.answer}`;
  for (const [what, path] of [
    ['fetched', ''],
    ['its findings', '/findings?offset=0'],
    ['the second page of them', '/findings?offset=500'],
    ['exported as JSON', '/export/plan.json'],
    ['exported as YAML', '/export/plan.yaml'],
    ['exported as a table', '/export/allocations.csv'],
  ])
    sentTold(await beside(async () => (await answered(of + path)).arrayBuffer()), what);

  const { stops, opening, tasks, held, most } = await inBrowser(sent.answer);
  for (const [stop, ms] of stops) {
    const times = ms / ofDemo.stops.get(stop);
    told(`in the browser, ${stop}`, ms, `${times.toFixed(1)}x the demo`, clusters === 1000 ? '2.5x' : '');
  }
  console.log(
    `the longest task of the page: ${opening.toFixed(0)} ms at opening, ${tasks.toFixed(0)} ms at the stops (aim: 50 ms)`,
  );
  console.log(`page and worker together: ${held.toFixed(0)} MB held, ${most.toFixed(0)} MB at most (aim: 600 MB)`);

  const body = JSON.stringify({
    baseRevision: 0,
    label: 'a zone file',
    author: 'bench',
    clientId: newId(),
    operations: each(50_000, (n) =>
      add('records', 100_000 + n, {
        zoneId: plan.zones[0].id,
        name: `more${n}`,
        type: 'A',
        value: `198.51.100.${n % 250}`,
        target: 'elsewhere',
      }),
    ),
  });
  const change = (text) =>
    beside(async () =>
      (
        await answered(`${of}/changes`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: text })
      ).json(),
    );
  sentTold(await change(body), 'changed by 50,000 records');
  const read = await beside(async () => (await answered(`${of}/changes?after=0`)).json());
  sentTold(read, 'that change read');
  const back = { ...JSON.parse(body), label: 'undo', baseRevision: 1, reverts: 1, operations: read.answer[0].inverse };
  sentTold(await change(JSON.stringify(back)), 'taken back');
  sentTold(await beside(async () => (await answered(`${of}/at/1`)).arrayBuffer()), 'the plan as it was before that');
  await fetch(base + of, { method: 'DELETE' });
}

const grown = [...taken].filter(([, all]) => all.length > 1);
if (grown.length > 0) console.log('\ntime against rows, as a power of the rows (aim: at most 1.15)');
for (const [what, all] of grown) {
  const [[fewer, before], [more, after]] = all.slice(-2);
  // What takes a blink is noise.
  if (after > 100) console.log(`${what}: ${(Math.log(after / before) / Math.log(more / fewer)).toFixed(2)}`);
}
