import { add, applied, cluster, ground, pool, testId } from '../../test/worlds.js';
import { behindNat, joined, served } from '../../test/connections.js';
import { hubWorld } from '../../test/ways.js';
import { mendConnection } from '../crosscluster/index.js';
import { demoPlan } from '../demo/index.js';
import { propose } from '../allocation/index.js';
import { evaluate } from '../evaluation/index.js';
import { setOperation } from '../plan/index.js';
import type {
  Plan,
  Allocation,
  Backend,
  Certificate,
  Cluster,
  DnsRecord,
  FilterRule,
  ForwardingRule,
  Gateway,
  IngressRoute,
  Member,
  Network,
  Operation,
  Profile,
  Route,
  ServiceExport,
  Zone,
} from '../plan/index.js';
import { findingTitles } from '../english/index.js';
import type { FactCode } from '../english/index.js';
import { factCodes } from '../english/findings/table.js';

const range = (purpose: Allocation['purpose'], prefix: string, zone = ''): Operation[] =>
  add('allocations', { clusterId: testId('clusters', 1), purpose, zone, prefix, isPinned: false });
const world = (fields: Partial<Cluster>, ...more: Operation[][]) =>
  applied(ground(1), [
    ...add('pools', pool('all', '10.0.0.0/8')),
    ...add('clusters', cluster('c', fields)),
    ...more.flat(),
  ]);
const found = (plan: Parameters<typeof evaluate>[0]) =>
  evaluate(plan)
    .findingsInWords()
    .map(({ code, severity }) => `${severity} ${code}`);

/** A cluster with routed pods, a load balancer, a controller that it feeds, and a workload behind a service; `more` is what is wrong. */
const entryPoints = (...more: Operation[][]) =>
  applied(world({ podMode: 'routed' }), [
    ...range('node', '10.9.0.0/24'),
    ...add('allocations', {
      id: testId('allocations', 2),
      clusterId: testId('clusters', 1),
      purpose: 'pod',
      prefix: '10.10.0.0/20',
    }),
    ...add('subnets', {
      name: 'front',
      networkId: testId('networks', 1),
      siteId: testId('sites', 1),
      purpose: 'entry',
      prefix: '10.8.0.0/24',
    }),
    ...add(
      'workloads',
      inCluster({ name: 'w', labels: ['app=w'], ports: ['http tcp 8080'], replicasNow: 3, replicasHorizon: 3 }),
    ),
    ...add(
      'services',
      inCluster({ name: 's', type: 'NodePort' as const, selector: ['app=w'], ports: ['tcp 80 to http node 30080'] }),
    ),
    ...add('balancers', {
      name: 'front',
      subnetId: testId('subnets', 1),
      side: 'public',
      address: '203.0.113.9',
      layer: '7',
    }),
    ...add('backends', {
      name: 'nodes',
      balancerId: testId('balancers', 1),
      members: 'nodes',
      serviceId: testId('services', 1),
      port: 80,
    }),
    ...add('listeners', {
      name: 'plain',
      balancerId: testId('balancers', 1),
      protocol: 'http',
      port: 80,
      backendId: testId('backends', 1),
    }),
    ...add('controllers', {
      name: 'k',
      clusterId: testId('clusters', 1),
      classes: ['edge'],
      serviceId: testId('services', 1),
      balancerId: testId('balancers', 1),
    }),
    ...more.flat(),
  ]);
const inCluster = <F extends object>(fields: F) => ({ clusterId: testId('clusters', 1), namespace: 'web', ...fields });
const routed = (...all: Partial<IngressRoute>[]): Operation[] =>
  add(
    'ingressRoutes',
    ...all.map((fields) =>
      inCluster({ name: 'r', className: 'edge', hosts: ['a.example'], backends: ['s 80'], ...fields }),
    ),
  );
const gateway = (fields: Partial<Gateway> = {}): Operation[] =>
  add('gateways', inCluster({ name: 'g', className: 'edge', listeners: ['web https 443 *.a.example'], ...fields }));
const attached: Partial<IngressRoute> = {
  objectKind: 'HTTPRoute',
  className: '',
  gatewayId: testId('gateways', 1),
  hosts: ['x.a.example'],
};
const onBackend = (fields: Partial<Backend>) => [setOperation('backends', testId('backends', 1), fields)];

/** A public zone, a private one in the first network and two records of the public one; `more` is what is wrong. */
const names = (...more: Operation[][]) =>
  entryPoints(
    add(
      'zones',
      { name: 'public', apex: 'one.test', side: 'public', nameServers: ['ns.one.test'] },
      {
        name: 'inside',
        apex: 'in.test',
        side: 'private',
        networkIds: [testId('networks', 1)],
        nameServers: ['ns.in.test'],
      },
    ),
    add(
      'records',
      { zoneId: testId('zones', 1), name: 'www', type: 'A', value: '203.0.113.9' },
      { zoneId: testId('zones', 1), name: 'ns', type: 'A', value: '203.0.113.9' },
    ),
    ...more,
  );
const named = (
  name: string,
  type: DnsRecord['type'],
  value: string,
  fields: Partial<DnsRecord> = {},
  n = 9,
): Operation[] =>
  add('records', { id: testId('records', n), zoneId: testId('zones', 1), name, type, value, ...fields });
const secondZone = (fields: Partial<Zone>): Operation[] =>
  add('zones', { id: testId('zones', 3), name: 'third', apex: 'third.test', ...fields });
const keeping = (...marks: string[]): Operation[] =>
  add(
    'recordControllers',
    ...marks.map((ownerMark, i) => ({ name: `k${i}`, clusterId: testId('clusters', 1), ownerMark })),
  );
const asking = (...all: { addresses: string[]; role?: 'inbound' | 'outbound' | 'both' }[]): Operation[] =>
  add('resolvers', ...all.map((fields, i) => ({ name: `r${i}`, networkId: testId('networks', 1), ...fields })));
const sending = (...all: Partial<ForwardingRule>[]): Operation[] =>
  add(
    'forwardingRules',
    ...all.map((fields, i) => ({
      name: `f${i}`,
      domain: 'far.test',
      networkIds: [testId('networks', 1)],
      targets: ['10.8.0.53'],
      ...fields,
    })),
  );
const certified = (fields: Partial<Certificate>): Operation[] =>
  add('certificates', { name: 'cert', names: ['www.one.test'], validFrom: '2026-11-01', ...fields });
const selfRun: Operation[] = [
  setOperation('clusters', testId('clusters', 1), { controlPlane: 'self-run', baseDomain: 'in.test' }),
];

