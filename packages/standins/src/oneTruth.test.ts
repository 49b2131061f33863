import { Resolver } from 'node:dns/promises';
import { request } from 'node:http';
import { request as secureRequest } from 'node:https';
import fc from 'fast-check';
import { evaluate } from '@wide-lattice/core/evaluation';
import { ingress } from '@wide-lattice/core/ingress';
import { readUrl, setOperation, USUAL_BYTES } from '@wide-lattice/core/plan';
import type { IngressRoute, Operation, Plan } from '@wide-lattice/core/plan';
import { runTests, Suites } from '@wide-lattice/core/rehearsal';
import { ask } from '@wide-lattice/core/request';
import type { Answer } from '@wide-lattice/core/request';
import { expectGood } from '@wide-lattice/core/result';
import { finished } from '@wide-lattice/core/working';
import { add, applied, testId } from '../../core/test/worlds.js';
import { shop } from '../test/shop.js';
import { started } from '../test/started.js';
import type { Started } from '../test/started.js';

/*
 * One truth by three roads: what a stock resolver and a stock client get from the stand-ins, what the question bar answers, and what the
 * generated tests say, over plans with random rules, pods, names and certificates.
 */

/** The load balancer of the rules, mostly; another one, and one that is not there. */
const ADDRESSES = [...Array<string>(5).fill('203.0.113.9'), '203.0.113.10', '203.0.113.99'];
const hosts = ['www', 'pay', 'help', 'none'].map((name) => `${name}.shop.example`);
const paths = ['/', '/a', '/a/b', '/c'];

const anyRule = fc.record({
  hosts: fc.subarray(hosts.slice(0, 3), { minLength: 0, maxLength: 2 }),
  path: fc.constantFrom(...paths),
  pathType: fc.constantFrom('Prefix', 'Exact'),
  backends: fc.constantFrom(
    ['old 80'],
    ['new 80'],
    ['old 80 weight 3', 'new 80 weight 1'],
    ['gone 80'],
    ['old 81'],
    [],
  ),
  allowedSources: fc.constantFrom([], [], ['192.0.2.0/24'], ['0.0.0.0/0']),
  headers: fc.constantFrom([], [], ['x-a=1']),
});

const anyPlan: fc.Arbitrary<Plan> = fc
  .record({
    rules: fc.array(anyRule, { minLength: 2, maxLength: 6 }),
    notReady: fc.tuple(fc.constantFrom(0, 1, 6), fc.constantFrom(0, 2)),
    names: fc.array(fc.constantFrom(...ADDRESSES, 'www.shop.example.', ''), { minLength: 3, maxLength: 3 }),
    certificateHosts: fc.constantFrom(
      ['*.shop.example'],
      ['www.shop.example'],
      ['pay.shop.example', 'help.shop.example'],
    ),
    isListening: fc.boolean(),
  })
  .map(({ rules, notReady, names, certificateHosts, isListening }) => {
    const base = shop();
    const operations: Operation[] = [
      ...base.ingressRoutes.map(({ id }) => ({ op: 'remove', kind: 'ingressRoutes', id }) as const),
      setOperation('workloads', testId('workloads', 2), { notReady: notReady[0] }),
      setOperation('workloads', testId('workloads', 3), { notReady: notReady[1] }),
      setOperation('gateways', testId('gateways', 1), {
        certificateHosts,
        ...(isListening ? {} : { listeners: ['tls https 443 *.shop.example'] }),
      }),
      ...base.records.map(({ id }) => ({ op: 'remove', kind: 'records', id }) as const),
    ];
    const routes = rules.map((rule, at): Partial<IngressRoute> => ({
      clusterId: testId('clusters', 1),
      namespace: 'web',
      name: `r${at}`,
      objectKind: 'HTTPRoute',
      gatewayId: testId('gateways', 1),
      age: at + 1,
      ...rule,
      pathType: rule.pathType as IngressRoute['pathType'],
    }));
    const records = names.flatMap((value, at) =>
      value === '' || (value.endsWith('.') && hosts[at] === value.slice(0, -1))
        ? []
        : [
            {
              zoneId: testId('zones', 1),
              name: (hosts[at] ?? '').split('.')[0] ?? '',
              type: value.endsWith('.') ? ('CNAME' as const) : ('A' as const),
              value,
              target: 'elsewhere' as const,
              ttl: 60,
            },
          ],
    );
    return applied(base, [...operations, ...add('ingressRoutes', ...routes), ...add('records', ...records)]);
  });

