import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { ranges } from '../../test/ways.js';
import { internetHost, nodeHost, podHost } from '../forwarding/index.js';
import { applyOperations, setOperation } from '../plan/index.js';
import type { ClusterService, DnsRecord, Operation, Plan, Workload, Zone } from '../plan/index.js';
import { expectFound } from '../road/index.js';
import type { RecordType } from '../zones/index.js';
import { readZoneFile } from '../zones/index.js';
import { askerOf, caaOf, cutOver, handOut, importZone, NameState, queryLoad, resolve, zoneText } from './index.js';
import { rowOf, vantagesOf } from './vantages.js';

// Every expected answer is derived by hand from the rule that its test names, before the code was asked.

const K = testId('clusters', 1);
const zone = (apex: string, fields: Partial<Zone> = {}): Partial<Zone> => ({
  name: `${apex} ${fields.side ?? 'private'}`,
  apex,
  side: 'private',
  networkIds: [testId('networks', 1)],
  ...fields,
});
const open = (apex: string, fields: Partial<Zone> = {}) => zone(apex, { side: 'public', networkIds: [], ...fields });
const record = (n: number, name: string, type: DnsRecord['type'], value: string): Partial<DnsRecord> => ({
  zoneId: testId('zones', n),
  name,
  type,
  value,
});
const world = (...more: Operation[][]): Plan =>
  applied(ground(1), [
    ...add('clusters', cluster('k', { podMode: 'routed' })),
    ...ranges([1, 'node', '10.1.0.0/24'], [1, 'pod', '10.64.0.0/16'], [1, 'service', '10.96.0.0/16']),
    ...more.flat(),
  ]);
const service = (name: string, fields: Partial<ClusterService> = {}): Partial<ClusterService> => ({
  clusterId: K,
  namespace: 'shop',
  name,
  ports: ['web tcp 80 to 8080'],
  ...fields,
});
const workload = (name: string, fields: Partial<Workload> = {}): Partial<Workload> => ({
  clusterId: K,
  namespace: 'shop',
  name,
  labels: [`app=${name}`],
  replicasNow: 2,
  replicasHorizon: 2,
  ...fields,
});

function said(plan: Plan, from: 'internet' | 'node' | 'pod', name: string, type: RecordType = 'A') {
  const state = NameState.of(plan);
  const part = { clusterId: K, nodePoolId: null, zone: '' };
  const host =
    from === 'internet'
      ? internetHost()
      : expectFound((from === 'node' ? nodeHost : podHost)(state.forwarding, part, 4));
  return resolve(state, askerOf(host), name, type);
}
const brief = (...of: Parameters<typeof said>): string => {
  const { outcome, records } = said(...of);
  return [outcome, ...records.map(({ value }) => value)].join(' ');
};

describe('an alias is followed from where it is asked (RFC 1034 3.6.2)', () => {
  test('from a public zone into an attached private one, with and without a public twin, and back again', () => {
    const plan = (...zones: Partial<Zone>[]) =>
      world(
        add('zones', open('one.test'), zone('two.test'), ...zones),
        add(
          'records',
          record(1, 'www', 'CNAME', 'app.two.test'),
          record(2, 'app', 'A', '10.9.0.9'),
          record(2, 'out', 'CNAME', 'front.one.test'),
          record(1, 'front', 'A', '203.0.113.9'),
        ),
      );
    expect(brief(plan(), 'node', 'www.one.test')).toBe('answer app.two.test 10.9.0.9');
    expect(brief(plan(open('two.test')), 'node', 'www.one.test')).toBe('answer app.two.test 10.9.0.9');
    expect(brief(plan(open('two.test')), 'internet', 'www.one.test')).toBe('no name app.two.test');
    expect(brief(plan(), 'node', 'out.two.test')).toBe('answer front.one.test 203.0.113.9');
    expect(brief(plan(), 'pod', 'www.one.test')).toBe('answer app.two.test 10.9.0.9');
  });

  test('below a DNAME every name is an alias, made for it (RFC 6672 3.1); the name itself is none', () => {
    const plan = world(
      add('zones', open('one.test')),
      add('records', record(1, 'old', 'DNAME', 'new.one.test'), record(1, 'a.new', 'A', '203.0.113.9')),
    );
    expect(brief(plan, 'internet', 'a.old.one.test')).toBe('answer a.new.one.test 203.0.113.9');
    expect(brief(plan, 'internet', 'b.old.one.test')).toBe('no name b.new.one.test');
    expect(brief(plan, 'internet', 'old.one.test')).toBe('no data');
  });
});