// One plan for each finding, in which it must come up.
const cases: Record<string, { severity: string; plan: Parameters<typeof evaluate>[0] }> = {
  'name.unanswered': { severity: 'error', plan: names(routed({ hosts: ['gone.one.test'] })) },
  'name.elsewhere': {
    severity: 'error',
    plan: names(named('shop', 'A', '203.0.113.77', { target: 'elsewhere' }), routed({ hosts: ['shop.one.test'] })),
  },
  'name.nobody': { severity: 'error', plan: names(named('x', 'A', '10.200.0.9')) },
  'name.self-run': { severity: 'error', plan: names(selfRun) },
  'name.too-long': {
    severity: 'error',
    plan: names(selfRun, [setOperation('clusters', testId('clusters', 1), { name: 'c'.repeat(70) })]),
  },
  'record.alias-apex': { severity: 'error', plan: names(named('@', 'CNAME', 'www.one.test')) },
  'record.alias-beside': {
    severity: 'error',
    plan: names(named('x', 'CNAME', 'www.one.test'), named('x', 'TXT', 't', {}, 10)),
  },
  'record.chain': {
    severity: 'error',
    plan: names(named('x', 'CNAME', 'y.one.test'), named('y', 'CNAME', 'x.one.test', {}, 10)),
  },
  'record.dangling': { severity: 'error', plan: names(named('x', 'A', '203.0.113.200')) },
  // RFC 2181 10.3: the data of MX and NS records must not be aliases.
  'record.target-alias': {
    severity: 'warning',
    plan: names(named('@', 'MX', '10 mail.one.test'), named('mail', 'CNAME', 'www.one.test', {}, 10)),
  },
  'record.target-missing': { severity: 'warning', plan: names(named('@', 'MX', '10 mail.one.test')) },
  'record.ttl': {
    severity: 'warning',
    plan: names([setOperation('zones', testId('zones', 1), { cutOverTarget: 600 })]),
  },
  'record.wildcard': { severity: 'note', plan: names(named('*', 'A', '203.0.113.9'), named('x', 'TXT', 't', {}, 10)) },
  'zone.delegation': { severity: 'error', plan: names(secondZone({ side: 'public', apex: 'sub.one.test' })) },
  'zone.glue': {
    severity: 'error',
    plan: names(
      secondZone({ side: 'public', apex: 'sub.one.test', nameServers: ['ns.sub.one.test'] }),
      named('sub', 'NS', 'ns.sub.one.test'),
    ),
  },
  'zone.not-attached': { severity: 'warning', plan: names(secondZone({ side: 'private' })) },
  'zone.overlap': {
    severity: 'error',
    plan: names(secondZone({ side: 'private', apex: 'in.test', networkIds: [testId('networks', 1)] })),
  },
  'zone.hides': {
    severity: 'note',
    plan: names(
      secondZone({
        side: 'private',
        apex: 'one.test',
        nameServers: ['ns.else.example'],
        networkIds: [testId('networks', 1)],
      }),
    ),
  },
  'record.wildcard-hides': {
    severity: 'warning',
    plan: names(
      secondZone({
        side: 'private',
        apex: 'one.test',
        nameServers: ['ns.else.example'],
        networkIds: [testId('networks', 1)],
      }),
      named('*', 'A', '203.0.113.9', { zoneId: testId('zones', 3) }),
    ),
  },
  'record-controller.one-mark': { severity: 'error', plan: names(keeping('m', 'm')) },
  'record-controller.no-mark': { severity: 'error', plan: names(keeping('', 'm')) },
  'resolver.unreached': { severity: 'error', plan: names(sending({ targets: ['10.77.0.1'] })) },
  'resolver.silent': {
    severity: 'error',
    plan: names(asking({ addresses: ['10.8.0.53'], role: 'outbound' }), sending({})),
  },
  'resolver.twice': {
    severity: 'error',
    plan: names(asking({ addresses: ['10.8.0.53'] }, { addresses: ['10.8.0.53'] })),
  },
  'forward.loop': { severity: 'error', plan: names(asking({ addresses: ['10.8.0.53'] }), sending({})) },
  'forward.twice': { severity: 'error', plan: names(sending({}, {})) },
  'search.many': {
    severity: 'note',
    plan: names([setOperation('workloads', testId('workloads', 1), { callsTo: ['pay.else.example'] })]),
  },
  'certificate.expired': {
    severity: 'error',
    plan: names(certified({ validFrom: '2020-01-01', validDays: 90, renewsItself: false })),
  },
  'certificate.renewal': { severity: 'error', plan: names(certified({ renewDays: 0 })) },
  'certificate.caa': {
    severity: 'error',
    plan: names(named('@', 'CAA', '0 issue "other.example"'), certified({ issuerDomain: 'ca.example' })),
  },
  'certificate.shared': {
    severity: 'warning',
    plan: names(
      certified({ clusterId: testId('clusters', 1), namespace: 'web' }),
      routed(
        { certificate: 'cert', hosts: ['www.one.test'] },
        { name: 'r2', certificate: 'cert', hosts: ['b.one.test'] },
      ),
    ),
  },
  'range.missing': { severity: 'warning', plan: world({}) },
  'range.too-small': { severity: 'error', plan: world({}, range('pod', '10.0.0.0/24')) },
  'range.stray': { severity: 'warning', plan: world({}, range('node', '10.0.0.0/24', 'gone')) },
  'range.outside-pools': { severity: 'note', plan: world({}, range('node', '172.16.0.0/24')) },
  'per-node.too-small': { severity: 'error', plan: world({ perNodeLength: 26, podsPerNode: 110 }) },
  'routes.over-limit': { severity: 'error', plan: world({ podMode: 'routed', nodesHorizon: 1001 }) },
  'service.too-large': { severity: 'error', plan: world({}, range('service', '10.0.0.0/11')) },
  'pod.node-part-too-wide': {
    severity: 'error',
    plan: world({ podsPerNode: 8, nodesHorizon: 5 }, range('pod', '10.0.0.0/11')),
  },
  'space.unroutable': { severity: 'error', plan: world({}, range('node', '169.254.0.0/24')) },
  'space.documentation': { severity: 'note', plan: world({}, range('node', '192.0.2.0/24')) },
  'space.public': { severity: 'warning', plan: world({}, range('node', '11.0.0.0/24')) },
  'space.widely-used': {
    severity: 'note',
    plan: applied(world({}, range('service', '10.96.0.0/16')), [
      { op: 'set', kind: 'settings', fields: { expectsMergers: true } },
    ]),
  },
  'pool.overlap': {
    severity: 'warning',
    plan: applied(ground(1), add('pools', pool('a', '10.0.0.0/8'), pool('b', '10.1.0.0/16'))),
  },
  'overlap.conflict': {
    severity: 'error',
    plan: world(
      {},
      range('node', '10.0.0.0/24'),
      add('inUse', { prefix: '10.0.0.0/25', owner: 'x', networkId: testId('networks', 1), note: '' }),
    ),
  },
  'overlap.shadowed': {
    severity: 'error',
    plan: world(
      {},
      range('service', '10.0.0.0/20'),
      add('inUse', { prefix: '10.0.0.0/25', owner: 'x', networkId: testId('networks', 1), note: '' }),
    ),
  },
  'overlap.hidden': {
    severity: 'warning',
    plan: applied(world({}, range('node', '10.0.0.0/24')), [
      ...add('networks', {}, { name: 'premises' }).slice(1),
      ...add('links', { name: 'c', kind: 'circuit', networkIds: [testId('networks', 1), testId('networks', 2)] }),
      ...add('attachments', {
        linkId: testId('links', 1),
        networkId: testId('networks', 2),
        advertises: ['10.0.0.0/8'],
      }),
    ]),
  },
  'range.purpose': {
    severity: 'warning',
    plan: applied(world({}, range('node', '10.0.0.0/24')), [
      ...add('subnets', {
        name: 's',
        networkId: testId('networks', 1),
        siteId: testId('sites', 1),
        purpose: 'pod',
        prefix: '10.0.0.0/20',
      }),
    ]),
  },
  'overlap.reuse': {
    severity: 'note',
    plan: world(
      {},
      range('node', '10.0.0.0/24'),
      add('inUse', { prefix: '10.0.0.0/25', owner: 'x', networkId: null, note: '' }),
    ),
  },
};

