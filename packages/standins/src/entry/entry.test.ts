import fc from 'fast-check';
import { demoPlan } from '@wide-lattice/core/demo';
import { IngressState } from '@wide-lattice/core/ingress';
import { readUrl, setOperation, USUAL_BYTES } from '@wide-lattice/core/plan';
import type { IngressRoute } from '@wide-lattice/core/plan';
import { ask } from '@wide-lattice/core/request';
import { Suites } from '@wide-lattice/core/rehearsal';
import { expectGood } from '@wide-lattice/core/result';
import { applied } from '../../../core/test/worlds.js';
import { shop, weighted, workloadIds } from '../../test/shop.js';
import { curl, run, started, takenPort } from '../../test/started.js';
import type { Answered, Started } from '../../test/started.js';
import { StandInProblem, StandIns } from '../index.js';
import { RateLimits } from './rateLimits.js';
import { Shares } from './shares.js';

let open: Started | undefined;
afterEach(async () => {
  await open?.stop();
  open = undefined;
});

async function openShop(...vantages: readonly string[]): Promise<Started> {
  open = await started(shop(), { vantages: vantages.length === 0 ? ['internet'] : vantages, clusters: [] });
  return open;
}

test('curl is answered by a pod that says who it is and what it was asked', async () => {
  const world = await openShop();
  const { status, body } = await curl(
    world,
    world.door('front', 443),
    'https://www.shop.example/basket?n=1',
    '-H',
    'x-one: 1',
  );
  expect(status).toBe(200);
  expect(body).toMatchObject({
    workload: 'web/old',
    askedFrom: 'the internet',
    via: ['front', 'k'],
    request: { host: 'www.shop.example', path: '/basket', headers: { 'x-one': '1' } },
  });
  expect(body.pod).toMatch(/^old-[0-5]$/);
  expect(world.door('front', 443).host).toBe('www.shop.example');
});

test('weights decide who answers, and one that is moved moves the shares', async () => {
  const world = await openShop();
  const door = world.door('front', 443);
  const answered = async () => {
    const all: Answered[] = [];
    for (let at = 0; at < 50; at++) all.push((await curl(world, door, 'https://www.shop.example/')).body);
    return all.filter(({ workload }) => workload === 'web/new').length;
  };
  // 10 of 100, and after that 50 of 100: of 50 calls 5, and 25, give or take the one at the end of a turn.
  expect(Math.abs((await answered()) - 5)).toBeLessThanOrEqual(1);
  const { plan } = { plan: shop() };
  const moved: Partial<IngressRoute> = { backends: ['old 80 weight 50', 'new 80 weight 50'] };
  world.standIns.follow(applied(plan, [setOperation('ingressRoutes', weighted, moved)]));
  expect(Math.abs((await answered()) - 25)).toBeLessThanOrEqual(1);
});

test('a pod that is stopped is gone for clients, and answers when it is started again', async () => {
  const world = await openShop();
  const door = world.door('front', 443);
  const podsSeen = async () => {
    const pods = new Set<string>();
    for (let at = 0; at < 14; at++)
      pods.add((await curl(world, door, 'https://www.shop.example/changed')).body.pod ?? 'none');
    return [...pods].filter((pod) => pod.startsWith('old')).sort();
  };
  expect(await podsSeen()).toEqual(['old-0', 'old-1', 'old-2', 'old-3', 'old-4', 'old-5']);
  world.standIns.stopPods(workloadIds.old, 4);
  expect(await podsSeen()).toEqual(['old-0', 'old-1']);
  expect(world.standIns.report().workloads.find(({ id }) => id === workloadIds.old)).toMatchObject({
    replicas: 6,
    ready: 2,
    stopped: 4,
  });
  // With all of one side gone, its nine tenths are not answered: the controller sends status 503 (handbook 8).
  world.standIns.stopPods(workloadIds.old, 6);
  const statuses: number[] = [];
  for (let at = 0; at < 20; at++) statuses.push((await curl(world, door, 'https://www.shop.example/')).status);
  expect(Math.abs(statuses.filter((status) => status === 503).length - 18)).toBeLessThanOrEqual(1);
  expect(new Set(statuses)).toEqual(new Set([200, 503]));
  world.standIns.stopPods(workloadIds.old, 0);
  expect((await podsSeen()).length).toBe(6);
});