test('a search list goes on after a domain that the plan does not hold: 10 queries, two for each of five names (resolv.conf(5))', () => {
  const plan = applied(world(add('zones', open('one.test')), add('records', record(1, 'www', 'A', '203.0.113.9'))), [
    setOperation('clusters', K, { searchList: ['nodes.provider.example'] }),
  ]);
  const found = said(plan, 'pod', 'www.one.test');
  expect([found.outcome, found.sent, found.tried.length]).toEqual(['answer', 10, 5]);
  // What nobody knows is not said to be missing.
  expect(said(plan, 'pod', 'nope.else.where').outcome).toBe('outside');
});

describe('names of a cluster, to the label (DNS for services of the Kubernetes API, 1.1)', () => {
  const db = workload('db', { objectKind: 'StatefulSet', ports: ['sql tcp 5432'] });
  const plan = world(
    add(
      'workloads',
      db,
      workload('web', { ports: ['http tcp 8080'] }),
      workload('none', { replicasNow: 0, replicasHorizon: 0 }),
    ),
    add(
      'services',
      service('db', { type: 'headless', selector: ['app=db'], ports: ['sql tcp 3306 to sql'] }),
      service('other', { type: 'headless', selector: ['app=web'] }),
      service('empty', { type: 'headless', selector: ['app=none'] }),
      service('web', { selector: ['app=web'], address: '10.96.0.9' }),
      service('ext', { type: 'ExternalName', externalName: 'www.one.test.' }),
    ),
    add('zones', open('one.test')),
    add('records', record(1, 'www', 'A', '203.0.113.9')),
  );
  const at = (name: string) => `${name}.shop.svc.cluster.local.`;
  test.each([
    // A pod has its host name below the services that select it, and below no other.
    ['db-0.db', 'A', 'answer the pod db-0'],
    ['db-2.db', 'A', 'no name'],
    ['db-0.other', 'A', 'no name'],
    // One address for each pod; a headless service without pods has no name.
    ['db', 'A', 'answer the pod db-0 the pod db-1'],
    ['empty', 'A', 'no name'],
    // SRV: the pods, at the port that they listen on.
    [
      '_sql._tcp.db',
      'SRV',
      'answer 0 100 5432 db-0.db.shop.svc.cluster.local 0 100 5432 db-1.db.shop.svc.cluster.local',
    ],
    ['_web._tcp.web', 'SRV', 'answer 0 100 80 web.shop.svc.cluster.local'],
    // Between them a name exists without records (RFC 8020 2); below them none does.
    ['_tcp.web', 'A', 'no data'],
    ['_udp.web', 'A', 'no name'],
    ['x._web._tcp.web', 'SRV', 'no name'],
    ['x.db-0.db', 'A', 'no name'],
    ['x.web', 'A', 'no name'],
    // A final dot of an external name is none of its letters.
    ['ext', 'A', 'answer www.one.test 203.0.113.9'],
  ] as const)('%s %s: %s', (name, type, answer) => {
    expect(brief(plan, 'pod', at(name), type)).toBe(answer);
  });

  test('the address of a service has its name as PTR; of addresses that are not decided nothing is said', () => {
    const ptr = (plan_: Plan, address: string) =>
      brief(plan_, 'pod', `${address.split('.').reverse().join('.')}.in-addr.arpa.`, 'PTR');
    const decided = applied(plan, [setOperation('services', testId('services', 4), { address: '10.96.0.9' })]);
    expect(ptr(decided, '10.96.0.9')).toBe('answer web.shop.svc.cluster.local');
    expect(ptr(decided, '10.96.0.10')).toBe('no name');
    const undecided = applied(plan, [setOperation('services', testId('services', 4), { address: null })]);
    expect(ptr(undecided, '10.96.0.10')).toBe('outside');
  });

  test('external names in a circle end in words, at once', () => {
    const loop = world(
      add(
        'services',
        service('r', { type: 'ExternalName', externalName: 's.shop.svc.cluster.local' }),
        service('s', { type: 'ExternalName', externalName: 'r.shop.svc.cluster.local' }),
      ),
    );
    const { outcome, why } = said(loop, 'pod', at('r'));
    expect([outcome, why.code]).toEqual(['failure', 'aliases']);
  });
});