// A network with a node subnet, an edge subnet for devices, and one more network beside it on a hub.
const inNetwork = (n: number) => ({ networkId: testId('networks', n), siteId: testId('sites', 1) });
const ways = (fields: Partial<Cluster>, ...more: Operation[][]) =>
  applied(
    applied(ground(2), [
      ...add('pools', pool('all', '10.0.0.0/8')),
      ...add('clusters', cluster('c', fields)),
      ...range('node', '10.0.0.0/24'),
      ...add('subnets', {
        name: 'edge',
        ...inNetwork(1),
        purpose: 'other',
        prefix: '10.9.0.0/24',
        isPublic: true,
        internetEgress: 'direct',
      }),
      ...add('links', { name: 'hub', kind: 'hub', networkIds: [testId('networks', 1), testId('networks', 2)] }),
      ...add('routeTables', { name: 'main', networkId: testId('networks', 1), isMain: true }),
    ]),
    more.flat(),
  );
const egress = (decision: Network['internetEgress']) => [
  setOperation('networks', testId('networks', 1), { internetEgress: decision }),
];
const to = (nextHop: Route['nextHop'], fields: Partial<Route> = {}): Operation[] =>
  add('routes', { routeTableId: testId('routeTables', 1), prefix: '0.0.0.0/0', nextHop, ...fields });
const device = (...publicAddresses: string[]): Operation[] =>
  add('natDevices', { name: 'nat', subnetId: testId('subnets', 1), publicAddresses });
const zonal = [setOperation('sites', testId('sites', 1), { zones: ['a', 'b'] })];
const fence = (...rules: Partial<FilterRule>[]): Operation[] => [
  ...add('filters', { name: 'fence', clusterIds: [testId('clusters', 1)], defaultOut: 'allow' }),
  ...add(
    'filterRules',
    ...rules.map((rule, i) => ({
      filterId: testId('filters', 1),
      direction: 'in' as const,
      position: 10 * (i + 1),
      ...rule,
    })),
  ),
];

Object.assign(cases, {
  // No default route: nodes that are to leave by NAT do not.
  'egress.none': { severity: 'error', plan: ways({}, egress('one nat')) },
  'need.unreached': {
    severity: 'error',
    plan: ways({}, add('needs', { name: 'registry', prefixes: ['198.51.100.0/25'], ports: ['443'] })),
  },
  'expectation.broken': {
    severity: 'error',
    plan: ways({}, add('expectations', { name: 'out', from: 'node of c', to: 'the internet tcp 443' })),
  },
  'expectation.unreadable': {
    severity: 'error',
    plan: ways({}, add('expectations', { name: 'out', from: 'node of gone', to: 'the internet tcp 443' })),
  },
  'nat.no-address': { severity: 'note', plan: ways({}, device()) },
  'nat.other-zone': {
    severity: 'warning',
    plan: ways({}, zonal, [
      setOperation('subnets', testId('subnets', 1), { zone: 'a' }),
      setOperation('routeTables', testId('routeTables', 1), { zone: 'b' }),
      ...device('203.0.113.1'),
      ...to('nat', { natDeviceId: testId('natDevices', 1) }),
    ]),
  },
  // 64 nodes at 1,024 ports each are 65,536, and one address has 64,512.
  'nat.ports': {
    severity: 'warning',
    plan: ways(
      { nodesNow: 64, nodesHorizon: 64 },
      device('203.0.113.1'),
      to('nat', { natDeviceId: testId('natDevices', 1) }),
    ),
  },
  'node.public': {
    severity: 'warning',
    plan: ways(
      {},
      egress('one nat'),
      add('nodePools', {
        clusterId: testId('clusters', 1),
        name: 'p',
        nodesNow: 1,
        nodesMax: 1,
        nodesHorizon: 1,
        isPublic: true,
      }),
    ),
  },
  // The filter opens UDP 4789, and the overlay is Geneve on 6081 (RFC 8926 3.3).
  'opening.missing': {
    severity: 'error',
    plan: ways({ encapsulation: 'geneve' }, [
      ...add('allocations', {
        id: testId('allocations', 2),
        clusterId: testId('clusters', 1),
        purpose: 'pod',
        prefix: '10.1.0.0/16',
      }),
      ...fence({ protocol: 'udp', ports: ['4789'] }),
    ]),
  },
  'route.gone': { severity: 'error', plan: ways({}, to('nat')) },
  // Each network sends its default to the other.
  'route.loop': {
    severity: 'error',
    plan: ways({}, to('link', { linkId: testId('links', 1) }), [
      ...add('routeTables', {}, { name: 'other', networkId: testId('networks', 2), isMain: true }).slice(1),
      ...add(
        'routes',
        {},
        {
          routeTableId: testId('routeTables', 2),
          prefix: '0.0.0.0/0',
          nextHop: 'link' as const,
          linkId: testId('links', 1),
        },
      ).slice(1),
      ...add(
        'attachments',
        { linkId: testId('links', 1), networkId: testId('networks', 1), advertises: ['0.0.0.0/0'] },
        { linkId: testId('links', 1), networkId: testId('networks', 2), advertises: ['0.0.0.0/0'] },
      ),
    ]),
  },
  'route.past-firewall': {
    severity: 'error',
    plan: ways(
      {},
      egress('hub'),
      add('attachments', { linkId: testId('links', 1), networkId: testId('networks', 2), advertises: ['0.0.0.0/0'] }),
    ),
  },
  // The link carries 1,300 of the network's 1,500 bytes, and the filter lets in tcp only.
  'mtu.filtered': {
    severity: 'error',
    plan: applied(ways({}, fence({ ports: ['443'] })), [
      setOperation('links', testId('links', 1), { mtu: 1300 }),
      setOperation('filters', testId('filters', 1), { isStateful: false }),
    ]),
  },
  // Spoke b answers over a peering of its own, past the hub's firewall.
  'path.asymmetric': {
    severity: 'error',
    plan: applied(hubWorld(), [
      ...add(
        'links',
        {},
        { name: 'direct', kind: 'peering', networkIds: [testId('networks', 1), testId('networks', 2)] },
      ).slice(1),
      ...add(
        'attachments',
        {},
        {},
        {},
        { linkId: testId('links', 2), networkId: testId('networks', 1), accepts: 'none' },
      ).slice(3),
    ]),
  },
  'rule.any': { severity: 'warning', plan: ways({}, fence({ protocol: 'any' })) },
  'rule.never': {
    severity: 'warning',
    plan: ways({}, fence({ ports: ['1-1000'] }, { ports: ['443'], peers: ['10.0.0.0/8'] })),
  },
  'rule.repeats': { severity: 'note', plan: ways({}, fence({ ports: ['443'] }, { ports: ['443'] })) },
  'table.over-limit': {
    severity: 'error',
    plan: ways({ podMode: 'routed', nodesNow: 1000, nodesHorizon: 1000 }, [
      ...add('allocations', {
        id: testId('allocations', 2),
        clusterId: testId('clusters', 1),
        purpose: 'pod',
        prefix: '10.4.0.0/14',
      }),
    ]),
  },
} satisfies typeof cases);

