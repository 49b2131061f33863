import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { startNameServer } from '../../test/nameServer.js';
import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { demoPlan } from '../demo/index.js';
import { internetHost, nodeHost, podHost } from '../forwarding/index.js';
import { applyOperations, setOperation } from '../plan/index.js';
import type { Cluster, Operation, Plan, Zone } from '../plan/index.js';
import {
  addressesOf,
  afterMemory,
  askerOf,
  caaOf,
  certificateEnd,
  cutOver,
  dnsReplicas,
  importZone,
  NameState,
  nameCounts,
  proposeNames,
  queryLoad,
  recordedNames,
  renewalOf,
  resolve,
  rowOf,
  shareLeft,
  VantageTable,
  vantagesOf,
  zoneText,
} from './index.js';
import { expectFound } from '../road/index.js';

const n = (i: number) => testId('networks', i);
const zone = (name: string, fields: Partial<Zone> = {}): Partial<Zone> & { name: string } => ({
  name,
  apex: name,
  nameServers: [`ns.${name}`],
  minimum: 30,
  ...fields,
});
const record = (
  at: number,
  name: string,
  type: 'A' | 'CNAME' | 'NS' | 'TXT' | 'CAA',
  value: string,
  ttl: number | null = null,
) => ({ zoneId: testId('zones', at), name, type, value, ttl });

/** Two networks joined by a hub, a cluster in the first; a public zone and its private twin in the first; a zone of the second forwarded to. */
const world = (...more: Operation[][]): Plan =>
  applied(ground(2), [
    ...add('links', { name: 'hub', kind: 'hub', networkIds: [n(1), n(2)] }),
    ...add('clusters', cluster('c', { podMode: 'routed' })),
    ...add(
      'allocations',
      { clusterId: testId('clusters', 1), purpose: 'node', prefix: '10.9.0.0/24' },
      { clusterId: testId('clusters', 1), purpose: 'pod', prefix: '10.10.0.0/20' },
    ),
    ...add('subnets', {
      name: 'far',
      networkId: n(2),
      siteId: testId('sites', 1),
      purpose: 'other',
      prefix: '10.20.0.0/24',
    }),
    ...add(
      'services',
      {
        clusterId: testId('clusters', 1),
        namespace: 'shop',
        name: 'web',
        ports: ['web tcp 80 to 8080'],
        address: '10.96.0.9',
      },
      {
        clusterId: testId('clusters', 1),
        namespace: 'shop',
        name: 'pay',
        type: 'ExternalName',
        externalName: 'www.one.test',
      },
    ),
    ...add(
      'zones',
      zone('one.test', { side: 'public', minimum: 300 }),
      { ...zone('one.test'), name: 'one inside', side: 'private', networkIds: [n(1)] },
      { ...zone('two.test'), side: 'private', networkIds: [n(2)] },
    ),
    ...add(
      'records',
      record(1, 'www', 'A', '203.0.113.9', 600),
      record(1, 'alias', 'CNAME', 'www.one.test', 60),
      record(1, 'out', 'CNAME', 'www.else.where'),
      record(1, 'sub', 'NS', 'ns.sub.one.test'),
      record(2, 'www', 'A', '10.9.0.9', 60),
      record(2, 'loop', 'CNAME', 'loop2.one.test'),
      record(2, 'loop2', 'CNAME', 'loop.one.test'),
      record(2, 'far', 'CNAME', 'x.two.test'),
      record(3, 'x', 'A', '10.20.0.7', 120),
      record(1, 'ns.sub', 'A', '203.0.113.53'),
    ),
    ...more.flat(),
  ]);
const resolver = (fields: object = {}) =>
  add('resolvers', { name: 'there', networkId: n(2), addresses: ['10.20.0.53'], role: 'both', ...fields });
const forward = (fields: object = {}) =>
  add('forwardingRules', { name: 'on', domain: 'two.test', networkIds: [n(1)], targets: ['10.20.0.53'], ...fields });
const part = { clusterId: testId('clusters', 1), nodePoolId: null, zone: '' };