describe('delegations need an address of a server (RFC 1034 4.2.1)', () => {
  const delegated = (server: string, ...more: Partial<DnsRecord>[]) =>
    world(
      add('zones', open('one.test'), open('sub.one.test')),
      add('records', record(1, 'sub', 'NS', server), record(2, 'a', 'A', '203.0.113.7'), ...more),
    );
  test('from the internet: glue for servers below the cut, a name that is found for others', () => {
    expect(brief(delegated('ns.sub.one.test'), 'internet', 'a.sub.one.test')).toBe('failure');
    const glue = record(1, 'ns.sub', 'A', '203.0.113.53');
    expect(brief(delegated('ns.sub.one.test', glue), 'internet', 'a.sub.one.test')).toBe('answer 203.0.113.7');
    const six = record(1, 'ns.sub', 'AAAA', '2001:db8::53');
    expect(brief(delegated('ns.sub.one.test', six), 'internet', 'a.sub.one.test')).toBe('answer 203.0.113.7');
    expect(brief(delegated('ns.one.test'), 'internet', 'a.sub.one.test')).toBe('failure');
    const beside = record(1, 'ns', 'A', '203.0.113.53');
    expect(brief(delegated('ns.one.test', beside), 'internet', 'a.sub.one.test')).toBe('answer 203.0.113.7');
    // Of a server elsewhere the plan knows nothing against it.
    expect(brief(delegated('ns.else.where'), 'internet', 'a.sub.one.test')).toBe('answer 203.0.113.7');
  });

  test('inside a network: by the address that another attached zone has, IPv6 too', () => {
    const inside = (server: string, ...more: Partial<DnsRecord>[]) =>
      world(
        add('zones', zone('one.test'), zone('two.test'), zone('sub.one.test', { networkIds: [] })),
        add('records', record(1, 'sub', 'NS', server), record(3, 'a', 'A', '10.9.0.7'), ...more),
      );
    expect(said(inside('ns.two.test'), 'node', 'a.sub.one.test').outcome).toBe('failure');
    // The address is found; who answers there the plan does not say.
    const known = inside('ns.two.test', record(2, 'ns', 'A', '10.1.0.53'));
    expect(said(known, 'node', 'a.sub.one.test').outcome).toBe('outside');
  });
});

test('reserved names do not exist on the internet (RFC 6761 6.4, RFC 6303 4)', () => {
  for (const name of ['x.invalid', '9.0.1.10.in-addr.arpa', '1.0.168.192.in-addr.arpa', '1.0.31.172.in-addr.arpa'])
    expect([name, brief(world(), 'internet', name, name.includes('arpa') ? 'PTR' : 'A')]).toEqual([name, 'no name']);
  expect(brief(world(), 'internet', '1.0.32.172.in-addr.arpa', 'PTR')).toBe('outside');
});

test('what is saved is saved of what the cluster has: behind caches on the nodes no saving is below nothing', () => {
  const plan = (hasNodeCache: boolean) =>
    applied(
      world(
        add('zones', open('one.test')),
        add('records', record(1, 'www', 'A', '203.0.113.9')),
        add('workloads', workload('web', { callsTo: ['www.one.test'], lookUps: 50, dnsCache: 'none' })),
      ),
      [setOperation('clusters', K, { hasNodeCache })],
    );
  const rates = (of: Plan) => {
    const [own] = of.clusters;
    if (own === undefined) throw new Error('no cluster');
    const { cases } = queryLoad(NameState.of(of), own, { nodes: 4, cores: 16 });
    return Object.fromEntries(cases.map(({ saving, perSecond }) => [saving, perSecond]));
  };
  const [bare, cached] = [rates(plan(false)), rates(plan(true))];
  expect(bare['as it is']).toBeGreaterThan(bare['final dots'] ?? 0);
  expect(cached['as it is']).toBe(cached['per-node cache']);
  expect(cached['final dots']).toBeLessThanOrEqual(cached['as it is'] ?? 0);
  expect(cached['ndots 2']).toBeLessThanOrEqual(cached['as it is'] ?? 0);
});