// Two nodes of 20 pods each in zones a and b, and a service range of 16 fixed addresses (10.9.0.1 to 10.9.0.16).
const working = (...more: Operation[][]) =>
  applied(
    world({ nodesNow: 2, nodesHorizon: 2, surgePercent: 50, podsPerNode: 20 }, range('service', '10.9.0.0/24'), [
      setOperation('sites', testId('sites', 1), { zones: ['a', 'b'] }),
    ]),
    more.flat(),
  );
const workload = (fields: object) =>
  add('workloads', {
    name: 'w',
    clusterId: testId('clusters', 1),
    labels: ['app=w'],
    replicasNow: 2,
    replicasHorizon: 2,
    ports: ['http tcp 8080'],
    ...fields,
  });
const service = (fields: object) =>
  add('services', {
    name: 's',
    clusterId: testId('clusters', 1),
    selector: ['app=w'],
    ports: ['tcp 80 to http'],
    ...fields,
  });
Object.assign(cases, {
  'service.nobody': { severity: 'warning', plan: working(service({})) },
  'service.no-balancer': { severity: 'warning', plan: working(workload({}), service({ type: 'LoadBalancer' })) },
  'service.closed': { severity: 'error', plan: working(workload({}), service({ ports: ['tcp 80 to 9090'] })) },
  'service.single': {
    severity: 'warning',
    plan: working(workload({ replicasNow: 1 }), service({ type: 'LoadBalancer' })),
  },
  'service.address': { severity: 'error', plan: working(workload({}), service({ address: '10.8.0.2' })) },
  'service.node-port': {
    severity: 'warning',
    plan: working(workload({}), service({ type: 'NodePort', ports: ['tcp 80 to http node 31000'] })),
  },
  // Kubernetes API, DaemonSet v1: one on each node that may run it; the cluster has two.
  'workload.daemon-pods': { severity: 'warning', plan: working(workload({ objectKind: 'DaemonSet', replicasNow: 3 })) },
  'workload.no-room': { severity: 'error', plan: working(workload({ replicasNow: 41 })) },
  // 40 places today, 20 with a zone lost.
  'entry.class': { severity: 'error', plan: entryPoints(routed({ className: 'other' })) },
  'entry.class-twice': {
    severity: 'warning',
    plan: entryPoints(
      add('controllers', {
        id: testId('controllers', 2),
        name: 'k2',
        clusterId: testId('clusters', 1),
        classes: ['edge', 'x'],
      }),
    ),
  },
  'entry.unattached': {
    severity: 'error',
    plan: entryPoints(gateway(), routed({ ...attached, hosts: ['x.b.example'] })),
  },
  'entry.grant': {
    severity: 'error',
    plan: entryPoints(
      add('gateways', inCluster({ name: 'g', className: 'plain', listeners: ['web http 80'] })),
      add('services', inCluster({ id: testId('services', 9), namespace: 'far', name: 'x', ports: ['tcp 80 to http'] })),
      routed({ objectKind: 'HTTPRoute', className: '', gatewayId: testId('gateways', 1), backends: ['far/x 80'] }),
    ),
  },
  'entry.listeners': {
    severity: 'error',
    plan: entryPoints(gateway({ listeners: ['web https 443 *.a.example', 'plain http 443 b.example'] })),
  },
  'entry.two-kinds': {
    severity: 'error',
    plan: entryPoints(
      gateway(),
      routed(
        { ...attached, hosts: ['x.a.example'] },
        { ...attached, name: 'calls', objectKind: 'GRPCRoute', hosts: ['*.a.example'] },
      ),
    ),
  },
  'entry.host': { severity: 'error', plan: entryPoints(routed({ hosts: ['10.1.2.3'] })) },
  'entry.no-service': { severity: 'error', plan: entryPoints(routed({ backends: ['gone 80'] })) },
  'entry.no-port': { severity: 'error', plan: entryPoints(routed({ backends: ['s 81'] })) },
  'entry.certificate': {
    severity: 'error',
    plan: entryPoints(gateway({ certificate: 'x', certificateHosts: ['y.a.example'] }), routed(attached)),
  },
  'entry.pattern': { severity: 'error', plan: entryPoints(routed({ pathType: 'RegularExpression', path: '/([' })) },
  'entry.covered': { severity: 'warning', plan: entryPoints(routed({ age: 1 }, { name: 'r2', age: 2 })) },
  'entry.retired': { severity: 'warning', plan: entryPoints(routed({ isDeprecatedVersion: true })) },
  'entry.source': {
    severity: 'warning',
    plan: entryPoints(
      [
        setOperation('balancers', testId('balancers', 1), { layer: '4' }),
        setOperation('listeners', testId('listeners', 1), { protocol: 'tcp' }),
      ],
      routed({ rateLimitPerMinute: 60 }),
    ),
  },
  'entry.single': {
    severity: 'warning',
    plan: entryPoints([setOperation('workloads', testId('workloads', 1), { replicasNow: 1 })], routed({})),
  },
  'listener.certificate': {
    severity: 'error',
    plan: entryPoints([setOperation('listeners', testId('listeners', 1), { protocol: 'https' })]),
  },
  // A name of a certificate says nothing of the names on it.
  'listener.certificate-names': {
    severity: 'warning',
    plan: entryPoints([setOperation('listeners', testId('listeners', 1), { protocol: 'https', certificate: 'x' })]),
  },
  'entry.certificate-names': {
    severity: 'warning',
    plan: entryPoints(gateway({ certificate: 'x' }), routed(attached)),
  },
  'listener.no-members': {
    severity: 'warning',
    plan: entryPoints([setOperation('listeners', testId('listeners', 1), { backendId: null })]),
  },
  'listener.opening': {
    severity: 'error',
    plan: entryPoints(add('filters', { name: 'shut', balancerIds: [testId('balancers', 1)], defaultOut: 'allow' })),
  },
  'balancer.no-listener': {
    severity: 'warning',
    plan: entryPoints([{ op: 'remove', kind: 'listeners', id: testId('listeners', 1) }]),
  },
  'backend.port': { severity: 'error', plan: entryPoints(onBackend({ port: 8080 })) },
  'backend.unreached': {
    severity: 'error',
    plan: entryPoints([
      setOperation('services', testId('services', 1), { type: 'ClusterIP', ports: ['tcp 80 to http'] }),
    ]),
  },
  'backend.opening': {
    severity: 'error',
    plan: entryPoints(add('filters', { name: 'shut', clusterIds: [testId('clusters', 1)], defaultOut: 'allow' })),
  },
  'balancer.quota': {
    severity: 'error',
    plan: entryPoints([setOperation('profiles', testId('profiles', 1), { membersPerBalancer: 1 })]),
  },
  'balancer.placement': {
    severity: 'error',
    plan: entryPoints([
      setOperation('profiles', testId('profiles', 1), { balancerPlacement: ['subnet'] }),
      setOperation('balancers', testId('balancers', 1), { runBy: 'appliance' }),
    ]),
  },
  'policy.names': {
    severity: 'warning',
    plan: entryPoints(add('networkPolicies', inCluster({ name: 'p', allowOut: ['pods all on tcp 80'] }))),
  },
  'workload.zone-lost': { severity: 'warning', plan: working(workload({ replicasNow: 21 })) },
} satisfies typeof cases);