/** What a client gets that resolves a name and asks where it leads: who answers, a status, or how far it comes. */
async function asClient(
  { standIns, authority }: { readonly standIns: Started['standIns']; readonly authority: string },
  resolver: Resolver,
  url: URL,
): Promise<string> {
  const addresses = await resolver.resolve4(url.hostname).catch(() => []);
  const [address] = addresses;
  if (address === undefined) return 'no name';
  const port = url.protocol === 'https:' ? 443 : 80;
  const door = standIns.report().doors.find((each) => each.address === address && each.port === port);
  if (door?.localPort === null || door === undefined) return 'no way';
  const send = url.protocol === 'https:' ? secureRequest : request;
  return new Promise((resolve) => {
    const asked = send(
      {
        host: '127.0.0.1',
        port: door.localPort,
        path: url.pathname,
        headers: { host: url.hostname },
        agent: false,
        ca: authority,
        servername: url.hostname,
      },
      (response) => {
        let text = '';
        response.on('data', (chunk: Buffer) => (text += chunk.toString()));
        response.on('end', () => {
          const { workload = '', member = '' } = JSON.parse(text) as { workload?: string; member?: string };
          resolve(response.statusCode === 200 ? `200 ${workload}${member}` : String(response.statusCode));
        });
      },
    );
    asked.on('error', () => {
      resolve('no answer');
    });
    asked.end();
  });
}

/** All that the question bar’s answer lets a client get. */
function allowed({ resolution, verdict, status, members, addresses, unanswered, stages }: Answer): string[] {
  if (resolution !== undefined && resolution.outcome !== 'answer') return ['no name'];
  const served = [
    ...members.map(({ workload }) => `200 ${workload.namespace}/${workload.name}`),
    ...addresses.map((address) => `200 ${address}`),
    ...unanswered.map((each) => (each.status === undefined ? 'no answer' : String(each.status))),
  ];
  if (served.length > 0 && (verdict === 'pass' || unanswered.length > 0)) return served;
  if (status !== undefined) {
    // A client that holds the certificate to the host does not come so far as to get the status of a host without rules.
    return stages.some(({ about, outcome }) => about === 'certificate' && outcome === 'ok')
      ? [String(status)]
      : [String(status), 'no answer'];
  }
  return verdict === 'unknown' ? ['501', 'no answer'] : ['no answer', 'no way'];
}

test('stock clients of stand-ins, the question bar and the generated tests agree over random plans', async () => {
  const plans = fc.sample(anyPlan, { seed: 20_261_202, numRuns: 24 });
  const wrong: unknown[] = [];
  const ends = new Map<string, number>();
  let tested = 0;
  for (const plan of plans) {
    const world = await started(plan, { vantages: ['internet'], clusters: [] });
    const client = { standIns: world.standIns, authority: world.standIns.authorityPem };
    const resolver = new Resolver({ timeout: 60_000, tries: 1 });
    resolver.setServers([`127.0.0.1:${world.standIns.report().names[0]?.port ?? 0}`]);
    const evaluation = evaluate(plan);
    const state = evaluation.ask(ingress);
    const answered = (to: string) =>
      ask(state, { from: { kind: 'internet' }, to: expectGood(readUrl(to)), bytes: USUAL_BYTES });
    for (const host of hosts)
      for (const path of paths)
        for (const scheme of ['http', 'https']) {
          const to = `${scheme}://${host}${path}`;
          const said = await asClient(client, resolver, new URL(to));
          const meant = allowed(answered(to));
          const kind = said.replace(/^200 .*/, '200');
          ends.set(kind, (ends.get(kind) ?? 0) + 1);
          if (!meant.includes(said)) wrong.push({ to, said, meant, sentence: answered(to).sentence });
        }
    const tests = new Suites(plan)
      .of({ kind: 'plan' })
      .filter(({ suite, from }) => suite === 'entry by name' && from === 'the internet');
    for (const each of finished(runTests(evaluation, tests))) {
      const said = await asClient(client, resolver, new URL(each.to));
      tested++;
      const isGood = said.startsWith('200');
      // One that is answered in part fails as a test, and may be answered this time.
      const isInPart = answered(each.to).unanswered.length > 0;
      if (!isInPart && each.result !== 'skipped' && isGood !== (each.result === 'passed')) wrong.push({ each, said });
    }
    await world.stop();
  }
  expect(wrong).toEqual([]);
  expect(tested).toBeGreaterThan(10);
  // Every way of ending was met, so that none is right by never being asked.
  for (const end of ['200', '403', '404', '500', 'no name', 'no answer', 'no way'])
    expect([end, (ends.get(end) ?? 0) > 0]).toEqual([end, true]);
});