test('a cut-over counts who calls an alias of the moved name, and not who asks for what nobody delegates', () => {
  const plan = (isDelegated: boolean) =>
    world(
      add('zones', open('one.test', { isDelegated })),
      add('records', record(1, 'www', 'A', '203.0.113.9'), record(1, 'shop', 'CNAME', 'www.one.test')),
      add('workloads', workload('web', { callsTo: ['shop.one.test'], dnsCache: 'until restart' })),
    );
  const { clients, steps } = cutOver(NameState.of(plan(true)), '203.0.113.9', 60);
  expect(clients.map(({ who }) => who)).toEqual(
    expect.arrayContaining([
      'shop/web of k',
      'Clients of shop.one.test on the internet',
      'Clients of www.one.test on the internet',
    ]),
  );
  expect(steps.map(({ step }) => step)).toContainEqual({ do: 'restart', who: ['shop/web of k'] });
  expect(cutOver(NameState.of(plan(false)), '203.0.113.9', 60).clients).toEqual([]);
});

test('a name with IPv6 addresses alone is answered at every vantage', () => {
  const plan = world(add('zones', open('one.test')), add('records', record(1, 'six', 'AAAA', '2001:db8::9')));
  const state = NameState.of(plan);
  const { answers } = rowOf(state, vantagesOf(state), 'six.one.test');
  expect([...answers.values()].map(({ text: text }) => text)).toEqual(['2001:db8::9', '2001:db8::9']);
});

test('a critical property that is not understood forbids issuance (RFC 8659 4.1)', () => {
  const plan = (value: string) =>
    NameState.of(world(add('zones', open('one.test')), add('records', record(1, '@', 'CAA', value))));
  expect(caaOf(plan('128 future "x"'), 'www.one.test')).toEqual({ at: 'one.test', issuers: [] });
  expect(caaOf(plan('0 future "x"'), 'www.one.test').at).toBeUndefined();
  expect(caaOf(plan('128 issue "ca.test"'), 'www.one.test').issuers).toEqual(['ca.test']);
});