const profile = (fields: Partial<Profile>) => setOperation('profiles', testId('profiles', 1), fields);
const block = (prefix: string): Operation[] => add('blocks', { networkId: testId('networks', 1), prefix });
const subnet = (prefix: string, zone = ''): Operation[] =>
  add('subnets', {
    name: 's',
    networkId: testId('networks', 1),
    siteId: testId('sites', 1),
    purpose: 'endpoint',
    zone,
    prefix,
  });
const run = (first: string, count: number): Operation[] =>
  add('reservations', { name: 'r', clusterId: testId('clusters', 1), first, count });
const peer = (n: number) => ({
  name: `p${n}`,
  kind: 'peering' as const,
  networkIds: [testId('networks', 1), testId('networks', n)],
});
Object.assign(cases, {
  'nodes.over-quota': { severity: 'error', plan: world({ nodesHorizon: 9 }, [profile({ nodesPerCluster: 8 })]) },
  'pods.native-not-offered': {
    severity: 'error',
    plan: world({ podMode: 'native' }, [profile({ nativeRule: 'none' })]),
  },
  'range.outside-network': { severity: 'error', plan: world({}, block('10.1.0.0/16'), range('node', '10.0.0.0/24')) },
  'subnet.size': {
    severity: 'error',
    plan: world({}, [profile({ smallestSubnet: 28 })], range('node', '10.0.0.0/29')),
  },
  'subnet.shared': {
    severity: 'error',
    plan: world(
      {},
      range('node', '10.0.0.0/24'),
      add('clusters', { ...cluster('d'), id: testId('clusters', 2) }),
      add('allocations', {
        id: testId('allocations', 2),
        clusterId: testId('clusters', 2),
        purpose: 'node',
        zone: '',
        prefix: '10.0.0.0/24',
        isPinned: false,
      }),
      [setOperation('profiles', testId('profiles', 1), { sharesSubnets: false })],
    ),
  },
  'subnet.scope': { severity: 'warning', plan: world({}, subnet('10.0.0.0/24', 'a')) },
  'block.size': { severity: 'error', plan: world({}, [profile({ largestBlock: 16 })], block('10.0.0.0/15')) },
  'block.count': {
    severity: 'error',
    plan: world(
      {},
      [profile({ blocksPerNetwork: 1 })],
      add('blocks', ...['10.0.0.0/16', '10.1.0.0/16'].map((prefix) => ({ networkId: testId('networks', 1), prefix }))),
    ),
  },
  'clusters.over-quota': {
    severity: 'error',
    plan: applied(ground(1), [profile({ clustersPerSite: 1 }), ...add('clusters', cluster('a'), cluster('b'))]),
  },
  'peerings.over-quota': {
    severity: 'error',
    plan: applied(ground(3), [
      profile({ peeringsPerNetwork: 1 }),
      ...add('clusters', cluster('c')),
      ...add('links', peer(2), peer(3)),
    ]),
  },
  'pool.in-use': {
    severity: 'warning',
    plan: world({}, add('inUse', { prefix: '10.0.0.0/9', owner: 'x' })),
  },
  'demand.cannot': { severity: 'error', plan: world({ zoneCount: 2 }) },
  'demand.doubtful': { severity: 'warning', plan: world({ controlPlane: 'self-run', controlNodes: 2 }) },
  'limit.before-horizon': { severity: 'warning', plan: world({ natAddresses: 1, nodesHorizon: 64 }) },
  'attachment.full': {
    severity: 'error',
    plan: world(
      {},
      subnet('10.8.0.0/30'),
      add('nodePools', {
        clusterId: testId('clusters', 1),
        name: 'p',
        nodesNow: 3,
        nodesMax: 3,
        nodesHorizon: 3,
        additionalInterfaceSubnetIds: [testId('subnets', 1)],
      }),
    ),
  },
  'mtu.below-floor': { severity: 'error', plan: world({ mtuFloor: 1451 }) },
  // VXLAN on IPv6 takes 70 bytes: 1,349 of the network leave 1,279.
  'mtu.too-narrow': {
    severity: 'error',
    plan: applied(world({ family: 'ipv6', podMode: 'overlay', encapsulation: 'vxlan' }), [
      setOperation('networks', testId('networks', 1), { mtu: 1349 }),
    ]),
  },
  'mtu.narrow-link': {
    severity: 'warning',
    plan: applied(ground(2), add('links', { ...peer(2), kind: 'tunnel', encapsulation: 'esp-gcm' })),
  },
  'reservation.outside': { severity: 'error', plan: world({}, range('node', '10.0.0.0/28'), run('10.0.0.13', 5)) },
  'reservation.taken': { severity: 'error', plan: world({}, range('node', '10.0.0.0/28'), run('10.0.0.0', 5)) },
  'egress.undecided': { severity: 'warning', plan: world({}) },
  // A plain LAN whose gateway has the first address of its subnet, as its row says where it names none.
  'address.taken': {
    severity: 'error',
    plan: applied(ground(), [
      ...add('subnets', {
        name: 'edge',
        networkId: testId('networks', 1),
        siteId: testId('sites', 1),
        purpose: 'endpoint',
        prefix: '10.8.0.0/28',
      }),
      ...add('endpoints', { name: 'logs', subnetId: testId('subnets', 1), address: '10.8.0.1', serves: 'service' }),
    ]),
  },
  'gateway.outside': {
    severity: 'error',
    plan: applied(
      ground(),
      add('subnets', {
        name: 'edge',
        networkId: testId('networks', 1),
        siteId: testId('sites', 1),
        purpose: 'endpoint',
        prefix: '10.8.0.0/28',
        gateway: '10.8.0.16',
      }),
    ),
  },
  'attachment.deaf': {
    severity: 'warning',
    plan: applied(ground(2), [
      ...add('links', peer(2)),
      ...add('attachments', { linkId: testId('links', 1), networkId: testId('networks', 1), accepts: 'listed' }),
    ]),
  },
} satisfies typeof cases);