function said(plan: Plan, from: 'internet' | 'node' | 'pod', name: string, type: 'A' | 'AAAA' | 'CNAME' | 'SRV' = 'A') {
  const state = NameState.of(plan);
  const host =
    from === 'internet'
      ? internetHost()
      : expectFound((from === 'node' ? nodeHost : podHost)(state.forwarding, part, 4));
  return resolve(state, askerOf(host), name, type);
}
const brief = (...of: Parameters<typeof said>) => {
  const { outcome, records, ttl } = said(...of);
  return `${outcome} ${records.map(({ value }) => value).join(' ')} ${ttl}`;
};

describe('by vantage', () => {
  const plan = world();
  test.each([
    // The public zone for the internet; its private twin in the first network, which hides what it does not have (split horizon).
    ['internet', 'www.one.test', 'answer 203.0.113.9 600'],
    ['node', 'www.one.test', 'answer 10.9.0.9 60'],
    // An alias lives as long as the shorter of the two.
    ['internet', 'alias.one.test', 'answer www.one.test 203.0.113.9 60'],
    ['node', 'alias.one.test', 'no name  30'],
    // Negative answers: the smaller of the SOA’s TTL (3,600 here) and its last field.
    ['internet', 'nope.one.test', 'no name  300'],
    ['internet', 'x.two.test', 'outside  0'],
    ['internet', 'out.one.test', 'outside www.else.where 0'],
    ['internet', 'a.sub.one.test', 'outside  0'],
    ['node', 'loop.one.test', 'failure loop2.one.test loop.one.test 0'],
    // Without a forwarding rule nobody in the first network knows two.test.
    ['node', 'far.one.test', 'outside x.two.test 0'],
  ] as const)('%s asks for %s: %s', (from, name, answer) => {
    expect(brief(plan, from, name)).toBe(answer);
  });

  test('a zone that its parent does not delegate is found by nobody outside', () => {
    expect(
      brief(
        applied(plan, [setOperation('zones', testId('zones', 1), { isDelegated: false })]),
        'internet',
        'www.one.test',
      ),
    ).toBe('no name  0');
  });

  test('a child zone is found by its parent’s delegation alone', () => {
    const child = add('zones', { ...zone('sub.one.test', { side: 'public' }), id: testId('zones', 4) });
    const host = add('records', { ...record(4, 'a', 'A', '203.0.113.7'), id: testId('records', 40) });
    const both = world(child, host);
    expect(brief(both, 'internet', 'a.sub.one.test')).toBe('answer 203.0.113.7 3600');
    const cut = both.records.find(({ type }) => type === 'NS')?.id ?? '';
    expect(brief(applied(both, [{ op: 'remove', kind: 'records', id: cut }]), 'internet', 'a.sub.one.test')).toBe(
      'no name  300',
    );
  });
});

describe('forwarding', () => {
  test('a rule sends a name on, through the networks, and aliases follow it', () => {
    const plan = world(resolver(), forward());
    expect(brief(plan, 'node', 'x.two.test')).toBe('answer 10.20.0.7 120');
    expect(brief(plan, 'node', 'far.one.test')).toBe('answer x.two.test 10.20.0.7 120');
    expect(said(plan, 'node', 'x.two.test').queries.map(({ server, flow }) => [server, flow?.verdict])).toEqual([
      ['resolver of n1', undefined],
      ['resolver there at 10.20.0.53', 'pass'],
      ['resolver of n2', undefined],
    ]);
  });
  test('nobody at the address, one that only sends, and one that cannot be reached', () => {
    expect(brief(world(forward()), 'node', 'x.two.test')).toBe('outside  0');
    expect(brief(world(resolver({ role: 'outbound' }), forward()), 'node', 'x.two.test')).toBe('time-out  0');
    const apart = applied(world(resolver(), forward()), [{ op: 'remove', kind: 'links', id: testId('links', 1) }]);
    expect(brief(apart, 'node', 'x.two.test')).toBe('time-out  0');
  });
  test('rules that form a loop fail', () => {
    const back = add('resolvers', {
      id: testId('resolvers', 2),
      name: 'here',
      networkId: n(1),
      addresses: ['10.9.0.53'],
    });
    const plan = world(
      resolver(),
      forward({ domain: 'three.test' }),
      back,
      add('forwardingRules', {
        id: testId('forwardingRules', 2),
        name: 'back',
        domain: 'three.test',
        networkIds: [n(2)],
        targets: ['10.9.0.53'],
      }),
    );
    const { outcome, why } = said(plan, 'node', 'x.three.test');
    expect([outcome, why.code]).toEqual(['failure', 'forward.loop']);
  });
  test('of a rule and a private zone the longer name decides', () => {
    const plan = world(resolver(), forward({ domain: 'test' }));
    expect(brief(plan, 'node', 'www.one.test')).toBe('answer 10.9.0.9 60');
    expect(brief(plan, 'node', 'x.two.test')).toBe('answer 10.20.0.7 120');
  });
});