describe('zone files', () => {
  const lines = [
    '$ORIGIN one.test.',
    '@ 3600 IN SOA ns.one.test. hands.one.test. 4000000000 3600 600 604800 300',
    '@ 3600 IN NS ns.one.test.',
    'ns 3600 IN A 203.0.113.53',
    'web 3600 IN HTTPS 1 . alpn="h2,h3" port=8443',
    'alias 3600 IN SVCB 0 svc.one.test.',
    'old 3600 IN DNAME new.one.test.',
    'sub 3600 IN DS 60485 13 2 2BB183AF5F22588179A53B0A98631FAD1A292118',
    'e164 3600 IN NAPTR 100 10 "u" "E2U+sip" "!^.*$!sip:info@one.test!" .',
    'host 3600 IN SSHFP 4 2 123456789ABCDEF67890123456789ABCDEF67890123456789ABCDEF123456789',
    'box 3600 IN HINFO "ARM" "LINUX"',
    'odd 3600 IN TYPE65280 \\# 4 0A000001',
    `key 3600 IN TXT "${'k'.repeat(255)}" "${'e'.repeat(255)}" "${'y'.repeat(250)}"`,
  ];
  const empty = world(add('zones', open('one.test', { nameServers: ['ns.one.test'] })));
  const read = (plan: Plan, text: string) => {
    const [own] = plan.zones;
    if (own === undefined) throw new Error('no zone');
    return importZone(plan, own, text);
  };
  const taken = (plan: Plan, text: string): Plan => {
    const { operations, removals } = read(plan, text);
    const done = applyOperations(plan, [...operations, ...removals]);
    if (!done.ok) throw new Error(done.problems.map(({ message }) => message).join());
    return done.plan;
  };
  const written = (plan: Plan) => {
    const [own] = plan.zones;
    if (own === undefined) throw new Error('no zone');
    return zoneText(NameState.of(plan), own);
  };

  test('every type that is held is written back as it was read, and read again nothing changes', () => {
    const text = lines.join('\n');
    expect(read(empty, text).problems).toEqual([]);
    const plan = taken(empty, text);
    const again = read(plan, written(plan));
    expect([again.problems, again.added, again.changed, again.removed]).toEqual([[], 0, 0, 0]);
    // Record by record, however they are spaced: what the file said is what the plan writes.
    const key = ({ name, type, ttl, value }: ReturnType<typeof readZoneFile>['records'][number]) =>
      `${name} ${ttl} ${type} ${value}`;
    expect(readZoneFile(written(plan), 'one.test').records.map(key).sort()).toEqual(
      readZoneFile(text, 'one.test').records.map(key).sort(),
    );
    expect(plan.zones[0]?.serial).toBe(4_000_000_000);
  });

  test('a type by its number that has a form of its own is told, and so is one whose octets do not fit', () => {
    for (const line of ['a IN TYPE1 \\# 4 0A000001', 'a IN TYPE65280 \\# 3 0A000001', 'a IN TYPE70000 \\# 0'])
      expect([line, read(empty, `$ORIGIN one.test.\n${line}`).problems.length]).toEqual([line, 1]);
  });

  test('a record keeps the TTL that it has, whatever the default of the zone becomes', () => {
    const before = applied(empty, add('records', record(1, 'www', 'A', '203.0.113.9')));
    expect(before.zones[0]?.ttl).toBe(3600);
    const text = [
      '@ 600 IN SOA ns.one.test. hostmaster.one.test. 1 3600 600 604800 300',
      '@ 600 IN NS ns.one.test.',
      'www 3600 IN A 203.0.113.9',
    ].join('\n');
    const after = taken(before, `$ORIGIN one.test.\n${text}`);
    expect(brief(after, 'internet', 'www.one.test')).toBe('answer 203.0.113.9');
    expect(said(after, 'internet', 'www.one.test').ttl).toBe(3600);
  });

  test('a line that is broken is told and not taken', () => {
    const { records, problems } = readZoneFile(
      '$ORIGIN one.test.\nback 60 IN TXT ends\\\nwww 60 IN A 203.0.113.9',
      'one.test',
    );
    expect([records.map(({ name }) => name), problems.length]).toEqual([['www.one.test'], 1]);
  });

  test('a server at the apex that the zone names as well stays when its record is removed', () => {
    const before = applied(empty, add('records', record(1, '@', 'NS', 'ns.one.test')));
    const first = NameState.of(before);
    const [own] = before.zones;
    if (own === undefined) throw new Error('no zone');
    first.treeOf(own);
    const after = applied(before, [{ op: 'remove', kind: 'records', id: testId('records', 1) }]);
    expect(NameState.of(after, first).treeOf(own).setAt('one.test', 'NS').length).toBe(1);
  });
});

// DNS specification for services of the Kubernetes API 1.1: records of pods that are ready, or of all where the service publishes those, too.
describe('pods that are not ready, and endpoints by hand, in the names of a headless service', () => {
  const plan = (notReady: number, fields: Partial<ClusterService> = {}) =>
    world(
      add('workloads', workload('db', { objectKind: 'StatefulSet', replicasNow: 3, notReady })),
      add('services', service('db', { type: 'headless', selector: ['app=db'], ...fields })),
    );
  const at = (of: Plan, name: string, type: RecordType = 'A') => {
    const { outcome, records } = said(of, 'pod', name, type);
    return [outcome, records.length];
  };
  const name = 'db.shop.svc.cluster.local.';
  test('only those that are ready have a record, unless all are published', () => {
    expect(at(plan(1), name)).toEqual(['answer', 2]);
    expect(at(plan(1, { publishNotReady: true }), name)).toEqual(['answer', 3]);
    expect(at(plan(3), name)[0]).toBe('no name');
    // A StatefulSet starts its pods in order: the last is the one that is not ready.
    expect(at(plan(1), `db-1.${name}`)[0]).toBe('answer');
    expect(at(plan(1), `db-2.${name}`)[0]).toBe('no name');
  });
  test('endpoints that were written by hand are its addresses, by their family', () => {
    const manual = plan(0, { selector: [], endpoints: ['10.2.0.5', '10.2.0.6', 'fd00::5'] });
    expect(at(manual, name)).toEqual(['answer', 2]);
    expect(at(manual, name, 'AAAA')).toEqual(['answer', 1]);
    expect(at(manual, name, 'MX')[0]).toBe('no data');
  });
});