/** Two clusters in networks of their own, joined by one connection; `more` is what is wrong. */
const exported = (fields: Partial<ServiceExport> = {}): Partial<ServiceExport> => ({
  memberId: testId('members', 2),
  namespace: 'shop',
  name: 'basket',
  createdOn: '2026-11-01',
  ...fields,
});
const closed = (n: number): Operation[] =>
  add('filters', { name: 'fence', clusterIds: [testId('clusters', n)], defaultOut: 'allow' });
const waiting: Partial<Member>[] = [{ dials: 'dials' }, { dials: 'is dialled' }];
const two = (one: Partial<Cluster> = {}, other: Partial<Cluster> = {}) => [one, other];
const placed = [
  setOperation('sites', testId('sites', 1), { latitude: 0, longitude: 0 }),
  ...add('sites', {
    id: testId('sites', 2),
    name: 'far',
    kind: 'region',
    profileId: testId('profiles', 1),
    zones: ['f'],
    latitude: 0,
    longitude: 60,
  }),
  setOperation('clusters', testId('clusters', 2), { siteId: testId('sites', 2) }),
];

Object.assign(cases, {
  'connection.one-member': {
    severity: 'warning',
    plan: applied(joined(), [{ op: 'remove', kind: 'members', id: testId('members', 2) }]),
  },
  'connection.overlap': { severity: 'error', plan: joined({ pods: ['10.244.0.0/16', '10.244.0.0/16'] }) },
  'connection.shown-taken': {
    severity: 'error',
    plan: joined({
      members: [{ translated: ['10.101.0.0/16 as 192.168.0.0/16'] }],
      more: add('inUse', { prefix: '192.168.7.0/24', owner: 'desks', networkId: testId('networks', 2) }),
    }),
  },
  'connection.id-twice': { severity: 'error', plan: joined({ members: [{ memberId: 'm' }, { memberId: 'm' }] }) },
  'connection.suffix-twice': {
    severity: 'error',
    plan: joined({ members: [{ dnsSuffix: 'c.coast' }, { dnsSuffix: 'c.coast' }] }),
  },
  'connection.single': { severity: 'warning', plan: joined({ members: [{ gateways: 1 }] }) },
  'connection.one-zone': {
    severity: 'warning',
    plan: applied(joined(), [
      setOperation('sites', testId('sites', 1), { zones: ['a', 'b'] }),
      setOperation('members', testId('members', 1), { gatewayZones: ['a'] }),
    ]),
  },
  'connection.throughput': { severity: 'error', plan: joined({ members: [{ gatewayMbps: 100, plannedMbps: 150 }] }) },
  'connection.flat-overlay': { severity: 'error', plan: joined({ connection: { method: 'flat' } }) },
  'connection.no-hub': { severity: 'error', plan: joined({ count: 3, connection: { shape: 'hub' } }) },
  'connection.closed': { severity: 'error', plan: joined({ members: waiting, more: closed(2) }) },
  'connection.asymmetric': {
    severity: 'error',
    plan: applied(cases['path.asymmetric']?.plan ?? ground(1), [
      ...add('connections', { name: 'coast', method: 'relays' }),
      ...add(
        'members',
        { connectionId: testId('connections', 1), clusterId: testId('clusters', 1), memberId: 'a', dials: 'dials' },
        {
          connectionId: testId('connections', 1),
          clusterId: testId('clusters', 2),
          memberId: 'b',
          dials: 'is dialled',
        },
      ),
    ]),
  },
  'connection.no-dial': {
    severity: 'error',
    plan: applied(joined(), [{ op: 'remove', kind: 'links', id: testId('links', 1) }]),
  },
  'connection.down': {
    severity: 'error',
    plan: joined({
      connection: { method: 'flat' },
      clusters: two({ podMode: 'routed' }, { podMode: 'routed' }),
      services: ['10.102.0.0/20'],
    }),
  },
  'connection.mtu': {
    severity: 'warning',
    plan: applied(joined(), [setOperation('links', testId('links', 1), { mtu: 1300, encapsulation: 'esp-gcm' })]),
  },
  'connection.rendezvous': {
    severity: 'error',
    plan: joined({
      connection: { rendezvous: 'meet.in.test' },
      more: add('zones', {
        name: 'inside',
        apex: 'in.test',
        side: 'private',
        networkIds: [testId('networks', 1), testId('networks', 2)],
      }),
    }),
  },
  'connection.hub-full': {
    severity: 'error',
    plan: joined({ count: 4, connection: { shape: 'hub', maxLinks: 2 }, members: [{ isHub: true }] }),
  },
  'connection.mesh': { severity: 'error', plan: joined({ count: 4, connection: { maxLinks: 2 } }) },
  'export.no-service': { severity: 'error', plan: joined({ exports: [exported()] }) },
  'export.conflict': {
    severity: 'error',
    plan: joined({
      exports: [exported(), exported({ memberId: testId('members', 1), createdOn: '2026-01-01' })],
      more: [...served(1, 'basket'), ...served(2, 'basket', { type: 'headless' })],
    }),
  },
  'export.ports': {
    severity: 'warning',
    plan: joined({
      exports: [exported(), exported({ memberId: testId('members', 1), createdOn: '2026-01-01' })],
      more: [...served(1, 'basket'), ...served(2, 'basket', { ports: ['web tcp 81 to http'] })],
    }),
  },
  'export.by-name': {
    severity: 'error',
    plan: joined({
      connection: { method: 'relays' },
      exports: [exported({ mirrorsPods: false })],
      more: served(2, 'basket', { type: 'headless' }),
    }),
  },
  // 60 degrees of the equator are 6,671.7 km: 65.41 ms there and back at 204,000 km/s.
  'export.far': {
    severity: 'warning',
    plan: applied(joined({ exports: [exported({ maxRoundTripMs: 65 })], more: served(2, 'basket') }), placed),
  },
} satisfies typeof cases);

test('connections that are as they should be have no finding, and planned ones warn of what they would bring', () => {
  const own = (plan: Parameters<typeof evaluate>[0]) =>
    found(plan).filter((each) => / (connection|export)\./.test(each));
  expect(own(joined({ exports: [exported({ maxRoundTripMs: 66 })], more: served(2, 'basket') }))).toEqual([]);
  expect(
    own(applied(joined({ exports: [exported({ maxRoundTripMs: 66 })], more: served(2, 'basket') }), placed)),
  ).toEqual([]);
  const planned = joined({ pods: ['10.244.0.0/16', '10.244.0.0/16'], connection: { isPlanned: true } });
  expect(own(planned)).toEqual(['warning connection.overlap', 'warning connection.overlap']);
  // Two overlays with one range are harmless by themselves: the ranges are clear without the connection, and in planned conflict with it.
  const verdicts = evaluate(planned).verdictsOf(testId('allocations', 2));
  expect(verdicts.map(({ kind, isPlanned }) => `${kind} ${isPlanned}`)).toEqual(['conflict true']);
  expect(
    evaluate(
      applied(
        planned,
        [{ op: 'remove', kind: 'connections', id: testId('connections', 1) }].flatMap((each) => [
          ...[1, 2].map((n): Operation => ({ op: 'remove', kind: 'members', id: testId('members', n) })),
          each as Operation,
        ]),
      ),
    ).verdictsOf(testId('allocations', 2)),
  ).toEqual([]);
});