describe('from a pod', () => {
  const plan = world(resolver(), forward());
  // 3 suffixes and the name itself, each for A and AAAA: 8 (handbook 9; resolv.conf(5) with ndots 5).
  test.each([
    ['web.shop', 'web.shop.svc.cluster.local', 4],
    ['www.one.test', 'www.one.test', 8],
    ['www.one.test.', 'www.one.test', 2],
    ['web.shop.svc.cluster.local.', 'web.shop.svc.cluster.local', 2],
  ])('%s is found as %s after %p queries', (name, found, sent) => {
    expect(said(plan, 'pod', name)).toMatchObject({ outcome: 'answer', name: found, sent });
  });
  // DNS specification for services of the Kubernetes API, 1.1, 2.3 to 2.5 (from memory).
  test('services, their ports, and names that stand for others', () => {
    expect(brief(plan, 'pod', 'web.shop')).toBe('answer 10.96.0.9 30');
    expect(brief(plan, 'pod', '_web._tcp.web.shop.svc.cluster.local.', 'SRV')).toBe(
      'answer 0 100 80 web.shop.svc.cluster.local 30',
    );
    expect(brief(plan, 'pod', 'pay.shop')).toBe('answer www.one.test 10.9.0.9 30');
    expect(brief(plan, 'pod', 'gone.shop.svc.cluster.local.')).toBe('no name  5');
    expect(brief(plan, 'pod', 'web.shop.svc.cluster.local.', 'AAAA')).toBe('no data  5');
  });
  test('stub zones and upstream resolvers of the cluster go before its network', () => {
    const set = (fields: Partial<Cluster>) =>
      applied(world(resolver()), [setOperation('clusters', testId('clusters', 1), fields)]);
    expect(brief(set({ stubZones: ['two.test to 10.20.0.53'] }), 'pod', 'x.two.test.')).toBe('answer 10.20.0.7 120');
    expect(brief(set({ dnsUpstream: ['10.20.0.53'] }), 'pod', 'x.two.test.')).toBe('answer 10.20.0.7 120');
    expect(brief(set({ dnsUpstream: ['10.20.0.53'] }), 'node', 'x.two.test.')).toBe('outside  0');
  });
  test('names of the network’s name servers are asked there', () => {
    const plan2 = applied(world(resolver()), [setOperation('networks', n(1), { nameServers: ['10.20.0.53'] })]);
    expect(brief(plan2, 'node', 'x.two.test')).toBe('answer 10.20.0.7 120');
  });
});