test('a stopped member is called until health checks find it, and one that answers again only once they know (RFC 9110 15.6.3)', async () => {
  open = await started(shop(), { vantages: ['internet'], clusters: [], healthSeconds: 5 });
  const world = open;
  const door = world.door('front', 443);
  // A tenth of the calls goes to another workload.
  const said = async () => {
    const all = new Set<string>();
    for (let at = 0; at < 14; at++) {
      const { status, body } = await curl(world, door, 'https://www.shop.example/changed');
      if (body.workload !== 'web/new') all.add(`${status} ${body.pod ?? body.why ?? ''}`);
    }
    return [...all].sort();
  };
  const of = () => world.standIns.report().workloads.find(({ id }) => id === workloadIds.old);
  const found = async () => {
    while (of()?.isFound !== true) await new Promise((resolve) => setTimeout(resolve, 100));
  };
  const answering = (count: number) => Array.from({ length: count }, (_, at) => `200 old-${at}`);
  world.standIns.stopPods(workloadIds.old, 1);
  const before = await said();
  const seen = of();
  // A machine that stood still until they knew has nothing to tell.
  if (seen?.isFound === false) {
    expect(seen).toMatchObject({ ready: 6, stopped: 1 });
    expect(before).toEqual([...answering(5), '502 old-5 does not answer. Health checks have not found that yet.']);
  }
  await found();
  expect(await said()).toEqual(answering(5));
  world.standIns.stopPods(workloadIds.old, 0);
  await found();
  expect(await said()).toEqual(answering(6));
});

test('members by fixed address share calls, and one that is stopped gets none', async () => {
  const world = await openShop();
  const door = world.door('machines', 80);
  const members = async () => {
    const seen = new Map<string, number>();
    for (let at = 0; at < 30; at++) {
      const { body, status } = await curl(world, door, 'http://fixed.shop.example/');
      const key = body.member ?? String(status);
      seen.set(key, (seen.get(key) ?? 0) + 1);
    }
    return seen;
  };
  const all = await members();
  expect([...all.keys()].sort()).toEqual(['10.8.0.21', '10.8.0.22', '10.8.0.23']);
  for (const count of all.values()) expect(Math.abs(count - 10)).toBeLessThanOrEqual(1);
  world.standIns.stopAddress('10.8.0.22', true);
  expect([...(await members()).keys()].sort()).toEqual(['10.8.0.21', '10.8.0.23']);
  for (const address of ['10.8.0.21', '10.8.0.23']) world.standIns.stopAddress(address, true);
  expect([...(await members()).keys()]).toEqual(['503']);
});

test('redirects, closed sources, unknown paths and services that are gone are answered with their status', async () => {
  const world = await openShop();
  const door = world.door('front', 443);
  const moved = await curl(world, door, 'https://www.shop.example/moved/here?x=1');
  expect([moved.status, /location: (\S+)/.exec(moved.headers)?.[1]]).toEqual([
    301,
    'https://www.shop.example/new/here?x=1',
  ]);
  expect((await curl(world, door, 'https://www.shop.example/closed')).status).toBe(403);
  expect((await curl(world, door, 'https://other.shop.example/')).status).toBe(404);
  // Gateway API, HTTPBackendRef: a reference that leads nowhere is answered with 500 (from memory).
  expect((await curl(world, door, 'https://www.shop.example/nothing')).status).toBe(500);
  // Rules of two header values: only who sends it meets the new pods.
  expect((await curl(world, door, 'https://www.shop.example/pick', '-H', 'X-Preview: yes')).body.workload).toBe(
    'web/new',
  );
});

test('hard cases of requests, each derived from its standard before it was asked', async () => {
  const world = await openShop();
  const door = world.door('front', 443);
  const of = async (path: string, ...more: readonly string[]) =>
    curl(world, door, `https://www.shop.example${path}`, ...more);
  // Gateway API, PathPrefix: elements are matched whole, so that /windows and /a/bc are not under /window and /a/b.
  for (let at = 0; at < 7; at++) expect((await of('/windows')).status).toBe(200);
  expect((await of('/a/bc')).body.request?.path).toBe('/a/bc');
  // RFC 3986 5.2.4: dot segments are taken out before a path is compared.
  expect((await of('/moved/../closed', '--path-as-is')).status).toBe(403);
  // RFC 9110 4.2.3 and 7.2: hosts are alike in any case, and the port is no part of the name.
  expect((await of('/closed', '-H', 'host: WWW.Shop.EXAMPLE:443')).status).toBe(403);
  // RFC 9112 3.2: without a Host header a request of HTTP/1.1 is bad.
  expect((await of('/', '-H', 'host;')).status).toBe(400);
  // RFC 9110 9.3.2: HEAD has the headers of GET, and no body.
  const head = await of('/moved', '--head');
  expect([head.status, /location: (\S+)/.exec(head.headers)?.[1], head.body]).toEqual([
    301,
    'https://www.shop.example/new',
    {},
  ]);
  // RFC 9110 5.3: a header that comes twice is one list, which is not the value that the rule asks for.
  const twice = await of('/pick', '-H', 'x-preview: yes', '-H', 'x-preview: no');
  expect(twice.body.workload).toMatch(/^web\/(old|new)$/);
  expect(twice.body.request?.headers['x-preview']).toBe('yes, no');
});