test('a translated pair has no overlap; the fix of one that has, mends it', () => {
  const plan = joined({
    pods: ['10.244.0.0/16', '10.244.0.0/16'],
    more: [
      ...add('pools', pool('space', '172.16.0.0/12')),
      setOperation('clusters', testId('clusters', 1), { isBuilt: true }),
      setOperation('clusters', testId('clusters', 2), { isBuilt: true }),
    ],
  });
  const overlap = evaluate(plan)
    .findingsInWords()
    .find(({ code }) => code === 'connection.overlap');
  expect(overlap?.fixes).toEqual([
    { kind: 'connection', title: 'Propose translated ranges', connectionId: testId('connections', 1) },
  ]);
  const fix = mendConnection(plan, testId('connections', 1));
  const operations = fix?.groups.flatMap((group) => group.operations) ?? [];
  expect(found(applied(plan, operations)).filter((each) => / connection\./.test(each))).toEqual([]);
  expect(fix?.translated).toBe(2);
  // Where nothing is built or pinned, one of the two moves instead, and nothing has to be translated.
  const free = applied(
    plan,
    [1, 2].map((n) => setOperation('clusters', testId('clusters', n), { isBuilt: false })),
  );
  const moved = mendConnection(free, testId('connections', 1));
  expect([moved?.translated, moved?.moved.length]).toEqual([0, 1]);
  expect(
    found(applied(free, moved?.groups.flatMap((group) => group.operations) ?? [])).filter((each) =>
      / connection\./.test(each),
    ),
  ).toEqual([]);
});

test.each(Object.entries(cases))('%s', (code, { severity, plan }) =>
  expect(found(plan)).toContain(`${severity} ${code}`),
);

test('entry points that are as they should be have no finding of their own', () => {
  expect(
    found(entryPoints(routed({}))).filter((each) => /(entry|balancer|backend|listener|policy)\./.test(each)),
  ).toEqual([]);
});

test('a load balancer that ends TLS must cover the hosts of the routes behind it', () => {
  const front = (certificateHosts: string[]) =>
    entryPoints(
      [setOperation('listeners', testId('listeners', 1), { protocol: 'https', certificate: 'c', certificateHosts })],
      routed({}),
    );
  expect(found(front(['b.example']))).toContain('error entry.certificate');
  expect(found(front(['*.example']))).not.toContain('error entry.certificate');
});

test('two public zones of one name are told', () => {
  expect(found(names(secondZone({ side: 'public', apex: 'one.test', nameServers: ['ns.else.example'] })))).toContain(
    'error zone.overlap',
  );
});

test('a private zone is missed where workloads call its names', () => {
  const elsewhere = secondZone({
    side: 'private',
    apex: 'far.test',
    nameServers: ['ns.else.example'],
    networkIds: [testId('networks', 2)],
  });
  const plan = (callsTo: string[]) =>
    applied(names([setOperation('workloads', testId('workloads', 1), { callsTo })]), [
      ...add('networks', { id: testId('networks', 2), name: 'n2' }),
      ...elsewhere,
    ]);
  expect(found(plan(['api.far.test.']))).toContain('warning zone.not-attached');
  expect(found(plan(['api.else.test']))).not.toContain('warning zone.not-attached');
});

/** A second thing that a check finds, each in a plan of its own. */
const others: Partial<Record<FactCode, Plan>> = {
  // 20 nodes, and two /29 have 16 addresses.
  'range.too-small:together': world(
    { nodesNow: 20, nodesHorizon: 20 },
    range('node', '10.0.0.0/29'),
    add('allocations', {
      id: testId('allocations', 2),
      clusterId: testId('clusters', 1),
      purpose: 'node',
      prefix: '10.0.0.8/29',
      turn: 2,
    }),
  ),
  // A /28 has 16 addresses: 10 nodes of one cluster find room, 20 of both do not.
  'range.too-small:shared': world(
    { nodesNow: 10, nodesHorizon: 10 },
    range('node', '10.0.0.0/28'),
    add('clusters', { ...cluster('d', { nodesNow: 10, nodesHorizon: 10 }), id: testId('clusters', 2) }),
    add('allocations', {
      id: testId('allocations', 2),
      clusterId: testId('clusters', 2),
      purpose: 'node',
      prefix: '10.0.0.0/28',
    }),
  ),
  // The members’ network is not joined with that of the load balancer, and no filter is there.
  'backend.unreached': applied(entryPoints(), [
    ...add('networks', {}, { name: 'apart' }).slice(1),
    ...add(
      'subnets',
      {},
      {
        name: 'apart',
        networkId: testId('networks', 2),
        siteId: testId('sites', 1),
        purpose: 'entry' as const,
        prefix: '10.7.0.0/24',
      },
    ).slice(1),
    setOperation('balancers', testId('balancers', 1), { subnetId: testId('subnets', 2) }),
  ]),
  'backend.port:protocol': entryPoints(onBackend({ protocol: 'udp' })),
  'entry.certificate:in-front': entryPoints(
    [
      setOperation('listeners', testId('listeners', 1), {
        protocol: 'https',
        certificate: 'c',
        certificateHosts: ['b.example'],
      }),
    ],
    routed({}),
  ),
  'entry.grant:secret': entryPoints(gateway({ certificate: 'far/x', certificateHosts: ['x.a.example'] })),
  'entry.no-service': entryPoints(routed({ backends: [] })),
  'entry.unattached:no-gateway': entryPoints(routed({ ...attached, gatewayId: null })),
  'service.address:api': working(workload({}), service({ address: '10.9.0.1' })),
  'service.address:band': working(workload({}), service({ address: '10.9.0.17' })),
  'service.address:taken': working(
    workload({}),
    service({ address: '10.9.0.2' }),
    add('services', {
      ...inCluster({ name: 't', address: '10.9.0.2', ports: ['tcp 80 to http'] }),
      id: testId('services', 2),
    }),
  ),
  'service.node-port:outside': working(workload({}), service({ type: 'NodePort', ports: ['tcp 80 to http node 80'] })),
  'service.node-port:taken': working(
    workload({}),
    service({ type: 'NodePort', ports: ['tcp 80 to http node 30080'] }),
    add('services', {
      ...inCluster({ name: 't', type: 'NodePort' as const, ports: ['tcp 81 to http node 30080'] }),
      id: testId('services', 2),
    }),
  ),
  'certificate.renewal:by-hand': names(certified({ renewsItself: false, renewDays: 3 })),
  'name.nobody:no-listener': names([{ op: 'remove', kind: 'listeners', id: testId('listeners', 1) }]),
  // Nine aliases one after the other.
  'record.chain': names(
    ...Array.from({ length: 9 }, (_, n) =>
      named(`a${n}`, 'CNAME', n === 8 ? 'www.one.test' : `a${n + 1}.one.test`, {}, 20 + n),
    ),
  ),
  'zone.delegation:differs': names(
    secondZone({ side: 'public', apex: 'sub.one.test', nameServers: ['ns.else.example'] }),
    named('sub', 'NS', 'ns.other.example'),
  ),
  'zone.glue:delegated': names(named('sub', 'NS', 'ns.sub.one.test')),
  'zone.not-attached:network': names(
    [setOperation('workloads', testId('workloads', 1), { callsTo: ['api.far.test.'] })],
    add('networks', {}, { name: 'n2' }).slice(1),
    secondZone({
      side: 'private',
      apex: 'far.test',
      nameServers: ['ns.else.example'],
      networkIds: [testId('networks', 2)],
    }),
  ),
  'zone.overlap:link': names(
    add('networks', {}, { name: 'n2' }).slice(1),
    add('links', peer(2)),
    secondZone({ side: 'private', apex: 'in.test', nameServers: ['ns.in.test'], networkIds: [testId('networks', 2)] }),
  ),
  'record.dangling:provider': names(
    [profile({ balancerDomain: 'lb.cloud.example' })],
    named('x', 'CNAME', 'gone.lb.cloud.example'),
  ),
  'zone.overlap:public': names(secondZone({ side: 'public', apex: 'one.test', nameServers: ['ns.else.example'] })),
  'connection.closed:flat': joined({
    connection: { method: 'flat' },
    clusters: two({ podMode: 'routed' }, { podMode: 'routed' }),
    more: closed(2),
  }),
  // ESP has no ports by which a NAT device would know its answers (RFC 3948).
  'connection.down': behindNat({ tunnel: 'esp-gcm' }),
  // Six members that all wait to be dialled: 15 pairs, of which 12 are told.
  'connection.down:more': joined({
    count: 6,
    members: Array.from({ length: 6 }, (): Partial<Member> => ({ dials: 'is dialled' })),
  }),
  'connection.overlap:more': joined({ count: 14, pods: Array.from({ length: 14 }, () => '10.244.0.0/16') }),
  'connection.rendezvous': joined({
    connection: { rendezvous: 'meet.in.test' },
    more: [
      ...add('zones', {
        name: 'inside',
        apex: 'in.test',
        side: 'private',
        networkIds: [testId('networks', 1), testId('networks', 2)],
      }),
      ...add('records', { zoneId: testId('zones', 1), name: 'meet', type: 'A', value: '10.77.0.9' }),
    ],
  }),
};

