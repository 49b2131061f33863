// Readers and writers of one plan at once, by hand: node bench/server.mjs. Starts a database and two servers of its own, and
// ends them. Reference of reading and changing is a route that does nothing, asked by as many clients in the same run.
import { execFileSync, spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { demoPlan } from '@wide-lattice/core/demo';
import { writePlanFile } from '@wide-lattice/core/exchange';
import { addOperation, newId, withFallbacks } from '@wide-lattice/core/plan';

const root = fileURLToPath(new URL('..', import.meta.url));
const bash = (script) =>
  execFileSync('bash', ['-c', script], { cwd: root, encoding: 'utf8', stdio: ['ignore', 'pipe', 'inherit'] }).trim();
const [folder, dbPort] = bash(
  'set -eu; . scripts/database.sh; folder=$(mktemp -d /var/tmp/wl-bench-XXXXXX); chmod a+x "$folder"; port=$(free_port 4590); start_database "$folder/db" "$port" >&2; make_schema wide_lattice bench >&2; printf "%s %s" "$folder" "$port"',
).split(' ');
const env = { ...process.env, WL_DB_PORT: dbPort, WL_DB_PASSWORD: 'bench', WL_DB_NAME: 'wide_lattice' };
execFileSync('node', ['apps/server/dist/db/migrate.js'], { cwd: root, env, stdio: 'ignore' });
const servers = [4580, 4581].map((port) =>
  spawn('node', ['apps/server/dist/main.js'], { cwd: root, env: { ...env, WL_PORT: String(port) }, stdio: 'ignore' }),
);
const at = (n) => `http://127.0.0.1:${4580 + n}/api`;

const demo = demoPlan();
const text = writePlanFile(demo, 'json');
const [like] = demo.clusters;

async function post(url, body) {
  const answer = await fetch(url, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: typeof body === 'string' ? body : JSON.stringify(body),
  });
  if (!answer.ok) throw new Error(`${answer.status} ${await answer.text()}`);
  return answer.json();
}

async function newPlan(clusters) {
  const { id } = await post(`${at(0)}/plans/import`, text);
  const operations = Array.from({ length: clusters }, (_, i) =>
    addOperation('clusters', { ...like, id: newId(), name: `more ${i}` }),
  );
  if (clusters > 0) await change(id, 0, operations);
  return id;
}

const change = (id, server, operations, baseRevision = 0) =>
  post(`${at(server)}/plans/${id}/changes`, {
    baseRevision,
    label: 'bench',
    author: 'bench',
    clientId: id,
    changeId: newId(),
    operations,
  });

const site = (name) => [addOperation('sites', withFallbacks('sites', { ...demo.sites[0], id: newId(), name }))];

async function perSecond(id, writers) {
  const SECONDS = 6;
  const until = performance.now() + SECONDS * 1000;
  let count = 0;
  await Promise.all(
    writers.map(async (server, w) => {
      // As a browser does: each edit is made against the last revision that it knows.
      let base = (await (await fetch(`${at(server)}/plans/${id}`)).json()).revision;
      while (performance.now() < until) {
        base = (await change(id, server, site(`${w} ${newId()}`), base)).revision;
        count++;
      }
    }),
  );
  return count / SECONDS;
}

const p95 = (times) => times.sort((a, b) => a - b)[Math.floor(times.length * 0.95)];

/** How long each of many clients waits for an answer, in milliseconds. */
async function waits(clients, rounds, ask) {
  const times = [];
  await Promise.all(
    Array.from({ length: clients }, async (_, c) => {
      for (let n = 0; n < rounds; n++) {
        const from = performance.now();
        await ask(c, n);
        times.push(performance.now() - from);
      }
    }),
  );
  return times;
}

try {
  for (let n = 0; n < 100; n++) {
    const isUp = await Promise.all(
      [0, 1].map((s) =>
        fetch(`${at(s)}/plans`).then(
          ({ ok }) => ok,
          () => false,
        ),
      ),
    );
    if (isUp.every(Boolean)) break;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  const large = await newPlan(470);
  const one = await perSecond(large, [0]);
  const two = await perSecond(large, [0, 0]);
  const apart = await perSecond(large, [0, 1]);
  console.log(
    `changes per second of a plan of 500 clusters: one writer ${one.toFixed(0)}, two at one server ${two.toFixed(0)}, two at two servers ${apart.toFixed(0)} (one writer's time per change ${(one / apart).toFixed(2)}x of theirs)`,
  );

  const small = await newPlan(0);
  const empty = p95(await waits(50, 40, () => fetch(`${at(0)}/plan-file.none`).then((answer) => answer.arrayBuffer())));
  const bases = new Map();
  const writing = waits(5, 40, async (c, n) =>
    bases.set(c, (await change(small, 0, site(`${c} ${n}`), bases.get(c) ?? 0)).revision),
  );
  const reading = p95(
    await waits(50, 40, () => fetch(`${at(0)}/plans/${small}`).then((answer) => answer.arrayBuffer())),
  );
  const changing = p95(await writing);
  console.log(
    `50 readers and 5 writers of a plan of ${Math.round(text.length / 1000)} kB: p95 of an empty route ${empty.toFixed(1)} ms, of reading ${(reading / empty).toFixed(1)}x, of changing ${(changing / empty).toFixed(1)}x`,
  );

  const free = newId();
  const blocks = (count) => [
    addOperation('networks', withFallbacks('networks', { id: free, name: `wide ${count}` })),
    ...Array.from({ length: count }, (_, i) =>
      addOperation(
        'blocks',
        withFallbacks('blocks', { id: newId(), networkId: free, prefix: `20.${i >> 8}.${i & 255}.0/24` }),
      ),
    ),
  ];
  for (const count of [5000, 20_000]) {
    const id = await newPlan(0);
    const operations = blocks(count);
    let isDone = false;
    const from = performance.now();
    const done = change(id, 0, operations).then(() => (isDone = true));
    const others = [];
    while (!isDone)
      others.push(
        ...(await waits(1, 1, () => fetch(`${at(0)}/plan-file.none`).then((answer) => answer.arrayBuffer()))),
      );
    await done;
    console.log(
      `a change of ${count} address blocks: ${((performance.now() - from) / 1000).toFixed(1)} s; the longest that another request waited meanwhile: ${Math.max(...others).toFixed(0)} ms`,
    );
  }
} finally {
  for (const server of servers) server.kill('SIGTERM');
  bash(`mariadb-admin --no-defaults --socket="${folder}/db/run/m.sock" shutdown; rm -rf "${folder}"`);
}
