// A plan that has everything, sent to a running server and fetched from it, with a light request beside it all the time.
// node bench/whole.mjs http://127.0.0.1:4380 [clusters...]
import { once } from 'node:events';
import { Worker } from 'node:worker_threads';
import { gzipSync } from 'node:zlib';
import { writePlanFile } from '@wide-lattice/core/exchange';
import { kinds, newId } from '@wide-lattice/core/plan';
import { add, each, withEverything } from './everythingOf.mjs';
import { organisation } from './organisation.mjs';

const [base = 'http://127.0.0.1:4380', ...counts] = process.argv.slice(2);
const seconds = (ms) => `${(ms / 1000).toFixed(1)} s`;

/** Does something while a light request is asked again and again by a thread of its own; how long it took, and the longest that one waited. */
async function beside(work) {
  const asking = new Worker(new URL('lightRequest.mjs', import.meta.url), { workerData: `${base}/api/plans/log` });
  await once(asking, 'message');
  const from = performance.now();
  const answer = await work();
  const took = performance.now() - from;
  asking.postMessage('done');
  const [longest] = await once(asking, 'message');
  return { answer, took, longest };
}

for (const clusters of counts.length === 0 ? [100, 1000] : counts.map(Number)) {
  const plan = withEverything(organisation(clusters, 60));
  const rows = kinds.reduce((sum, kind) => sum + plan[kind].length, 0);
  const text = writePlanFile(plan, 'json');
  const file = gzipSync(text);
  const size = `${(text.length / 1e6).toFixed(0)} MB, packed ${(file.length / 1e6).toFixed(1)}`;
  console.log(`\n${clusters} clusters, ${rows.toLocaleString('en-US')} rows, a plan file of ${size}`);
  const idle = await beside(() => new Promise((resolve) => setTimeout(resolve, 2000)));
  console.log(`a light request alone: ${idle.longest.toFixed(0)} ms`);
  const told = ({ took, longest }, what) =>
    console.log(`${what}: ${seconds(took)}, beside it a light request waits ${longest.toFixed(0)} ms at most`);
  const sent = await beside(async () => {
    const answer = await fetch(`${base}/api/plans/import`, {
      method: 'POST',
      headers: { 'content-type': 'application/octet-stream', 'content-encoding': 'gzip' },
      body: file,
    });
    const body = await answer.text();
    if (!answer.ok) throw new Error(`${answer.status} ${body.slice(0, 500)}`);
    return JSON.parse(body).id;
  });
  told(sent, 'sent and stored');
  const of = `${base}/api/plans/${sent.answer}`;
  for (const [what, path] of [
    ['opened', ''],
    ['its findings', '/findings?offset=0'],
    ['the second page of them', '/findings?offset=500'],
    ['exported as JSON', '/export/plan.json'],
    ['exported as YAML', '/export/plan.yaml'],
    ['exported as a table', '/export/allocations.csv'],
  ]) {
    const got = await beside(async () => {
      const answer = await fetch(of + path);
      if (!answer.ok) throw new Error(`${what}: ${answer.status} ${await answer.text()}`);
      return (await answer.arrayBuffer()).byteLength;
    });
    told(got, `${what}, ${(got.answer / 1e6).toFixed(1)} MB`);
  }
  const records = each(50_000, (n) =>
    add('records', 100_000 + n, {
      zoneId: plan.zones[0].id,
      name: `more${n}`,
      type: 'A',
      value: `198.51.100.${n % 250}`,
      target: 'elsewhere',
    }),
  );
  const body = JSON.stringify({
    baseRevision: 0,
    label: 'a zone file',
    author: 'bench',
    clientId: newId(),
    operations: records,
  });
  const changed = await beside(async () => {
    const answer = await fetch(`${of}/changes`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body,
    });
    if (!answer.ok) throw new Error(`${answer.status} ${(await answer.text()).slice(0, 300)}`);
  });
  told(changed, 'changed by 50,000 records');
  await fetch(of, { method: 'DELETE' });
}