describe('certificates', () => {
  test('the days of a certificate', () => {
    // 2026-10-12 and 90 days: 19 of October, 30, 31, and 10 in January. 30 days before is 2026-12-11.
    expect(certificateEnd({ validFrom: '2026-10-12', validDays: 90 })).toBe('2027-01-10');
    expect(renewalOf({ validFrom: '2026-10-12', validDays: 90, renewDays: 30 })).toBe('2026-12-11');
  });
  // RFC 8659 3: tree climbing; its example: CAA at example.com decides for X.Y.example.com when the names between have none; 4.3 for issuewild.
  test.each([
    ['x.y.one.test', ['ca1.example'], 'one.test'],
    ['a.open.one.test', ['ca2.example'], 'open.one.test'],
    ['*.one.test', ['wild.example'], 'one.test'],
    ['nobody.one.test', [], 'nobody.one.test'],
    ['other.test', [], undefined],
  ])('CAA for %s: %p at %p', (name, issuers, at) => {
    const plan = world(
      add(
        'records',
        ...[
          record(1, '@', 'CAA', '0 issue "ca1.example; policy=ev"'),
          record(1, '@', 'CAA', '0 issuewild "wild.example"'),
          record(1, 'open', 'CAA', '0 issue "ca2.example"'),
          record(1, 'nobody', 'CAA', '0 issue ";"'),
        ].map((each, i) => ({ ...each, id: testId('records', 50 + i) })),
      ),
    );
    expect(caaOf(NameState.of(plan), name)).toEqual({ at, issuers });
  });
});

describe('cut-over', () => {
  // Ages in a cache are spread evenly over the TTL, so after a third of it two thirds are left; a client that asks each 30 s lags by its mean of 15 s.
  test.each([
    [0, 600, 'none', 1],
    [200, 600, 'none', 2 / 3],
    [600, 600, 'none', 0],
    [200, 600, '30 s', 1 - (200 - 15) / 600],
    [630, 600, '30 s', 0],
    [15, 0, '30 s', 0.5],
    [1e9, 600, 'until restart', 1],
  ] as const)('after %p s with a TTL of %p, caching %p, %p go to the old one', (after, ttl, habit, share) => {
    expect(shareLeft(after, ttl, habit)).toBeCloseTo(share, 10);
  });
  // The mean over the client’s own memory, summed up by steps instead of by its integral.
  test('the share agrees with a sum over when the client asked', () => {
    for (const habit of ['30 s', 'a browser'] as const)
      for (const ttl of [0, 20, 60, 600])
        for (const after of [1, 17, 45, 100, 610, 700]) {
          const own = habit === '30 s' ? 30 : 60;
          const steps = 20_000;
          let sum = 0;
          for (let i = 0; i < steps; i++) {
            const at = after - (own * (i + 0.5)) / steps;
            sum += at <= 0 ? 1 : ttl === 0 ? 0 : Math.max(0, 1 - at / ttl);
          }
          expect(shareLeft(after, ttl, habit)).toBeCloseTo(sum / steps, 3);
        }
  });
  test('who leaves when, and what to lower before', () => {
    const caller = add('workloads', {
      clusterId: testId('clusters', 1),
      namespace: 'shop',
      name: 'w',
      replicasNow: 1,
      replicasHorizon: 1,
      callsTo: ['www.one.test'],
      lookUps: 1,
      dnsCache: '30 s',
    });
    const moved = cutOver(NameState.of(world(caller)), '10.9.0.9', 60);
    expect(moved.moving).toMatchObject([{ name: 'www.one.test', ttl: 60 }]);
    expect(moved.clients).toEqual([{ who: 'shop/w of c', habit: '30 s', ttl: 60, until: 90 }]);
    // 60 s are to be enough with 30 s of the client’s own: the TTL may be 30 s, and is to be lowered 60 s before.
    expect(moved.lowering).toEqual([setOperation('records', moved.moving[0]?.recordId ?? '', { ttl: 30 })]);
    expect(moved.steps[0]).toMatchObject({ at: -60 });
    const lowered = applied(world(caller), moved.lowering);
    expect(cutOver(NameState.of(lowered), '10.9.0.9', 60)).toMatchObject({ done: 60, lowering: [] });
  });
});