test('pods see host, path and headers as the rule changes them', async () => {
  const world = await openShop();
  const { body } = await curl(
    world,
    world.door('front', 443),
    'https://www.shop.example/a/b/c',
    '-H',
    'accept: text/html',
  );
  // Gateway API, ReplacePrefixMatch: /a/b/c with /x in place of /a/b.
  expect(body.request).toMatchObject({
    host: 'inside.example',
    path: '/x/c',
    headers: { 'x-tier': 'edge', accept: 'text/html, text/plain' },
  });
  expect(body.request?.headers).not.toHaveProperty('user-agent');
});

test('a limit lets its requests through and refuses the next until its time', async () => {
  const world = await openShop();
  const door = world.door('front', 443);
  const asked = async (path: string, count: number) => {
    const all = [];
    for (let at = 0; at < count; at++) all.push(await curl(world, door, `https://www.shop.example${path}`));
    return all;
  };
  const inWindow = await asked('/window', 7);
  expect(inWindow.map(({ status }) => status)).toEqual([200, 200, 200, 200, 200, 429, 429]);
  expect(inWindow[6]?.headers).toMatch(/retry-after: [1-6]?\d\r?$/m);
  expect((await asked('/bucket', 5)).map(({ status }) => status)).toEqual([200, 200, 200, 200, 429]);
});

test('limits by hand: a window begins with the first request, a bucket fills again evenly', () => {
  const limits = new RateLimits();
  const route = { id: 'r', rateLimitPerMinute: 2 } as IngressRoute;
  const window = { ...route, rateLimitAlgorithm: 'fixed window' } as IngressRoute;
  expect([0, 1000, 2000, 59_999, 60_000].map((at) => limits.take(window, 'one', at))).toEqual([0, 0, 58, 1, 0]);
  // Two a minute: one more each 30 s. After two at once the third waits those, half of it after 15 s.
  const bucket = { ...route, id: 'b', rateLimitAlgorithm: 'token bucket' } as IngressRoute;
  expect([0, 0, 0, 15_000, 30_000, 30_000].map((at) => limits.take(bucket, 'one', at))).toEqual([0, 0, 30, 15, 0, 30]);
  expect(limits.take(bucket, 'another', 0)).toBe(0);
});

test('turns come close to the shares at every moment', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 1, max: 20 }), { minLength: 1, maxLength: 6 }), (weights) => {
      const sum = weights.reduce((total, each) => total + each, 0);
      const shares = new Shares(
        0,
        weights.map((share, value) => ({ value, share })),
      );
      const counts = weights.map(() => 0);
      const turns = 400;
      for (let at = 0; at < turns; at++) {
        const value = shares.next();
        counts[value] = (counts[value] ?? 0) + 1;
      }
      // The discrepancy of the golden ratio’s multiples is below 3 log(n) + 3 turns of n (Kuipers and Niederreiter, 2.3).
      for (const [at, weight] of weights.entries())
        expect(Math.abs((counts[at] ?? 0) - (turns * weight) / sum)).toBeLessThan(3 * Math.log(turns) + 3);
    }),
    { seed: 20_261_202 },
  );
});

test('openssl sees the certificate of each host, and an expired one as expired', async () => {
  const world = await openShop();
  const verified = async (balancer: string, host: string) => {
    const { localPort } = world.door(balancer, 443);
    const { output, errors } = await run('openssl', [
      ...['s_client', '-connect', `127.0.0.1:${localPort}`, '-servername', host, '-verify_hostname', host],
      ...['-CAfile', world.authority],
    ]);
    return {
      text: output + errors,
      code: Number(/verify error:num=(\d+)/.exec(output + errors)?.[1] ?? 0),
    };
  };
  const own = await verified('front', 'www.shop.example');
  expect([own.code, /subject=CN = \*\.shop\.example/.test(own.text)]).toEqual([0, true]);
  // X509_V_ERR_CERT_HAS_EXPIRED.
  expect((await verified('machines', 'fixed.shop.example')).code).toBe(10);
  // X509_V_ERR_HOSTNAME_MISMATCH: for a host that no rule is for, no certificate is right.
  expect((await verified('front', 'else.where')).code).toBe(62);
  // A listener that speaks no TLS.
  const plain = world.door('machines', 80);
  const { output, errors } = await run('openssl', [
    's_client',
    '-connect',
    `127.0.0.1:${plain.localPort}`,
    '-servername',
    'fixed.shop.example',
  ]);
  expect(output + errors).toMatch(/no peer certificate available/);
});