test.each(Object.entries(others))('%s', (code, plan) =>
  expect(
    evaluate(plan)
      .findings()
      .map(({ fact }): string => fact.code),
  ).toContain(code),
);

test('everything that is said of findings is said by a case here', () => {
  const said = new Set(
    Object.values(cases)
      .flatMap(({ plan }) => evaluate(plan).findings())
      .map(({ fact }) => fact.code),
  );
  expect(factCodes.filter((code) => !said.has(code)).sort()).toEqual(Object.keys(others).sort());
});

test('every check has a case here', () => {
  expect(Object.keys(findingTitles).sort()).toEqual(Object.keys(cases).sort());
});

test('a per-node prefix that is tight is a warning, one that follows the table is none', () => {
  expect(found(world({ perNodeLength: 25, podsPerNode: 110 }))).toContain('warning per-node.too-small');
  expect(found(world({ perNodeLength: 24, podsPerNode: 110 }))).not.toContain('warning per-node.too-small');
});

test('the demo holds each kind of mistake it promises, and a fix for those that can be moved', () => {
  const findings = evaluate(demoPlan()).findingsInWords();
  const codes = new Set(findings.map(({ code }) => code));
  for (const code of [
    'overlap.conflict',
    'overlap.shadowed',
    'overlap.reuse',
    'range.too-small',
    'range.missing',
    'per-node.too-small',
    'space.widely-used',
    'pool.overlap',
  ])
    expect(codes).toContain(code);
  expect(findings.find(({ code }) => code === 'overlap.shadowed')?.fixes).toHaveLength(1);
  expect(new Set(findings.map(({ key }) => key)).size).toBe(findings.length);
  expect(findings.map(({ severity }) => severity)).toEqual(
    [...findings]
      .map(({ severity }) => severity)
      .sort((a, b) => ['error', 'warning', 'note'].indexOf(a) - ['error', 'warning', 'note'].indexOf(b)),
  );
});

test('a built cluster’s ranges are not offered for moving, and the finding says so', () => {
  const plan = applied(cases['overlap.conflict']?.plan ?? ground(1), [
    setOperation('clusters', testId('clusters', 1), { isBuilt: true }),
  ]);
  const conflict = evaluate(plan)
    .findingsInWords()
    .find(({ code }) => code === 'overlap.conflict');
  expect(conflict).toMatchObject({ fixes: [], detail: expect.stringContaining('Neither can be moved') as string });
});

test('a subnet of a built cluster that is too small is grown where it is, in one change without a rebuild; its pod range is not', () => {
  const plan = applied(world({ isBuilt: true, nodesHorizon: 200 }), [
    ...range('node', '10.1.0.0/25'),
    ...add('allocations', {
      id: testId('allocations', 2),
      clusterId: testId('clusters', 1),
      purpose: 'pod',
      prefix: '10.2.0.0/18',
    }),
  ]);
  const fixes = (purpose: string) =>
    evaluate(plan)
      .findingsInWords()
      .find(({ code, title }) => code === 'range.too-small' && title.includes(`${purpose} range`))?.fixes;
  expect(fixes('node')).toEqual([
    { kind: 'grow', allocationId: testId('allocations', 1) },
    { kind: 'further', allocationId: testId('allocations', 1) },
  ]);
  expect(fixes('pod')).toEqual([]);
  const { operations, refusals } = propose(plan, { grow: [testId('allocations', 1), testId('allocations', 2)] });
  expect(applied(plan, operations).allocations[0]?.prefix).toBe('10.1.0.0/24');
  expect(refusals).toHaveLength(1);
});

// Kubernetes API, DaemonSet v1: one pod on each node that may run it; nodes of a pool with a taint run only what asks for them.
test('a DaemonSet follows the nodes: told when they are more, and in one step counted by them', () => {
  const codes = (plan: Plan) =>
    evaluate(plan)
      .findingsInWords()
      .filter(({ code }) => code === 'workload.daemon-pods');
  const two = working(workload({ objectKind: 'DaemonSet' }));
  expect(codes(two)).toEqual([]);
  const pool = add('nodePools', {
    clusterId: testId('clusters', 1),
    name: 'more',
    nodesNow: 3,
    nodesMax: 4,
    nodesHorizon: 4,
  });
  const more = applied(two, pool);
  const [told] = codes(more);
  expect(told?.detail).toContain('5 today and 6 at the horizon. The plan says 2 today and 2 at the horizon');
  const [fix] = told?.fixes ?? [];
  expect(codes(applied(more, fix?.kind === 'change' ? fix.operations : []))).toEqual([]);
  const tainted = applied(more, [
    setOperation('nodePools', testId('nodePools', 1), { taints: ['only=models:NoSchedule'] }),
  ]);
  expect(codes(tainted)).toEqual([]);
});