describe('load of the cluster’s DNS', () => {
  // max(ceil(cores / 256), ceil(nodes / 16)), at least 2: handbook 9.
  test.each([
    [1, 4, 2],
    [33, 100, 3],
    [10, 1025, 5],
  ])('%p nodes with %p cores ask for %p replicas', (nodes, cores, replicas) => {
    expect(dnsReplicas({ nodes, cores })).toBe(replicas);
  });
  test('what a runtime remembers thins its look-ups', () => {
    // At one a second, remembered for 30 s, one in 31 asks: the answer serves 30 s, and the next comes a second later on average.
    expect([afterMemory(1, 0), afterMemory(1, 30), afterMemory(5, Infinity)]).toEqual([1, 1 / 31, 0]);
    // The same by simulated arrivals at random times.
    let state = 12_345;
    const random = () => (state = (state * 16_807) % 2_147_483_647) / 2_147_483_647;
    let [at, until, asked] = [0, 0, 0];
    const total = 200_000;
    for (let i = 0; i < total; i++) {
      at += -Math.log(1 - random()) / 0.5;
      if (at < until) continue;
      asked++;
      until = at + 30;
    }
    expect(asked / at / afterMemory(0.5, 30)).toBeCloseTo(1, 1);
  });
  test('queries by name and saving', () => {
    const asking = add('workloads', {
      clusterId: testId('clusters', 1),
      namespace: 'shop',
      name: 'w',
      replicasNow: 10,
      replicasHorizon: 10,
      callsTo: ['www.one.test', 'web'],
      lookUps: 4,
      dnsCache: 'none',
    });
    const plan = world(asking);
    const own = plan.clusters[0];
    if (own === undefined) throw new Error('no cluster');
    const { names, cases } = queryLoad(NameState.of(plan), own, { nodes: 4, cores: 16 });
    // 10 pods, 4 look-ups a second over two names: 20 each. Outside 8 queries, the service 2: 20 × 8 + 20 × 2 = 200; with a dot or ndots 2: 80.
    expect(names.map(({ lookUps, queries }) => [lookUps, queries])).toEqual([
      [20, 8],
      [20, 2],
    ]);
    expect(cases.slice(0, 3).map(({ perSecond }) => perSecond)).toEqual([200, 80, 80]);
    // On 4 nodes 5 look-ups a second each: kept 5 s for what does not exist, 30 s for the rest: 4 × (6 × 5/26 + 2 × 5/151 + 2 × 5/151).
    expect(cases[3]?.perSecond).toBeCloseTo(4 * ((6 * 5) / 26 + (4 * 5) / 151), 10);
  });
});