test('what a listener does not understand is told with its status', async () => {
  const world = await openShop();
  const { localPort } = world.door('machines', 443);
  // Plain HTTP to a listener that ends TLS: status 400, as the question bar says.
  const { status } = await curl(world, { localPort, port: 443 }, 'http://fixed.shop.example:443/');
  expect(status).toBe(400);
  const { output } = await run(
    'openssl',
    ['s_client', '-quiet', '-connect', `127.0.0.1:${localPort}`, '-servername', 'fixed.shop.example'],
    'GARBAGE\r\n\r\n',
  );
  expect(output).not.toMatch(/200/);
  const again = await curl(world, world.door('front', 443), 'https://www.shop.example/');
  expect(again.status).toBe(200);
});

test('too many ports, one in use and times that cannot be are refused with their place and fix', async () => {
  const taken = await takenPort();
  const starting = (wish: Partial<Parameters<typeof StandIns.start>[1]>) =>
    StandIns.start(shop(), { vantages: ['internet'], clusters: [], ...wish }).then(
      async (made) => {
        await made.stop();
        return 'started';
      },
      (error: unknown) => (error instanceof StandInProblem ? `${error.message} ${error.fix}` : String(error)),
    );
  expect(await starting({ firstPort: taken.port })).toMatch(
    new RegExp(
      `^Port ${taken.port} of 127.0.0.1, which was for names as the internet asks for them, is in use. Give another first port: 5 ports`,
    ),
  );
  taken.giveBack();
  expect(await starting({ vantages: [], clusters: [] })).toMatch(/^Nothing was chosen/);
  expect(await starting({ firstPort: 80 })).toMatch(
    /^5 ports from 80 on reach beyond 1,024 to 65,535. Give a first port from 1,024 to 65,531.$/,
  );
  expect(await starting({ minutes: 1441 })).toMatch(/Give 1 to 1,440 minutes/);
  expect(await starting({ healthSeconds: 301 })).toMatch(/Give 0 to 300 seconds/);
  expect(await starting({ vantages: Array<string>(41).fill('internet') })).toMatch(
    /^This takes 205 ports; .* at most 200/,
  );
  expect(await starting({ vantages: ['gone'] })).toMatch(/no longer in the plan/);
});

test('they end after their minutes, and nothing listens afterwards', async () => {
  const world = await openShop();
  const { localPort } = world.door('front', 443);
  let hasEnded = false;
  world.standIns.onceEnded(() => {
    hasEnded = true;
  });
  await world.standIns.stop();
  expect(hasEnded).toBe(true);
  // curl 7: failed to connect.
  expect((await curl(world, { localPort, port: 443 }, 'https://www.shop.example/')).code).toBe(7);
});

test('every request of the demo’s tests is answered as the question bar answers it', async () => {
  const plan = demoPlan();
  const state = IngressState.of(plan);
  const tests = new Suites(plan)
    .of({ kind: 'plan' })
    .filter(({ suite, from }) => suite === 'entry by name' && from === 'the internet');
  open = await started(plan, { vantages: ['internet'], clusters: [] });
  const wrong: unknown[] = [];
  for (const { to } of tests) {
    const url = expectGood(readUrl(to));
    const answer = ask(state, { from: { kind: 'internet' }, to: url, bytes: USUAL_BYTES });
    const address = answer.resolution?.records.at(-1)?.value;
    const door = open.standIns.report().doors.find((each) => each.address === address && each.port === url.port);
    if (door?.localPort === null || door === undefined) {
      if (answer.verdict === 'pass') wrong.push({ to, why: 'no door' });
      continue;
    }
    const said = await curl(
      open,
      { localPort: door.localPort, port: url.port },
      `${url.scheme}://${url.host}${url.path}`,
    );
    const isByMember = answer.members.some(
      ({ workload }) => `${workload.namespace}/${workload.name}` === said.body.workload,
    );
    if (answer.verdict === 'pass' ? !isByMember : said.status !== (answer.status ?? 0))
      wrong.push({ to, said, answer: answer.sentence });
  }
  expect(wrong).toEqual([]);
  expect(tests.length).toBeGreaterThan(3);
});
