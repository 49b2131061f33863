import { add, applied, cluster, ground, pool, testId } from '../../test/worlds.js';
import { ranges, route } from '../../test/ways.js';
import { demoPlan } from '../demo/index.js';
import { evaluate } from '../evaluation/index.js';
import { Forwarding, trace } from '../forwarding/index.js';
import { readPacketQuestion, setOperation } from '../plan/index.js';
import type { Cluster, Network, Plan } from '../plan/index.js';
import { expectGood } from '../result.js';
import { hubAndSpoke, openingsOf, proposeEgress } from './index.js';
import { formatTrace } from '../english/index.js';

const all = (plan: Plan, of: ReturnType<typeof proposeEgress>) =>
  applied(
    plan,
    of.groups.flatMap(({ operations }) => operations),
  );
const verdict = (plan: Plan, from: string, to: string) =>
  trace(Forwarding.of(plan), expectGood(readPacketQuestion(plan, from, to, 576))).verdict;
const world = (internetEgress: Network['internetEgress'], fields: Partial<Cluster> = {}, zones = ['a', 'b']) =>
  applied(ground(1), [
    setOperation('sites', testId('sites', 1), { zones }),
    setOperation('networks', testId('networks', 1), { internetEgress }),
    ...add('pools', pool('all', '10.0.0.0/8')),
    ...add('clusters', cluster('c', fields)),
    ...add(
      'allocations',
      { clusterId: testId('clusters', 1), purpose: 'node', zone: 'a', prefix: '10.1.0.0/24' },
      { clusterId: testId('clusters', 1), purpose: 'node', zone: 'b', prefix: '10.1.1.0/24' },
      { clusterId: testId('clusters', 1), purpose: 'pod', prefix: '100.64.0.0/16' },
    ),
  ]);

test('NAT per zone: a device, a subnet and a table in each zone; both zones then reach the internet, each through its own', () => {
  const plan = all(world('nat per zone'), proposeEgress(world('nat per zone')));
  expect(plan.natDevices.map(({ subnetId }) => plan.subnets.find(({ id }) => id === subnetId)?.zone).sort()).toEqual([
    'a',
    'b',
  ]);
  for (const zone of ['a', 'b']) {
    const forwarding = Forwarding.of(plan);
    const answer = trace(
      forwarding,
      expectGood(readPacketQuestion(plan, `node of c, zone ${zone}`, 'the internet tcp 443', 576)),
    );
    expect([answer.verdict, formatTrace(plan, answer)]).toEqual(['pass', expect.stringContaining(`n1-nat-${zone}`)]);
  }
  expect(
    evaluate(plan)
      .findingsInWords()
      .filter(({ code }) => code.startsWith('nat.other') || code === 'egress.none'),
  ).toEqual([]);
});

test('NAT per zone where node ranges name no zone: one device, and that it serves all zones is said', () => {
  const plan = applied(world('nat per zone'), [
    setOperation('allocations', testId('allocations', 1), { zone: '' }),
    { op: 'remove', kind: 'allocations', id: testId('allocations', 2) },
  ]);
  const { notes } = proposeEgress(plan);
  expect(all(plan, proposeEgress(plan)).natDevices).toHaveLength(1);
  expect(notes.join()).toContain('n1: its node ranges name no zone');
  expect(proposeEgress(world('nat per zone')).notes).toEqual([]);
});

test('every decided egress is proposed so that it works, and asked again nothing is missing', () => {
  for (const egress of ['nat per zone', 'one nat'] as const) {
    const plan = all(world(egress), proposeEgress(world(egress)));
    expect([egress, verdict(plan, 'pod of c', 'the internet tcp 443')]).toEqual([egress, 'pass']);
    expect(proposeEgress(plan).groups).toEqual([]);
  }
  expect(proposeEgress(world('none')).groups).toEqual([]);
  expect(proposeEgress(world('hub')).notes.join()).toContain('Hub and spoke');
});