describe('the servers of a zone in its file', () => {
  const file = (ttl: string) =>
    [
      '$ORIGIN one.test.',
      '$TTL 600',
      '@ SOA ns1.one.test. hands.one.test. 7 3600 600 604800 300',
      `@ ${ttl} NS ns1.one.test.`,
      'ns1 A 192.0.2.1',
      '',
    ].join('\n');
  const taken = (plan: Plan, text: string) => {
    const [own] = plan.zones as [Zone];
    const { operations, problems } = importZone(plan, own, text);
    expect(problems).toEqual([]);
    return applied(plan, [...operations]);
  };
  const written = (plan: Plan) => readZoneFile(zoneText(NameState.of(plan), plan.zones[0] as Zone), 'one.test').records;
  test('keep a TTL of their own, and lose it where the file does (RFC 2181 5.2: one TTL for each set of records)', () => {
    const plan = taken(world(add('zones', open('one.test'))), file('86400'));
    expect(plan.zones).toMatchObject([{ ttl: 600, serverTtl: 86_400 }]);
    expect(
      written(plan)
        .filter(({ type }) => type === 'NS')
        .map(({ ttl }) => ttl),
    ).toEqual([86_400]);
    expect(importZone(plan, plan.zones[0] as Zone, file('86400'))).toMatchObject({ operations: [], removals: [] });
    expect(taken(plan, file('')).zones).toMatchObject([{ serverTtl: null }]);
  });
  test('are those that records name, where the zone itself names none', () => {
    const plan = world(add('zones', open('one.test')), add('records', record(1, '@', 'NS', 'ns9.two.test')));
    const ends = written(plan).filter(({ type }) => type === 'NS' || type === 'SOA');
    expect(ends.map(({ type, value }) => `${type} ${value.split(' ')[0] ?? ''}`)).toEqual([
      'SOA ns9.two.test',
      'NS ns9.two.test',
    ]);
  });
});

// RFC 1035 3.3.13: secondaries fetch a zone anew when its serial has grown.
describe('the serial of a zone grows with the file that is written after a change', () => {
  const plan = world(add('zones', open('one.test', { serial: 7 })), add('records', record(1, 'www', 'A', '192.0.2.1')));
  const out = (of: Plan) => handOut(NameState.of(of), of.zones[0] as Zone, '2026-12-01');
  const serialIn = (text: string) =>
    readZoneFile(text, 'one.test')
      .records.find(({ type }) => type === 'SOA')
      ?.value.split(' ')[2];
  const kept = (of: Plan) => applied(of, [setOperation('zones', testId('zones', 1), out(of).fields)]);
  test('once, and again only when the zone holds something else', () => {
    expect([out(plan).fields.serial, serialIn(out(plan).text)]).toEqual([2_026_120_100, '2026120100']);
    const handed = kept(plan);
    expect([out(handed).fields, serialIn(out(handed).text)]).toEqual([{}, '2026120100']);
    const edited = applied(handed, [setOperation('records', testId('records', 1), { value: '192.0.2.2' })]);
    expect([out(edited).fields.serial, serialIn(out(edited).text)]).toEqual([2_026_120_101, '2026120101']);
    // Taken back before it was handed out, it is what the servers have.
    const back = applied(edited, [setOperation('records', testId('records', 1), { value: '192.0.2.1' })]);
    expect(out(back).fields).toEqual({});
    expect(out(applied(handed, [setOperation('zones', testId('zones', 1), { minimum: 60 })])).fields.serial).toBe(
      2_026_120_101,
    );
  });
  test('a file that was read is what its servers have: written as it is it keeps its serial', () => {
    const text = out(kept(plan)).text.replace('192.0.2.1', '192.0.2.9');
    const own = plan.zones[0] as Zone;
    const read = importZone(plan, own, text);
    const taken = applied(plan, [...read.operations, ...read.removals, ...read.remembers]);
    expect(serialIn(out(taken).text)).toBe('2026120100');
    expect(out(taken).fields).toEqual({});
    // With a record that the file lacks left in it, the zone is not what its servers have.
    const fuller = applied(plan, [...read.operations, ...read.remembers]);
    expect(out(fuller).fields.serial).toBe(2_026_120_101);
  });
});