describe('zone files of a plan', () => {
  test('every zone of the demo passes named-checkzone, and reads back as no change', () => {
    const plan = demoPlan();
    const state = NameState.of(plan);
    const folder = mkdtempSync('/var/tmp/wl-demo-zones-');
    try {
      for (const each of plan.zones) {
        const text = zoneText(state, each);
        const file = join(folder, 'zone');
        writeFileSync(file, text);
        // -i local: addresses of servers are looked for in the zone alone.
        expect(
          execFileSync('named-checkzone', ['-i', 'local', '-k', 'fail', '-n', 'fail', each.apex, file]).toString(),
        ).toMatch(/OK\s*$/);
        expect(importZone(plan, each, text)).toMatchObject({ operations: [], problems: [], added: 0, removed: 0 });
      }
    } finally {
      rmSync(folder, { recursive: true, force: true });
    }
  });
  test('a zone whose servers are not named yet passes, too, and reads back as no change', () => {
    const plan = applied(world(), [setOperation('zones', testId('zones', 3), { nameServers: [] })]);
    const third = plan.zones.find(({ id }) => id === testId('zones', 3));
    if (third === undefined) throw new Error('no zone');
    const text = zoneText(NameState.of(plan), third);
    const folder = mkdtempSync('/var/tmp/wl-unnamed-zone-');
    try {
      writeFileSync(join(folder, 'zone'), text);
      expect(execFileSync('named-checkzone', ['-i', 'local', third.apex, join(folder, 'zone')]).toString()).toMatch(
        /OK\s*$/,
      );
    } finally {
      rmSync(folder, { recursive: true, force: true });
    }
    expect(importZone(plan, third, text)).toMatchObject({ operations: [], problems: [] });
  });
  test('a file is a difference: new, another TTL, gone, and the SOA’s own fields', () => {
    const plan = world();
    const [first] = plan.zones;
    if (first === undefined) throw new Error('no zone');
    const read = importZone(
      plan,
      first,
      '$TTL 3600\n@ SOA ns.one.test. h.one.test. 7 3600 600 604800 60\n@ NS ns9.one.test.\nwww 30 A 203.0.113.9\nnew A 203.0.113.10\nns.sub A 203.0.113.53\nalias 60 CNAME www\nout CNAME www.else.where.\n',
    );
    expect(read).toMatchObject({ added: 1, changed: 1, removed: 1, same: 3, problems: [] });
    expect(read.operations.filter(({ op }) => op === 'remove')).toEqual([]);
    expect(read.removals).toMatchObject([{ op: 'remove', kind: 'records' }]);
    const after = applyOperations(plan, [...read.operations, ...read.removals]);
    if (!after.ok) throw new Error(JSON.stringify(after.problems));
    expect(after.plan.zones.find(({ id }) => id === first.id)).toMatchObject({
      nameServers: ['ns9.one.test'],
      serial: 7,
      mailbox: 'h.one.test',
      minimum: 60,
    });
    expect(said(after.plan, 'internet', 'www.one.test')).toMatchObject({ ttl: 30 });
    expect(said(after.plan, 'internet', 'new.one.test').outcome).toBe('answer');
  });
  test('while a line cannot be read nothing counts as gone, no record and no name server', () => {
    const plan = world();
    const [first] = plan.zones;
    if (first === undefined) throw new Error('no zone');
    const read = importZone(
      plan,
      first,
      '$TTL 3600\n@ SOA ns.one.test. h.one.test. 7 3600 600 604800 60\n@ NS ns9.one.test.\nwww A 192.0.2.999\n',
    );
    expect(read).toMatchObject({ removed: 0, removals: [], problems: [{ line: 4, code: 'dns.rdata' }] });
    const after = applied(plan, read.operations);
    expect(after.records).toEqual(plan.records);
    expect(after.zones[0]?.nameServers).toEqual(['ns.one.test', 'ns9.one.test']);
  });
  test('a file for another zone is read into none', () => {
    const plan = world();
    const [first, , third] = plan.zones;
    if (first === undefined || third === undefined) throw new Error('no zone');
    const other = zoneText(NameState.of(plan), third);
    const empty = { operations: [], removals: [], added: 0, changed: 0, removed: 0 };
    expect(importZone(plan, first, other)).toMatchObject({ ...empty, problems: [{ code: 'zone.other' }] });
    expect(importZone(plan, first, '$ORIGIN nowhere.test.\n@ SOA ns h 1 2 3 4 5\nwww A 192.0.2.1\n')).toMatchObject(
      empty,
    );
    expect(importZone(plan, third, other)).toMatchObject({ ...empty, problems: [] });
  });
});

describe('services that stand for a name in a circle', () => {
  const alias = (name: string, externalName: string, namespace = 'shop') => ({
    clusterId: testId('clusters', 1),
    namespace,
    name,
    type: 'ExternalName' as const,
    externalName,
  });
  const plan = applied(
    world(),
    add(
      'services',
      alias('itself', 'itself.shop.svc.cluster.local'),
      alias('a', 'b.far.svc.cluster.local'),
      alias('b', 'A.shop.svc.cluster.local', 'far'),
    ).map((each, i) =>
      each.op === 'add' ? ({ ...each, entity: { ...each.entity, id: testId('services', 10 + i) } } as Operation) : each,
    ),
  );
  // RFC 1034 3.6.2: aliases in a circle are signalled as an error.
  test.each(['itself', 'a'])('%s ends in words', (name) => {
    const { outcome, why } = said(plan, 'pod', `${name}.shop.svc.cluster.local.`);
    expect([outcome, why.code]).toEqual(['failure', 'aliases']);
  });
  test('and the load of a workload that calls one is counted', () => {
    const calls = add('workloads', {
      clusterId: testId('clusters', 1),
      namespace: 'shop',
      name: 'w',
      replicasNow: 2,
      replicasHorizon: 2,
      callsTo: ['a'],
      lookUps: 5,
    });
    const state = NameState.of(applied(plan, calls));
    const [one] = state.parts.clusters;
    if (one === undefined) throw new Error('no cluster');
    expect(queryLoad(state, one, { nodes: 1, cores: 1 }).cases.length).toBeGreaterThan(0);
  });
});