test('each opening among a cluster’s own nodes that is closed is found, and proposing the openings closes the finding', () => {
  const closed = (fields: Partial<Cluster>, ports: string[]) => {
    const start = applied(world('none', fields), [
      ...add('filters', { name: 'nodes', clusterIds: [testId('clusters', 1)], defaultOut: 'allow' }),
      ...add('filterRules', { filterId: testId('filters', 1), direction: 'in', position: 10, protocol: 'tcp', ports }),
      ...add(
        'filterRules',
        {},
        { filterId: testId('filters', 1), direction: 'in', position: 20, protocol: 'udp', ports: ['4789'] },
      ).slice(1),
    ]);
    const found = (plan: Plan) =>
      evaluate(plan)
        .findingsInWords()
        .filter(({ code }) => code === 'opening.missing')
        .map(({ title }) => title.replace(' is refused on its own nodes', ''));
    return [found(start), found(all(start, proposeEgress(start)))];
  };
  // Kubelet 10250, API 6443 and etcd 2379-2380 of a self-run control plane; BGP 179 of routed pods.
  expect(closed({ controlPlane: 'self-run' }, ['10250', '6443', '2379-2380'])).toEqual([[], []]);
  expect(closed({ controlPlane: 'self-run' }, ['10250', '6443'])).toEqual([['c: etcd, tcp 2379,'], []]);
  expect(closed({ controlPlane: 'self-run' }, ['2379-2380'])).toEqual([
    ['c: the kubelet, tcp 10250,', 'c: the API, tcp 6443,'],
    [],
  ]);
  expect(closed({ podMode: 'routed' }, ['443'])).toEqual([['c: traffic between its pods', 'c: BGP, tcp 179,'], []]);
});

test('openings follow the decisions: VXLAN to Geneve changes the rule’s port, and a rule edited by hand is kept', () => {
  const plan = world('undecided', { controlPlane: 'self-run', podMode: 'overlay' });
  const fenced = all(plan, proposeEgress(plan, [testId('clusters', 1)]));
  const portsOf = (of: Plan, intent: string) => of.filterRules.find((rule) => rule.intent === intent)?.ports;
  const encapsulation = 'encapsulation of the pod network of c';
  expect(portsOf(fenced, encapsulation)).toEqual(['4789']);
  // With it pods reach one another, and nothing else may come in.
  expect(verdict(fenced, 'pod of c', 'pod of c tcp 80')).toBe('pass');
  const changed = applied(fenced, [setOperation('clusters', testId('clusters', 1), { encapsulation: 'geneve' })]);
  expect(verdict(changed, 'pod of c', 'pod of c tcp 80')).toBe('refused');
  const followed = all(changed, proposeEgress(changed));
  expect(portsOf(followed, encapsulation)).toEqual(['6081']);
  expect(verdict(followed, 'pod of c', 'pod of c tcp 80')).toBe('pass');
  const own = changed.filterRules.find((rule) => rule.intent === encapsulation);
  const edited = applied(changed, [setOperation('filterRules', own?.id ?? '', { ports: ['4789', '6081'] })]);
  const again = proposeEgress(edited);
  expect(portsOf(all(edited, again), encapsulation)).toEqual(['4789', '6081']);
});

test('what a cluster needs open: from its control plane, pod network, services and bastion', () => {
  const openings = (fields: Partial<Cluster>) => {
    const plan = world('undecided', fields);
    return openingsOf(plan, plan.clusters[0] as Cluster).map(
      ({ what, protocol, ports }) => `${what}: ${[protocol, ...ports].join(' ')}`,
    );
  };
  expect(openings({ controlPlane: 'self-run' })).toEqual([
    'encapsulation of the pod network: udp 4789',
    'kubelet: tcp 10250',
    'API: tcp 6443',
    'etcd: tcp 2379-2380',
    'path MTU discovery and reachability: icmp',
  ]);
  expect(openings({ podMode: 'routed', nodePortServices: 1 })).toEqual([
    'pods among themselves: any',
    'kubelet: tcp 10250',
    'BGP: tcp 179',
    'NodePorts: tcp 30000-32767',
    'path MTU discovery and reachability: icmp',
  ]);
  // Encryption is the outermost layer: the filter sees it and not the overlay.
  expect(openings({ encryption: 'wireguard' })[0]).toBe('encapsulation of the pod network: udp 51820');
  expect(openings({ encryption: 'esp-gcm' })[0]).toBe('encapsulation of the pod network: esp');
});

test('a hub in one action: spokes reach the needs and one another through its firewall, and nothing else', () => {
  const plan = applied(ground(2), [
    ...add('pools', pool('all', '10.0.0.0/8')),
    ...add(
      'clusters',
      cluster('one', { networkId: testId('networks', 1) }),
      cluster('two', { networkId: testId('networks', 2) }),
    ),
    ...ranges(
      [1, 'node', '10.1.0.0/24'],
      [1, 'pod', '100.64.0.0/16'],
      [2, 'node', '10.2.0.0/24'],
      [2, 'pod', '100.65.0.0/16'],
    ),
    ...add('needs', { name: 'registry', prefixes: ['198.51.100.0/24'], ports: ['443'] }),
  ]);
  const request = {
    networkId: '',
    name: 'centre',
    siteId: testId('sites', 1),
    spokeIds: [testId('networks', 1), testId('networks', 2)],
  };
  const hub = hubAndSpoke(plan, request);
  const after = all(plan, hub);
  expect(hub.groups[0]?.intent).toContain('the hub centre, with a firewall, a bastion and shared subnets');
  for (const name of ['one', 'two']) {
    const answer = trace(
      Forwarding.of(after),
      expectGood(readPacketQuestion(after, `pod of ${name}`, 'need registry', 576)),
    );
    expect([answer.verdict, formatTrace(plan, answer)]).toEqual([
      'pass',
      expect.stringContaining('firewall centre-firewall'),
    ]);
    expect(verdict(after, `pod of ${name}`, 'the internet tcp 25')).toBe('refused');
  }
  expect(verdict(after, 'node of one', 'node of two tcp 22')).toBe('refused');
  expect(after.bastions).toHaveLength(1);
  // From the bastion to the nodes of both spokes, there and back.
  for (const name of ['one', 'two'])
    expect(verdict(after, 'bastion centre-bastion', `node of ${name} tcp 22`)).toBe('pass');
});

/** The devices that a question to the internet goes through, by their kinds. */
const devices = (plan: Plan, from: string) => {
  const [flow] = trace(
    Forwarding.of(plan),
    expectGood(readPacketQuestion(plan, from, '198.51.100.7 tcp 443', 576)),
  ).flows;
  return [
    ...new Set(flow?.forth.map(({ spot }) => spot.kind).filter((kind) => kind === 'firewall' || kind === 'NAT device')),
  ];
};
const allowAll = (plan: Plan) =>
  applied(plan, add('firewallRules', { firewallId: plan.firewalls[0]?.id ?? '', position: 90_000, protocol: 'any' }));
const open = (plan: Plan) =>
  evaluate(plan)
    .findingsInWords()
    .filter(({ code }) => /^route\.|^egress\./.test(code))
    .map(({ code }) => code);

test('a spoke that left by NAT, in tables of zones and of subnets typed by hand, leaves through the hub’s firewall and nowhere else', () => {
  const plan = applied(world('nat per zone'), [
    ...add(
      'routeTables',
      { name: 'main', networkId: testId('networks', 1), isMain: true },
      { name: 'main-a', networkId: testId('networks', 1), isMain: true, zone: 'a' },
      { name: 'own', networkId: testId('networks', 1) },
      { name: 'public', networkId: testId('networks', 1) },
    ),
    ...add(
      'subnets',
      {
        name: 'b-nodes',
        networkId: testId('networks', 1),
        siteId: testId('sites', 1),
        purpose: 'node',
        prefix: '10.1.1.0/24',
        routeTableId: testId('routeTables', 3),
      },
      {
        name: 'edge',
        networkId: testId('networks', 1),
        siteId: testId('sites', 1),
        purpose: 'other',
        prefix: '10.1.2.0/28',
        isPublic: true,
        internetEgress: 'direct',
        routeTableId: testId('routeTables', 4),
      },
    ),
    // Machines in no subnet leave by the main table.
    ...add('inUse', { prefix: '10.1.9.0/24', owner: 'desk', networkId: testId('networks', 1) }),
    ...add('natDevices', { name: 'nat', subnetId: testId('subnets', 2) }),
    ...add(
      'routes',
      ...[1, 2, 3].map((n) => route(n, '0.0.0.0/0', 'nat', { natDeviceId: testId('natDevices', 1) })),
      route(4, '0.0.0.0/0', 'internet'),
    ),
  ]);
  const nodes = ['node of c, zone a', 'node of c, zone b', '10.1.9.9 in n1'];
  // With the network said to leave by a hub, each of the three tables past it is told.
  const said = applied(plan, [setOperation('networks', testId('networks', 1), { internetEgress: 'hub' })]);
  expect(open(said).filter((code) => code === 'route.past-firewall').length).toBeGreaterThanOrEqual(2);
  const hub = hubAndSpoke(plan, {
    networkId: '',
    name: 'centre',
    siteId: testId('sites', 1),
    spokeIds: [testId('networks', 1)],
  });
  const after = all(plan, hub);
  for (const from of nodes) expect([from, devices(allowAll(after), from)]).toEqual([from, ['firewall']]);
  expect(open(after)).toEqual([]);
  expect(hub.notes.join()).toContain('No route of n1 leads to nat any more');
});