describe('proposals', () => {
  test('after them every host, API and load balancer of the demo is found where its clients are', () => {
    const plan = demoPlan();
    const { parts, openSteps } = proposeNames(plan, { withReverse: true, withCertificates: true, today: '2026-11-26' });
    const after = applied(
      plan,
      parts.flatMap((each) => each.operations),
    );
    const state = NameState.of(after);
    const harbour = after.clusters.find(({ name }) => name === 'harbour-ops')?.id ?? '';
    expect(nameCounts(NameState.of(plan)).get(harbour)).toEqual({ found: 0, all: 2 });
    expect(nameCounts(state).get(harbour)).toEqual({ found: 2, all: 2 });
    // The virtual address after the three control nodes of the run 10.43.240.130 to 134, which begins after the gateway.
    const [first] = after.reservations;
    expect(first?.first).toBe('10.43.240.130');
    const [harbourNetwork] = after.networks.filter(({ name }) => name === 'basalt-lan');
    const places = vantagesOf(state);
    const api = rowOf(state, places, 'api.harbour-ops.harbour.skerryline.example');
    expect(api.answers[places.findIndex(({ key }) => key === harbourNetwork?.id)]?.text).toBe('10.43.240.133');
    expect(openSteps).toEqual([expect.stringContaining('offers.skerryline.example')]);
    expect(after.certificates[0]?.names).toContain('seats.skerryline.example');
    // Reverse zones of private space are those of RFC 6303 3 (RFC 1918) and below them: nobody outside answers for them.
    const reverse = after.zones.filter(({ apex }) => apex.endsWith('.arpa'));
    expect(reverse.length).toBeGreaterThan(3);
    for (const each of reverse)
      expect([
        each.apex,
        each.side,
        /(^|\.)(10|168\.192|(1[6-9]|2[0-9]|3[01])\.172)\.in-addr\.arpa$/.test(each.apex),
      ]).toEqual([each.apex, 'private', true]);
    // Proposed once more, nothing is left to do.
    expect(proposeNames(after, { withReverse: true, withCertificates: true, today: '2026-11-26' }).parts).toEqual([]);
  });
});

describe('record controllers', () => {
  const recordController = add('recordControllers', {
    name: 'k',
    clusterId: testId('clusters', 1),
    ownerMark: 'm',
    zoneIds: [testId('zones', 1)],
    ttl: 99,
  });
  const balancer = (fields: object) => [
    ...add('balancers', {
      name: 'b',
      subnetId: testId('subnets', 1),
      side: 'public',
      address: '203.0.113.50',
      ...fields,
    }),
    ...add('controllers', {
      name: 'x',
      clusterId: testId('clusters', 1),
      classes: ['x'],
      balancerId: testId('balancers', 1),
    }),
    ...add('ingressRoutes', {
      clusterId: testId('clusters', 1),
      namespace: 'shop',
      name: 'r',
      className: 'x',
      hosts: ['shop.one.test', 'www.one.test', 'a.other.test'],
      backends: ['web 80'],
    }),
  ];
  test('a host gets the address of the load balancer before its controller; a record by hand stays', () => {
    const state = NameState.of(world(recordController, balancer({})));
    expect(state.kept.map(({ name, type, value, ttl }) => `${name} ${type} ${value} ${ttl}`)).toEqual([
      'shop.one.test A 203.0.113.50 99',
    ]);
    expect(brief(world(recordController, balancer({})), 'internet', 'shop.one.test')).toBe('answer 203.0.113.50 99');
  });
  test('a name of the provider is an alias, and answers its address', () => {
    const plan = world(recordController, balancer({ providerName: 'b1.lb.example' }));
    expect(brief(plan, 'internet', 'shop.one.test')).toBe('answer b1.lb.example 203.0.113.50 60');
  });
  test('one of no decided address gets none', () => {
    expect(NameState.of(world(recordController, balancer({ address: null }))).kept).toEqual([]);
  });
});

test('a name server with the demo’s zones, a view for each vantage, answers as each vantage is told', async () => {
  const plan = demoPlan();
  const state = NameState.of(plan);
  const at = [
    '',
    ...plan.networks.filter(({ name }) => ['booking', 'basalt-lan', 'coaches'].includes(name)).map(({ id }) => id),
  ];
  const zonesAt = (networkId: string) =>
    plan.zones.filter(({ side, networkIds }) =>
      networkId === '' ? side === 'public' : side === 'private' && networkIds.includes(networkId),
    );
  const server = await startNameServer(
    at.map((id) => Object.fromEntries(zonesAt(id).map((each) => [each.apex, zoneText(state, each)]))),
  );
  let answered = 0;
  try {
    for (const [view, networkId] of at.entries())
      for (const name of recordedNames(state)) {
        if (!zonesAt(networkId).some(({ apex }) => name === apex || name.endsWith(`.${apex}`))) continue;
        // A forwarding rule of the network goes before what its own zones say.
        if (state.forwardFor(networkId, name) !== undefined) continue;
        const asker =
          networkId === '' ? askerOf(internetHost()) : { label: '', networkId, host: undefined, pod: undefined };
        const { records, outcome } = resolve(state, asker, `${name}.`, 'A');
        const reply = (await server.ask(view, name, 'A')) as unknown as {
          rcode: string;
          answers?: { type: string; ttl: number; data: string }[];
        };
        const theirs = (reply.answers ?? []).map(({ type, ttl, data }) => `${type} ${ttl} ${data}`);
        const mine = records.map(({ type, ttl, value }) => `${type} ${ttl} ${value}`);
        answered += theirs.length;
        expect([name, view, mine]).toEqual([name, view, theirs]);
        // The alias to the provider’s free name ends outside the server’s own zones, where it says nothing.
        if (!mine.some((each) => each.startsWith('CNAME')))
          expect([name, view, outcome === 'no name']).toEqual([name, view, reply.rcode === 'NXDOMAIN']);
      }
  } finally {
    await server.stop();
  }
  expect(answered).toBeGreaterThan(10);
});

test('after edits of records the table of vantages is what a fresh one is', () => {
  let plan = world(resolver(), forward());
  let state = NameState.of(plan);
  let table = VantageTable.of(state);
  const edits: Operation[][] = [
    add('records', { ...record(1, '*', 'A', '203.0.113.1'), id: testId('records', 70) }),
    add('records', { ...record(1, 'deep.er', 'A', '203.0.113.2'), id: testId('records', 71) }),
    add('records', { ...record(1, 'out', 'A', '203.0.113.3'), id: testId('records', 72), name: 'x.er' }),
    [{ op: 'remove', kind: 'records', id: testId('records', 71) }],
    [setOperation('records', testId('records', 9), { value: '10.20.0.8' })],
    [{ op: 'remove', kind: 'records', id: testId('records', 70) }],
    [setOperation('zones', testId('zones', 2), { networkIds: [n(1), n(2)] })],
  ];
  for (const operations of edits) {
    plan = applied(plan, operations);
    state = new NameState(plan, state.forwarding, state);
    table = table.after(state);
    const fresh = VantageTable.of(NameState.of(plan));
    const plain = (of: VantageTable) => [...of.rows.values()].map(({ name, answers }) => [name, [...answers]]);
    expect(plain(table)).toEqual(plain(fresh));
    expect(recordedNames(state)).toEqual([...fresh.rows.keys()]);
  }
  expect(addressesOf(said(plan, 'node', 'x.two.test'))).toEqual(['10.20.0.8']);
});