test('a hub that stands, with its firewall and a bastion, is taken as it is: nothing leaves past the firewall, and no second one is made', () => {
  const plan = applied(ground(2), [
    ...add('pools', pool('all', '10.0.0.0/8')),
    ...add(
      'subnets',
      {
        name: 'wall',
        networkId: testId('networks', 2),
        siteId: testId('sites', 1),
        purpose: 'other',
        prefix: '10.3.0.0/28',
        isPublic: true,
        internetEgress: 'direct',
      },
      {
        name: 'desk',
        networkId: testId('networks', 2),
        siteId: testId('sites', 1),
        purpose: 'other',
        prefix: '10.3.1.0/28',
      },
    ),
    ...add('firewalls', { name: 'wall', subnetId: testId('subnets', 1) }),
    ...add('bastions', { name: 'gate', subnetId: testId('subnets', 2), address: '10.3.1.4' }),
    ...add('clusters', cluster('one', { networkId: testId('networks', 1) })),
    ...ranges([1, 'node', '10.1.0.0/24'], [1, 'pod', '100.64.0.0/16']),
  ]);
  const hub = hubAndSpoke(plan, {
    networkId: testId('networks', 2),
    name: '',
    siteId: testId('sites', 1),
    spokeIds: [testId('networks', 1)],
  });
  const after = all(plan, hub);
  expect([after.networks.length, after.firewalls.length, after.bastions.length, after.links.length]).toEqual([
    2, 1, 1, 1,
  ]);
  expect(devices(allowAll(after), 'node of one')).toEqual(['firewall']);
  // Machines of the hub itself, too.
  expect(devices(allowAll(after), '10.3.1.9 in n2')).toEqual(['firewall']);
  expect(verdict(allowAll(after), 'bastion gate', 'node of one tcp 22')).toBe('pass');
  expect(open(after)).toEqual([]);
  const again = hubAndSpoke(after, {
    networkId: testId('networks', 2),
    name: '',
    siteId: testId('sites', 1),
    spokeIds: [testId('networks', 1)],
  });
  expect(again.groups).toEqual([]);
});

test('a firewall that stands in a subnet with a table that leads nowhere is led to the internet', () => {
  const plan = applied(ground(2), [
    ...add('pools', pool('all', '10.0.0.0/8')),
    ...add('routeTables', { name: 'wall', networkId: testId('networks', 2) }),
    ...add('subnets', {
      name: 'wall',
      networkId: testId('networks', 2),
      siteId: testId('sites', 1),
      purpose: 'other',
      prefix: '10.3.0.0/28',
      isPublic: true,
      internetEgress: 'direct',
      routeTableId: testId('routeTables', 1),
    }),
    ...add('firewalls', { name: 'wall', subnetId: testId('subnets', 1) }),
    ...add('clusters', cluster('one', { networkId: testId('networks', 1) })),
    ...ranges([1, 'node', '10.1.0.0/24'], [1, 'pod', '100.64.0.0/16']),
  ]);
  const after = all(
    plan,
    hubAndSpoke(plan, {
      networkId: testId('networks', 2),
      name: '',
      siteId: testId('sites', 1),
      spokeIds: [testId('networks', 1)],
    }),
  );
  expect(
    after.routes
      .filter(({ routeTableId }) => routeTableId === testId('routeTables', 1))
      .map(({ prefix, nextHop }) => [prefix, nextHop]),
  ).toContainEqual(['0.0.0.0/0', 'internet']);
  expect(verdict(allowAll(after), 'node of one', 'the internet tcp 443')).toBe('pass');
  expect(open(after)).toEqual([]);
});

test('the subnets of a new hub are in a zone where the provider’s subnets are', () => {
  const zonal = applied(world('undecided'), [setOperation('profiles', testId('profiles', 1), { subnetScope: 'zone' })]);
  const after = all(
    zonal,
    hubAndSpoke(zonal, {
      networkId: '',
      name: 'centre',
      siteId: testId('sites', 1),
      spokeIds: [testId('networks', 1)],
    }),
  );
  expect(after.subnets.map(({ zone }) => zone)).toEqual(['a', 'a', 'a']);
  expect(
    evaluate(after)
      .findingsInWords()
      .filter(({ code }) => code === 'subnet.scope'),
  ).toEqual([]);
});

test('the demo: what its mistakes need is proposed in groups with their intent, and mends them', () => {
  const plan = demoPlan();
  const proposal = proposeEgress(plan);
  const intents = proposal.groups.map(({ intent }) => intent);
  expect(intents).toContain('machines of head-office leave through the hub firewall');
  expect(intents).toContain('the need own registry passes the filter registry-door');
  const after = all(plan, proposal);
  expect(verdict(after, 'pod of timetable', 'pod of timetable tcp 80')).toBe('pass');
  expect(verdict(after, 'node of kiosk-ardle', 'need own registry')).toBe('pass');
  expect(verdict(after, '10.20.0.9 in head-office', 'the internet tcp 443')).toBe('refused');
  expect(proposeEgress(after).groups).toEqual([]);
  expect(proposal.notes.join()).toContain('booking in n3');
});
