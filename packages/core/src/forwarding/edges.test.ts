import { joined } from '../../test/connections.js';
import { fence, hubWorld, ranges, route } from '../../test/ways.js';
import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { formatTrace } from '../english/index.js';
import { readPacketQuestion, setOperation } from '../plan/index.js';
import type {
  Cluster,
  FilterRule,
  Firewall,
  FirewallRule,
  Link,
  NodePool,
  Operation,
  Plan,
  Subnet,
} from '../plan/index.js';
import { expectGood } from '../result.js';
import { Forwarding, NO_FAULTS, trace } from './index.js';
import type { Trace } from './index.js';

// Every expected verdict is derived by hand from the rule that its test names, before the code was asked.

const ask = (plan: Plan, from: string, to: string, bytes = 576): Trace =>
  trace(Forwarding.of(plan), expectGood(readPacketQuestion(plan, from, to, bytes)));
const brief = (plan: Plan, from: string, to: string): string => {
  const { verdict, lack, flows } = ask(plan, from, to);
  const [flow] = flows;
  return [verdict, flow?.failed?.failure.code ?? lack?.code, flow?.failed?.isBack === true ? 'back' : '']
    .filter(Boolean)
    .join(' ');
};
const [N1, SUBNET] = [testId('networks', 1), testId('subnets', 1)];
const subnet = (prefix: string, fields: Partial<Subnet> = {}): Partial<Subnet> => ({
  networkId: N1,
  siteId: testId('sites', 1),
  purpose: 'other',
  name: prefix,
  prefix,
  ...fields,
});
/** A list that keeps no state on the nth subnet: what its rules do not allow does not pass. */
const listed = (n: number, ...rules: Parameters<typeof fence>[2][]): Operation[] =>
  fence(1, { clusterIds: [], subnetIds: [testId('subnets', n)], mode: 'ordered', isStateful: false }, ...rules);

/** One cluster c in network n1 whose main table is empty. */
const one = (fields: Partial<Cluster>, node: string, ...more: Operation[][]): Plan =>
  applied(ground(1), [
    ...add('routeTables', { name: 'main', networkId: N1, isMain: true }),
    ...add('clusters', cluster('c', fields)),
    ...ranges([1, 'node', node]),
    ...more.flat(),
  ]);
const toInternet = add('routes', route(1, '0.0.0.0/0', 'internet'));

describe('who owns an address answers it, on the internet too', () => {
  const pool: Partial<NodePool> = {
    name: 'edge',
    clusterId: testId('clusters', 1),
    nodesNow: 2,
    nodesHorizon: 2,
    nodesMax: 2,
  };
  const publicPool = (isPublic: boolean, ...more: Operation[][]) =>
    one({}, '10.1.0.0/24', add('nodePools', { ...pool, isPublic }), toInternet, ...more);
  const ssh = fence(1, { defaultOut: 'allow' }, { ports: ['22'] });

  test('a node with a public address is reached from the internet where its filter opens the port, and no other', () => {
    expect(brief(publicPool(true, ssh), 'the internet', 'node of c, pool edge tcp 22')).toBe('pass');
    expect(brief(publicPool(true, ssh), 'the internet', 'node of c, pool edge tcp 23')).toBe('refused filter');
    // The main nodes have private addresses alone, and so has a pool that is not public.
    expect(brief(publicPool(true, ssh), 'the internet', 'node of c tcp 22')).toBe('refused private-destination');
    expect(brief(publicPool(false, ssh), 'the internet', 'node of c, pool edge tcp 22')).toBe(
      'refused private-destination',
    );
  });

  test('a bastion in a public subnet is reached from the internet, and one in a private subnet is not', () => {
    const bastion = (isPublic: boolean) =>
      one(
        {},
        '10.1.0.0/24',
        add('subnets', subnet('10.9.0.0/28', { isPublic })),
        add('bastions', { name: 'gate', subnetId: SUBNET, address: '10.9.0.5' }),
        toInternet,
      );
    expect(brief(bastion(true), 'the internet', 'bastion gate tcp 22')).toBe('pass');
    expect(brief(bastion(false), 'the internet', 'bastion gate tcp 22')).toBe('refused private-destination');
  });

  // RFC 2663 4.1.1: a one-to-one translation stands for the one address that it was set up for.
  test('pods that keep their own addresses do not leave under the public address of their node; pods in an overlay do', () => {
    const range = add('allocations', {
      id: testId('allocations', 2),
      clusterId: testId('clusters', 1),
      purpose: 'pod',
      prefix: '10.1.16.0/20',
    });
    const pods = (podMode: 'overlay' | 'routed' | 'native') =>
      one({ podMode }, '10.1.0.0/24', range, add('nodePools', { ...pool, isPublic: true }), toInternet);
    const to = 'the internet tcp 443';
    expect(brief(pods('routed'), 'pod of c, pool edge', to)).toBe('broken private-source');
    expect(brief(pods('native'), 'pod of c, pool edge', to)).toBe('broken private-source');
    expect(brief(pods('overlay'), 'pod of c, pool edge', to)).toBe('pass');
    expect(brief(pods('routed'), 'node of c, pool edge', to)).toBe('pass');
  });
  test('a range in use with addresses of the internet is answered where its network has a way there', () => {
    const bench = add('inUse', { prefix: '2001:db8:7::/64', owner: 'bench', networkId: N1 });
    const world = (...more: Operation[][]) => one({}, '10.1.0.0/24', bench, ...more);
    const [from, to] = ['range 2001:db8:7::/64 (bench)', 'the internet tcp 443'];
    expect(brief(world(add('routes', route(1, '::/0', 'internet'))), from, to)).toBe('pass');
    expect(brief(world(), from, to)).toBe('broken no-route');
  });
  test('nodes with addresses of the internet send and are answered under them; their filter holds what comes in', () => {
    const plan = one({}, '193.0.20.0/24', toInternet);
    expect(brief(plan, 'node of c', '198.51.100.7 tcp 443')).toBe('pass');
    expect(brief(plan, 'the internet', 'node of c tcp 22')).toBe('pass');
    const closed = applied(plan, fence(1, { defaultOut: 'allow' }, { ports: ['443'] }));
    expect(brief(closed, 'the internet', 'node of c tcp 22')).toBe('refused filter');
    // By its number as by its name.
    expect(brief(closed, 'the internet', '193.0.20.2 tcp 22')).toBe('refused filter');
    // A network without a way to the internet has none from there either.
    expect(brief(one({}, '193.0.20.0/24'), 'the internet', 'node of c tcp 22')).toBe('broken not-on-internet');
  });

  test('IPv6 nodes with global addresses reach the internet without translation; with unique local ones they do not (RFC 4193 1)', () => {
    const v6 = (node: string) => one({ family: 'ipv6' }, node, add('routes', route(1, '::/0', 'internet')));
    expect(brief(v6('2a00:1450:1::/64'), 'node of c', '2606:2800:1::7 tcp 443')).toBe('pass');
    expect(brief(v6('fd00:20::/64'), 'node of c', '2606:2800:1::7 tcp 443')).toBe('broken private-source');
  });

  const edge = (addresses: string[], ...more: Operation[][]) =>
    one(
      {},
      '10.1.0.0/24',
      add('subnets', subnet('10.9.0.0/28', { isPublic: true, routeTableId: testId('routeTables', 2) })),
      add('routeTables', {}, { name: 'out', networkId: N1 }).slice(1),
      add('natDevices', { name: 'nat', subnetId: SUBNET, publicAddresses: addresses }),
      add(
        'routes',
        route(1, '0.0.0.0/0', 'nat', { natDeviceId: testId('natDevices', 1) }),
        route(2, '0.0.0.0/0', 'internet'),
      ),
      ...more,
    );

  test('nothing listens at the public addresses of a NAT device, from inside as from outside, the second one included', () => {
    const plan = edge(['203.0.113.1', '203.0.113.2']);
    for (const from of ['node of c', 'the internet'])
      for (const address of ['203.0.113.1', '203.0.113.2'])
        expect([from, brief(plan, from, `${address} tcp 443`)]).toEqual([from, 'refused unsolicited']);
    expect(brief(plan, 'node of c', '203.0.113.3 tcp 443')).toBe('pass');
  });

  test('a stateless list on the subnet of a NAT device needs a rule for the answers: 1024 to 65535 in (RFC 6056 3.2)', () => {
    const out: Parameters<typeof fence>[2][] = [
      { direction: 'out', protocol: 'any' },
      { direction: 'in', ports: ['443'] },
    ];
    const back: Parameters<typeof fence>[2] = { direction: 'in', ports: ['1024-65535'] };
    expect(brief(edge(['203.0.113.1'], listed(1, ...out)), 'node of c', '198.51.100.7 tcp 443')).toBe(
      'refused filter back',
    );
    expect(brief(edge(['203.0.113.1'], listed(1, ...out, back)), 'node of c', '198.51.100.7 tcp 443')).toBe('pass');
    const stateful = fence(1, { clusterIds: [], subnetIds: [SUBNET], mode: 'ordered' }, ...out);
    expect(brief(edge(['203.0.113.1'], stateful), 'node of c', '198.51.100.7 tcp 443')).toBe('pass');
  });
});

describe('one family end to end', () => {
  // Common practice: a device that follows connections has to see both of their directions.
  test('a device that carries addresses of the internet untranslated, and whose answers go around it, has no connection', () => {
    const world = (node: string) =>
      applied(one({ family: 'ipv6' }, node), [
        ...add('subnets', subnet('10.1.9.0/28', { name: 'edge', routeTableId: testId('routeTables', 2) })),
        ...add('routeTables', { id: testId('routeTables', 2), name: 'behind', networkId: N1 }),
        ...add('natDevices', { name: 'nat', subnetId: SUBNET, publicAddresses: ['2001:db8:ffff::9'] }),
        ...add(
          'routes',
          { ...route(1, '::/0', 'nat'), natDeviceId: testId('natDevices', 1) },
          route(2, '::/0', 'internet'),
        ),
      ]);
    expect(brief(world('2001:db8:1::/64'), 'node of c', 'the internet tcp 443')).toBe('broken avoided back');
    expect(brief(world('2001:db8:1::/64'), 'node of c', 'the internet udp 443')).toBe('pass');
    // Unique local ones it translates, and their answers come back to it (RFC 4193 1).
    expect(brief(world('fd00:1::/64'), 'node of c', 'the internet tcp 443')).toBe('pass');
  });
  test('a device with IPv4 addresses translates no IPv6 packet; with an IPv6 address it may (RFC 6296 1)', () => {
    const v6 = (addresses: string[]) =>
      one(
        { family: 'ipv6' },
        'fd00:20::/64',
        add('subnets', subnet('fd00:9::/64', { routeTableId: testId('routeTables', 2) })),
        add('routeTables', {}, { name: 'out', networkId: N1 }).slice(1),
        add('natDevices', { name: 'nat', subnetId: SUBNET, publicAddresses: addresses }),
        add('routes', route(1, '::/0', 'nat', { natDeviceId: testId('natDevices', 1) }), route(2, '::/0', 'internet')),
      );
    for (const addresses of [['203.0.113.1'], []])
      expect(brief(v6(addresses), 'node of c', '2606:2800:1::7 tcp 443')).toBe('broken family');
    expect(brief(v6(['203.0.113.1', '2a00:1450:1::9']), 'node of c', '2606:2800:1::7 tcp 443')).toBe('pass');
  });

  test('a machine of one family reaches none of the other, in either direction', () => {
    const plan = one({}, '10.1.0.0/24', add('inUse', { prefix: 'fd00:1::/64', owner: 'lab', networkId: N1 }));
    expect(brief(plan, '10.1.0.9 in n1', 'fd00:1::7 tcp 22')).toBe('broken family');
    expect(brief(plan, 'fd00:1::7 in n1', '10.1.0.9 tcp 22')).toBe('broken family');
    expect(brief(plan, 'fd00:1::7 in n1', 'fd00:1::8 tcp 22')).toBe('pass');
  });

  test('a translating firewall with IPv4 addresses alone does not take IPv6 to the internet', () => {
    const plan = one(
      { family: 'ipv6' },
      'fd00:20::/64',
      add('subnets', subnet('fd00:9::/64', { routeTableId: testId('routeTables', 2) })),
      add('routeTables', {}, { name: 'out', networkId: N1 }).slice(1),
      add('firewalls', { name: 'wall', subnetId: SUBNET, publicAddresses: ['203.0.113.1'], defaultAction: 'allow' }),
      add('routes', route(1, '::/0', 'firewall', { firewallId: testId('firewalls', 1) }), route(2, '::/0', 'internet')),
    );
    expect(brief(plan, 'node of c', '2606:2800:1::7 tcp 443')).toBe('broken family');
  });
});

describe('the lists of a subnet hold whatever enters or leaves it', () => {
  /** Overlay nodes in two zones with a subnet each; what the lists of the second one let in. */
  const zoned = (podMode: Cluster['podMode'], ...rules: Parameters<typeof fence>[2][]) =>
    applied(ground(1), [
      setOperation('sites', testId('sites', 1), { zones: ['a', 'b'] }),
      ...add(
        'subnets',
        subnet('10.1.0.0/24', { zone: 'a', purpose: 'node' }),
        subnet('10.3.0.0/24', { zone: 'b', purpose: 'node' }),
      ),
      ...add('clusters', cluster('c', { podMode })),
      ...add(
        'allocations',
        { clusterId: testId('clusters', 1), purpose: 'node', zone: 'a', prefix: '10.1.0.0/24' },
        { clusterId: testId('clusters', 1), purpose: 'node', zone: 'b', prefix: '10.3.0.0/24' },
        { clusterId: testId('clusters', 1), purpose: 'pod', prefix: '10.64.0.0/16' },
      ),
      ...listed(2, { direction: 'out', protocol: 'any' }, ...rules),
    ]);
  const vxlan: Parameters<typeof fence>[2] = { direction: 'in', protocol: 'udp', ports: ['4789'] };

  test('the outer packets of an overlay between zones are held by them: VXLAN, UDP 4789 (RFC 7348 8.1)', () => {
    const across = (plan: Plan) => brief(plan, 'pod of c, zone a', 'pod of c, zone b tcp 8080');
    expect(across(zoned('overlay'))).toBe('refused filter');
    expect(across(zoned('overlay', vxlan))).toBe('pass');
    expect(across(zoned('overlay', { ...vxlan, ports: ['6081'] }))).toBe('refused filter');
    // Within a zone nothing leaves the subnet.
    expect(brief(zoned('overlay'), 'pod of c, zone b', 'pod of c, zone b tcp 8080')).toBe('pass');
  });

  test('routed pods enter and leave by the subnet of their node', () => {
    const across = (plan: Plan) => brief(plan, 'pod of c, zone a', 'pod of c, zone b tcp 8080');
    expect(across(zoned('routed', vxlan))).toBe('refused filter');
    expect(across(zoned('routed', { direction: 'in', ports: ['8080'] }))).toBe('pass');
  });

  test('a closed list on the subnet of a firewall stops what is led through it', () => {
    const held = (...rules: Parameters<typeof fence>[2][]) => applied(hubWorld(), listed(1, ...rules));
    expect(brief(hubWorld(), 'node of a', 'node of b tcp 22')).toBe('pass');
    expect(brief(held(), 'node of a', 'node of b tcp 22')).toBe('refused filter');
    const there: Parameters<typeof fence>[2][] = [
      { direction: 'in', ports: ['22'] },
      { direction: 'out', ports: ['22'] },
    ];
    // The answers pass it too: from port 22 to a client port.
    expect(brief(held(...there), 'node of a', 'node of b tcp 22')).toBe('refused filter back');
    const both = there.map((rule) => ({ ...rule, ports: ['22', '1024-65535'] }));
    expect(brief(held(...both), 'node of a', 'node of b tcp 22')).toBe('pass');
  });

  test('packets between two machines of one subnet meet none of its lists (common practice)', () => {
    const plan = one(
      {},
      '10.1.0.0/24',
      add('subnets', subnet('10.1.0.0/24', { purpose: 'node' })),
      add('inUse', { prefix: '10.2.0.0/24', owner: 'desk', networkId: N1 }),
      listed(1),
    );
    expect(brief(plan, 'node of c', 'node of c tcp 22')).toBe('pass');
    expect(brief(plan, 'node of c', 'range desk tcp 22')).toBe('refused filter');
    expect(brief(plan, 'range desk', 'node of c tcp 22')).toBe('refused filter');
  });
});

test('peering is not transitive: what a peer does not pass on itself is dropped (common practice)', () => {
  const chain = (kind: 'peering' | 'tunnel', ...more: Operation[][]) =>
    applied(ground(3), [
      ...add(
        'links',
        { name: 'ab', kind, networkIds: [testId('networks', 1), testId('networks', 2)] },
        { name: 'bc', kind, networkIds: [testId('networks', 2), testId('networks', 3)] },
      ),
      ...add('routeTables', ...[1, 3].map((n) => ({ name: `t${n}`, networkId: testId('networks', n), isMain: true }))),
      ...add(
        'inUse',
        ...['a', 'b', 'c'].map((owner, i) => ({
          prefix: `10.${i + 1}.0.0/24`,
          owner,
          networkId: testId('networks', i + 1),
        })),
      ),
      ...add(
        'routes',
        route(1, '10.3.0.0/24', 'link', { linkId: testId('links', 1) }),
        route(2, '10.1.0.0/24', 'link', { linkId: testId('links', 2) }),
      ),
      ...more.flat(),
    ]);
  expect(brief(chain('peering'), 'range a', 'range c tcp 80')).toBe('broken no-taker');
  // The neighbour itself is reached, and a tunnel has only one other side.
  expect(brief(chain('peering'), 'range a', 'range b tcp 80')).toBe('pass');
  expect(brief(chain('tunnel'), 'range a', 'range c tcp 80')).toBe('pass');
  const passesOn = (link: number, prefix: string) => ({
    linkId: testId('links', link),
    networkId: testId('networks', 2),
    advertises: ['10.2.0.0/24', prefix],
  });
  const told = add('attachments', passesOn(1, '10.3.0.0/24'), passesOn(2, '10.1.0.0/24'));
  expect(brief(chain('peering', told), 'range a', 'range c tcp 80')).toBe('pass');
});

// What nodes wrap goes to the node that the pod runs on (RFC 7348 4.1: the outer destination is that of the tunnel end before the inner one).
describe('a tunnel between nodes ends at the node of the pod that is asked, with the lists of its pool and its zone', () => {
  const apart = add('nodePools', {
    name: 'apart',
    clusterId: testId('clusters', 1),
    nodesNow: 2,
    nodesHorizon: 2,
    nodesMax: 2,
  });
  const atPool = { clusterIds: [], nodePoolIds: [testId('nodePools', 1)], defaultOut: 'allow' } as const;
  const world = (fields: Partial<Cluster>, ...rules: Parameters<typeof fence>[2][]) =>
    one(fields, '10.1.0.0/24', podRange, apart, fence(1, atPool, ...rules));
  const podRange = add('allocations', {
    id: testId('allocations', 2),
    clusterId: testId('clusters', 1),
    purpose: 'pod',
    prefix: '100.64.0.0/20',
  });
  const overlay = { podMode: 'overlay', encapsulation: 'vxlan' } as const;

  test('its pool lets in port 80 and not what wraps it: UDP 4789 in an overlay of VXLAN', () => {
    const [to, web] = ['pod of c, pool apart tcp 80', { ports: ['80'] }];
    expect(brief(world(overlay, web), 'pod of c', to)).toBe('refused filter');
    expect(brief(world(overlay, web), 'node of c', to)).toBe('refused filter');
    expect(brief(world(overlay, { protocol: 'udp', ports: ['4789'] }), 'pod of c', to)).toBe('pass');
    // The main nodes have no list, so that calls to their pods pass; from the pool its answers come in wrapped, and are refused.
    expect(brief(world(overlay, web), 'pod of c', 'pod of c tcp 80')).toBe('pass');
    expect(brief(world(overlay, web), 'pod of c, pool apart', 'pod of c tcp 80')).toBe('refused filter back');
  });
  test('the outer packet goes by the routes of the network: into a drop, or through a firewall that allows UDP 4789 or does not', () => {
    const routed = (...more: Operation[][]) =>
      one(overlay, '10.1.0.0/24', podRange, apart, add('routes', route(1, '10.1.0.0/25', 'drop')), ...more);
    expect(brief(routed(), 'pod of c', 'pod of c tcp 80')).toBe('refused route-drops');
    // Half of the nodes lies behind a firewall; its own table knows the network alone.
    const walled = (ports: string[]) =>
      one(
        overlay,
        '10.1.0.0/24',
        podRange,
        add('subnets', subnet('10.1.255.0/28', { routeTableId: testId('routeTables', 2) })),
        add('routeTables', { id: testId('routeTables', 2), name: 'behind', networkId: N1 }),
        add('firewalls', { name: 'wall', subnetId: SUBNET }),
        add('firewallRules', { firewallId: testId('firewalls', 1), position: 10, protocol: 'udp', ports }),
        add('routes', { ...route(1, '10.1.0.0/25', 'firewall'), firewallId: testId('firewalls', 1) }),
      );
    expect(brief(walled(['4789']), 'pod of c', 'pod of c tcp 80')).toBe('pass');
    expect(brief(walled(['80']), 'pod of c', 'pod of c tcp 80')).toBe('refused firewall');
  });
  test('so with pods that are routed and encrypted between nodes: UDP 51820', () => {
    const routed = { podMode: 'routed', encryption: 'wireguard' } as const;
    const to = 'pod of c, pool apart tcp 80';
    expect(brief(world(routed, { ports: ['80'] }), 'pod of c', to)).toBe('refused filter');
    expect(brief(world(routed, { protocol: 'udp', ports: ['51820'] }), 'pod of c', to)).toBe('pass');
  });
  test('so between zones: the list of the other zone’s subnet sees the outer packet', () => {
    const zoned = (...rules: Parameters<typeof fence>[2][]) =>
      applied(one(overlay, '10.1.0.0/24', [setOperation('sites', testId('sites', 1), { zones: ['a', 'b'] })]), [
        setOperation('allocations', testId('allocations', 1), { zone: 'a' }),
        ...add(
          'allocations',
          {
            id: testId('allocations', 2),
            clusterId: testId('clusters', 1),
            purpose: 'node',
            prefix: '10.1.1.0/24',
            zone: 'b',
          },
          { id: testId('allocations', 3), clusterId: testId('clusters', 1), purpose: 'pod', prefix: '100.64.0.0/20' },
        ),
        ...add('subnets', subnet('10.1.1.0/24', { purpose: 'node', zone: 'b' })),
        ...listed(1, ...rules),
      ]);
    const open = { protocol: 'udp', ports: ['4789'] } as const;
    const both = [open, { ...open, direction: 'out' as const }];
    const [from, to] = ['pod of c, zone a', 'pod of c, zone b tcp 80'];
    expect(brief(zoned({ ports: ['80'] }), from, to)).toBe('refused filter');
    expect(brief(zoned(open), from, to)).toBe('refused filter back');
    expect(brief(zoned(...both), from, to)).toBe('pass');
  });
});

// A connection is known by both its addresses (RFC 9293 3.1, RFC 5382 4): its answers come from the address that was asked, untranslated
// where the question was, and a device that translated it knows them wherever they come from. Found by the kernel, then derived by hand.
describe('answers and the devices that translate', () => {
  const n2 = testId('networks', 2);
  const [nat, wall] = [{ natDeviceId: testId('natDevices', 1) }, { firewallId: testId('firewalls', 1) }];
  /** Desk 10.2.200.0/24 in n2; cluster c in n1, its nodes in 10.1.0.0/24, each network with an edge of its own and a main table. */
  const two = (...more: Operation[][]) =>
    applied(ground(2), [
      ...add(
        'routeTables',
        { name: 'main1', networkId: N1, isMain: true },
        { name: 'main2', networkId: n2, isMain: true },
      ),
      ...add(
        'routeTables',
        { id: testId('routeTables', 3), name: 'edge1', networkId: N1 },
        { id: testId('routeTables', 4), name: 'edge2', networkId: n2 },
      ),
      ...add(
        'subnets',
        subnet('10.1.255.0/28', { isPublic: true, internetEgress: 'direct', routeTableId: testId('routeTables', 3) }),
        subnet('10.2.255.0/28', {
          networkId: n2,
          isPublic: true,
          internetEgress: 'direct',
          routeTableId: testId('routeTables', 4),
        }),
      ),
      ...add('clusters', cluster('c')),
      ...ranges([1, 'node', '10.1.0.0/24']),
      ...add('inUse', { prefix: '10.2.200.0/24', owner: 'desk', networkId: n2 }),
      ...add('links', { name: 'l', kind: 'tunnel', networkIds: [N1, n2] }),
      ...more.flat(),
    ]);
  const NAT2 = add('natDevices', { name: 'nat2', subnetId: testId('subnets', 2), publicAddresses: ['203.0.113.12'] });
  const wall1 = (fields: Partial<Firewall>) =>
    add('firewalls', {
      name: 'wall1',
      subnetId: SUBNET,
      translates: true,
      defaultAction: 'allow',
      publicAddresses: ['203.0.113.51'],
      ...fields,
    });
  const asked = (plan: Plan, to = 'node of c udp 53') => brief(plan, 'range desk', to);

  test('a firewall leaves answers of what it has passed as they are: a private source does not come over the internet', () => {
    const plan = (isStateful: boolean) =>
      two(
        NAT2,
        wall1({ isStateful }),
        add(
          'routes',
          // The desk's question goes out by its NAT device and over the link, the answer by the firewall to the internet.
          { ...route(2, '10.1.0.0/24', 'nat'), ...nat },
          { ...route(1, '10.1.0.0/25', 'firewall'), ...wall },
          { ...route(1, '0.0.0.0/0', 'firewall'), ...wall },
          route(3, '0.0.0.0/0', 'internet'),
          route(4, '0.0.0.0/0', 'internet'),
        ),
      );
    expect(asked(plan(true))).toBe('broken private-source back');
    expect(asked(plan(false))).toBe('broken private-source back');
  });
  test('an answer that a device on its own way translates comes from another address than was asked', () => {
    const plan = two(
      add('nodePools', {
        name: 'open',
        clusterId: testId('clusters', 1),
        nodesNow: 1,
        nodesHorizon: 1,
        nodesMax: 1,
        isPublic: true,
      }),
      wall1({ isStateful: false }),
      add('routes', { ...route(1, '0.0.0.0/0', 'firewall'), ...wall }, route(3, '0.0.0.0/0', 'internet')),
    );
    // The internet asks the node's own public address; the answer leaves by the firewall, under its address.
    expect(brief(plan, 'the internet', 'node of c, pool open udp 53')).toBe('broken other-source back');
  });
  test('a NAT device knows an answer to what it translated that comes back to it from inside', () => {
    const plan = two(
      NAT2,
      add('inUse', { id: testId('inUse', 2), prefix: '10.2.100.0/24', owner: 'bench', networkId: n2 }),
      add('routes', { ...route(2, '10.2.100.0/25', 'nat'), ...nat }, { ...route(2, '203.0.113.0/24', 'nat'), ...nat }),
    );
    const { verdict, flows } = ask(plan, 'range desk', 'range bench udp 53');
    expect(verdict).toBe('pass');
    // The half that the route leads to the device comes back to it.
    expect(flows.map(({ back }) => back.filter(({ event }) => event === 'translated').length).sort()).toEqual([0, 1]);
    // Without the way back to its address there is none.
    const without = applied(plan, [{ op: 'remove', kind: 'routes', id: testId('routes', 2) }]);
    expect(asked(without, 'range bench udp 53')).toBe('broken no-route back');
  });
});

// Common practice (equal-cost multipath): packets take any of the ways, and answers any of theirs.
describe('of ways that are as good each is asked, there and back, and the worst answers', () => {
  const [n1, n2] = [1, 2].map((n) => testId('networks', n)) as [string, string];
  const both = (second: Partial<Link>, ...more: Operation[][]) =>
    applied(ground(2), [
      ...add('clusters', cluster('a'), cluster('b', { networkId: n2 })),
      ...ranges([1, 'node', '10.1.0.0/24'], [2, 'node', '10.2.0.0/24']),
      ...add(
        'links',
        { name: 'first', kind: 'circuit', networkIds: [n1, n2], mtu: 1500 },
        { name: 'second', kind: 'circuit', networkIds: [n1, n2], mtu: 1500, ...second },
      ),
      ...more.flat(),
    ]);
  const way = (plan: Plan, bytes = 576) => ask(plan, 'node of a', 'node of b tcp 80', bytes);

  test('two circuits alike: it passes by both', () => {
    const { verdict, flows } = way(both({}));
    expect([verdict, flows[0]?.room]).toEqual(['pass', 1500]);
    const [routed] = flows[0]?.forth.filter(({ event }) => event === 'routed') ?? [];
    expect(
      routed?.event === 'routed' && 'lookUp' in routed ? routed.lookUp.found.lost.map(({ why }) => why) : [],
    ).toEqual(['equal']);
  });
  test('packets of 1,400 bytes do not fit through the second one, and it says so; smaller ones pass with the room of both', () => {
    expect(way(both({ mtu: 1300 }))).toMatchObject({ verdict: 'pass', flows: [{ room: 1300 }] });
    expect(formatTrace(both({ mtu: 1300 }), way(both({ mtu: 1300 })))).toContain(
      'packets of up to 1,300 bytes pass whole. Packets take the link first or second, whichever: each was followed.',
    );
    const large = way(both({ mtu: 1300 }), 1400);
    expect(formatTrace(both({ mtu: 1300 }), large)).toContain('Packets take the link first or second, whichever');
    expect([large.verdict, large.flows[0]?.failed?.failure.code]).toEqual(['broken', 'too-big']);
  });
  test('answers that may come back by a way that does not carry them: broken on the way back', () => {
    // Network a takes nothing over the second circuit, so that it sends by the first alone; b may answer by either.
    const deaf = add('attachments', { linkId: testId('links', 2), networkId: n1, accepts: 'none', acceptsFromIds: [] });
    expect(way(both({ mtu: 1300 }, deaf), 1400).flows[0]?.failed).toMatchObject({
      failure: { code: 'too-big' },
      isBack: true,
    });
    expect(way(both({}, deaf), 1400).verdict).toBe('pass');
  });
  // RFC 4271 5.1.5: the higher degree of preference wins; each side has its own.
  test('a local preference makes one of them stand by, for what the network that has it sends', () => {
    const prefers = (network: string, link: number, localPreference: number) =>
      add('attachments', {
        id: testId('attachments', link + 10 * Number(network === n2)),
        linkId: testId('links', link),
        networkId: network,
        localPreference,
      });
    const narrow = { mtu: 1300 };
    // The first one before the second, on both sides: 1,400 bytes pass.
    const first = [prefers(n1, 1, 200), prefers(n2, 1, 200)];
    expect(way(both(narrow, ...first), 1400).verdict).toBe('pass');
    // On one side alone: the answers may still come back by the second.
    expect(way(both(narrow, prefers(n1, 1, 200)), 1400).flows[0]?.failed).toMatchObject({ isBack: true });
    // Less than usual for the first: all goes by the second, and does not fit.
    const second = way(both(narrow, prefers(n1, 1, 90), prefers(n2, 1, 90)), 1400);
    expect([second.verdict, second.flows[0]?.failed?.isBack]).toEqual(['broken', false]);
    // It is asked before the order of kinds that the provider has: a peering comes before a circuit otherwise.
    const mixed = (...more: Operation[][]) => both({ kind: 'peering', mtu: 1300 }, ...more);
    expect(way(mixed(), 1400).verdict).toBe('broken');
    expect(way(mixed(...first), 1400).verdict).toBe('pass');
  });
  test('32 circuits alike are 1,024 ways there and back, and all are followed; of 33 it is not known', () => {
    const many = (count: number, mtu: number) =>
      way(
        both(
          {},
          add(
            'links',
            ...Array.from({ length: count - 2 }, (_, i) => ({
              id: testId('links', i + 3),
              name: `c${i}`,
              kind: 'circuit' as const,
              networkIds: [n1, n2],
              mtu: i + 3 === count ? mtu : 1500,
            })),
          ),
        ),
        1400,
      );
    expect(many(32, 1500).verdict).toBe('pass');
    // The last of them is the last that is taken there, and carries less.
    expect(many(32, 1300).flows[0]?.failed?.failure.code).toBe('too-big');
    expect(many(33, 1500)).toMatchObject({
      verdict: 'unknown',
      flows: [{ failed: { failure: { code: 'many-ways' } } }],
    });
  });
  test('the same range of two networks is another thing: nobody knows who answers', () => {
    const plan = applied(both({}), [
      ...add('networks', { id: testId('networks', 3), name: 'n3' }),
      ...add('inUse', { prefix: '10.2.0.0/24', owner: 'x', networkId: testId('networks', 3) }),
      ...add('links', {
        id: testId('links', 3),
        name: 'third',
        kind: 'circuit',
        networkIds: [n1, testId('networks', 3)],
      }),
    ]);
    expect(way(plan).flows[0]?.failed?.failure.code).toBe('ambiguous');
  });
});

// RFC 1191 4: a router that cannot send a packet on whole tells its sender. RFC 2923 2.1: where that is filtered, connections hang.
describe('whether the sender of a packet that is too large hears of it', () => {
  const [n1, n2] = [1, 2].map((n) => testId('networks', n)) as [string, string];
  const world = (...more: Operation[][]) =>
    applied(ground(2), [
      ...add('clusters', cluster('a'), cluster('b', { networkId: n2 })),
      ...ranges([1, 'node', '10.1.0.0/24'], [2, 'node', '10.2.0.0/24']),
      ...add('links', { name: 'narrow', kind: 'circuit', networkIds: [n1, n2], mtu: 1300 }),
      ...more.flat(),
    ]);
  /** A list of a's machines that allows TCP, and what else it is given. */
  const list = (n: number, isStateful: boolean, ...rules: Parameters<typeof fence>[2][]) =>
    fence(n, { isStateful, mode: 'ordered', defaultOut: 'allow' }, { protocol: 'tcp' }, ...rules);
  const heard = (plan: Plan, bytes = 1400) => {
    const failed = ask(plan, 'node of a', 'node of b tcp 80', bytes).flows[0]?.failed;
    const { failure } = failed ?? {};
    return failure?.code === 'too-big' ? [failed?.isBack, failure.message?.isHeard] : [failure?.code];
  };
  const icmp = (peers: string[]) => ({ protocol: 'icmp', peers }) as const;

  test('without a list, with one that keeps state, and with one that lets ICMP in from everywhere it does', () => {
    expect(heard(world())).toEqual([false, true]);
    expect(heard(world(list(1, true)))).toEqual([false, true]);
    expect(heard(world(list(1, false, icmp([]))))).toEqual([false, true]);
  });
  test('a list without state that lets ICMP in from nobody, or from the plan alone, keeps it from that, and is named', () => {
    expect(heard(world(list(1, false)))).toEqual([false, false]);
    // The router that tells it may have any address.
    expect(heard(world(list(1, false, icmp(['10.0.0.0/8']))))).toEqual([false, false]);
    expect(
      formatTrace(world(list(1, false)), ask(world(list(1, false)), 'node of a', 'node of b tcp 80', 1400)),
    ).toContain(
      'Its sender does not hear of it: large packets vanish, and connections hang. The filter fence of node of a refuses icmp too big',
    );
  });
  test('a list of its subnet counts as well, and that of the other end does not', () => {
    const at = add('subnets', subnet('10.1.0.0/24', { purpose: 'node' }));
    expect(heard(world(at, listed(1, { protocol: 'tcp' }, { protocol: 'tcp', direction: 'out' })))).toEqual([
      false,
      false,
    ]);
    expect(heard(world(list(2, false)))).toEqual([false, true]);
  });
  test('a rule for this message is enough, and one for another message is not (RFC 1191 4, RFC 4443 3.2)', () => {
    const lets = (...messages: FilterRule['icmp']) => heard(world(list(1, false, { ...icmp([]), icmp: messages })))[1];
    expect(lets('too big')).toBe(true);
    expect(lets('unreachable')).toBe(true);
    expect(lets('echo reply', 'time exceeded')).toBe(false);
  });
  test('a question by ICMP is an echo: without state the request and the reply have a rule each', () => {
    const ping = (...rules: Parameters<typeof fence>[2][]) =>
      brief(world(fence(2, { isStateful: false, mode: 'ordered' }, ...rules)), 'node of a', 'node of b icmp');
    const request = { ...icmp([]), icmp: ['echo request'] } satisfies Partial<FilterRule>;
    expect(ping(request)).toBe('refused filter back');
    expect(ping(request, { ...request, direction: 'out' })).toBe('refused filter back');
    expect(ping(request, { ...request, direction: 'out', icmp: ['echo reply'] })).toBe('pass');
    expect(ping({ ...request, icmp: ['echo reply'] })).toBe('refused filter');
  });
  // The message is a packet like every other (RFC 4890 4.3.1): all on its way holds it, and not only the lists of its sender.
  test('a firewall and a list without state on the way drop it too, and are named', () => {
    const [tcp, out] = [{ protocol: 'tcp' }, { direction: 'out' }] as const;
    const behind = (isStateful: boolean, rules: Partial<FirewallRule>[], ...more: Operation[][]) =>
      applied(hubWorld({ firewall: { isStateful }, rules }), [
        setOperation('networks', n2, { mtu: 1300 }),
        ...more.flat(),
      ]);
    expect(heard(behind(true, [tcp]))).toEqual([false, true]);
    expect(heard(behind(false, [tcp]))).toEqual([false, false]);
    expect(heard(behind(false, [tcp, { protocol: 'icmp' }]))).toEqual([false, true]);
    const dropped = behind(false, [tcp]);
    expect(formatTrace(dropped, ask(dropped, 'node of a', 'node of b tcp 80', 1400))).toContain(
      'Its sender does not hear of it: large packets vanish, and connections hang. The firewall wall',
    );
    // On the subnet of the firewall: out of it towards the sender, into it from beyond.
    const both = [tcp, { ...tcp, ...out }];
    expect(heard(behind(true, [tcp], listed(1, ...both)))).toEqual([false, false]);
    expect(heard(behind(true, [tcp], listed(1, ...both, icmp([]))))).toEqual([false, false]);
    expect(heard(behind(true, [tcp], listed(1, ...both, icmp([]), { ...icmp(['10.1.0.0/24']), ...out })))).toEqual([
      false,
      true,
    ]);
  });
  test('where the network of the router has no route to the sender, it does not hear either, and the reason is said', () => {
    const n3 = testId('networks', 3);
    // a - wide - n2 - narrow - n3: what n2 hears of a’s network decides whether its router finds a.
    const plan = (advertises: string[]) =>
      applied(ground(3), [
        ...add('clusters', cluster('a')),
        ...ranges([1, 'node', '10.1.0.0/24']),
        ...add('inUse', { prefix: '10.3.0.0/24', owner: 'far', networkId: n3 }),
        ...add(
          'links',
          { name: 'wide', kind: 'circuit', networkIds: [n1, n2] },
          { name: 'narrow', kind: 'circuit', networkIds: [n2, n3], mtu: 1300 },
        ),
        ...add(
          'attachments',
          { linkId: testId('links', 1), networkId: n2, advertises: ['10.3.0.0/24'] },
          { linkId: testId('links', 1), networkId: n1, advertises },
        ),
      ]);
    const of = (advertises: string[]) =>
      ask(plan(advertises), 'node of a', 'range far tcp 80', 1400).flows[0]?.failed?.failure;
    expect(of(['10.1.0.0/24'])).toMatchObject({ code: 'too-big', message: { isHeard: true, why: undefined } });
    expect(of(['10.9.0.0/24'])).toMatchObject({
      code: 'too-big',
      message: { isHeard: false, why: { failure: { code: 'no-route', networkId: n2 } } },
    });
  });
  test('what its own network does not take whole the sender knows itself', () => {
    const wide = { mtu: 9000 };
    const large = world([setOperation('networks', n2, wide), setOperation('links', testId('links', 1), wide)]);
    expect(heard(large, 1400)).toEqual([undefined]);
    expect(ask(large, 'node of b', 'node of a tcp 80', 9000).flows[0]?.failed?.failure).toMatchObject({
      code: 'too-big',
      message: { isHeard: true },
    });
  });
});

describe('what was not said is asked in every way, and the worst answers', () => {
  const need = (fields: object, ...more: Operation[][]) =>
    applied(hubWorld({ rules: [{ ports: ['440'] }] }), [
      ...add('needs', { name: 'hosts', prefixes: ['198.51.100.0/24'], ports: ['440-450'], ...fields }),
      ...more.flat(),
    ]);

  test('every port of a range, and every part of a prefix that a rule or route tells apart', () => {
    expect(brief(need({}), 'node of a', 'need hosts')).toBe('refused firewall');
    expect(brief(need({ ports: ['440'] }), 'node of a', 'need hosts')).toBe('pass');
    const half = add('routes', {}, {}, {}, {}, route(1, '198.51.100.128/25', 'drop')).slice(4);
    expect(brief(need({ ports: ['440'] }, half), 'node of a', 'need hosts')).toBe('refused route-drops');
    const firewall = (destinations: string[]) =>
      applied(hubWorld({ rules: [{ ports: ['440'], destinations }] }), [
        ...add('needs', { name: 'hosts', prefixes: ['198.51.100.0/24'], ports: ['440'] }),
      ]);
    expect(brief(firewall(['198.51.100.0/25']), 'node of a', 'need hosts')).toBe('refused firewall');
    expect(brief(firewall(['198.51.100.0/25', '198.51.100.128/25']), 'node of a', 'need hosts')).toBe('pass');
  });

  test('every zone: where one has no way out, it does not pass', () => {
    const plan = applied(ground(1), [
      setOperation('sites', testId('sites', 1), { zones: ['a', 'b'] }),
      ...add(
        'routeTables',
        { name: 'a', networkId: N1, isMain: true, zone: 'a' },
        { name: 'b', networkId: N1, isMain: true, zone: 'b' },
      ),
      ...add('clusters', cluster('c', {})),
      ...add(
        'allocations',
        ...['a', 'b'].map((zone, i) => ({
          clusterId: testId('clusters', 1),
          purpose: 'node' as const,
          zone,
          prefix: `193.0.${i}.0/24`,
        })),
      ),
      ...toInternet,
    ]);
    expect(brief(plan, 'node of c, zone a', '198.51.100.7 tcp 443')).toBe('pass');
    expect(brief(plan, 'node of c', '198.51.100.7 tcp 443')).toBe('broken no-route');
    expect(formatTrace(plan, ask(plan, 'node of c', '198.51.100.7 tcp 443'))).toContain('This is one of 2 flows');
  });

  test('a part of a range in use that a rule tells apart', () => {
    const plan = (sources: string[]) =>
      applied(hubWorld({ rules: [{ ports: ['22'], sources }] }), [
        ...add('inUse', { prefix: '10.4.0.0/24', owner: 'desk', networkId: testId('networks', 1) }),
        // The answers are led back through the firewall.
        ...add(
          'routes',
          {},
          {},
          {},
          {},
          route(1, '10.4.0.0/24', 'firewall', { firewallId: testId('firewalls', 1) }),
        ).slice(4),
      ]);
    expect(brief(plan(['10.4.0.0/25']), 'range desk', 'node of b tcp 22')).toBe('refused firewall');
    expect(brief(plan(['10.4.0.0/24']), 'range desk', 'node of b tcp 22')).toBe('pass');
  });
});

test('an address that its network does not hold is no place to ask from', () => {
  const plan = one({}, '10.1.0.0/24');
  expect(brief(plan, '10.222.0.9 in n1', 'node of c tcp 22')).toBe('unknown host.not-held');
  expect(formatTrace(plan, ask(plan, '10.222.0.9 in n1', 'node of c tcp 22'))).toContain('n1 does not hold 10.222.0.9');
  // One of a node is held by the lists of its cluster.
  const closed = applied(
    one({}, '10.1.0.0/24', add('inUse', { prefix: '10.2.0.0/24', owner: 'desk', networkId: N1 })),
    [...fence(1, { defaultIn: 'allow', defaultOut: 'deny' })],
  );
  expect(brief(closed, '10.1.0.9 in n1', 'range desk tcp 80')).toBe('refused filter');
});

test('pods that tunnels join are asked under one family too', () => {
  const plan = joined({ clusters: [{}, { family: 'ipv6' }] });
  expect(ask(plan, 'pod of c1', 'pod of c2 tcp 8080').verdict).not.toBe('pass');
});

// RFC 8200 5: every link takes 1,280 bytes whole. An interface that takes less has no IPv6 at all (tried with the kernel).
describe('what takes less than 1,280 bytes carries no IPv6, however small the packet', () => {
  const pods = (family: 'ipv6' | 'dual', mtu: number) =>
    applied(ground(1), [
      setOperation('networks', N1, { mtu }),
      ...add('routeTables', { name: 'main', networkId: N1, isMain: true }),
      ...add('clusters', cluster('c', { family, podMode: 'overlay', encapsulation: 'vxlan' })),
      ...ranges(
        [1, 'node', '2001:db8:1::/64'],
        [1, 'pod', '2001:db8:f00::/56'],
        [1, 'node', '10.1.0.0/24'],
        [1, 'pod', '10.64.0.0/16'],
      ).slice(0, family === 'dual' ? 4 : 2),
    ]);
  test('pods inside VXLAN on IPv6, which takes 70 bytes: 1,350 of the network are enough, 1,349 are not', () => {
    expect(brief(pods('ipv6', 1350), 'pod of c', 'pod of c tcp 8080')).toBe('pass');
    expect(brief(pods('ipv6', 1349), 'pod of c', 'pod of c tcp 8080')).toBe('broken ipv6-narrow');
    expect(brief(pods('ipv6', 1349), 'node of c', 'node of c tcp 10250')).toBe('pass');
    expect(brief(pods('dual', 1349), 'pod of c', 'pod of c tcp 8080')).toBe('pass');
  });

  test('a link that wraps in WireGuard, 60 bytes on IPv4: 1,340 are enough, 1,339 are not, and IPv4 passes by both', () => {
    const linked = (mtu: number, six: boolean) =>
      applied(ground(2), [
        ...add('links', {
          name: 'wire',
          kind: 'tunnel',
          networkIds: [N1, testId('networks', 2)],
          mtu,
          encapsulation: 'wireguard',
        }),
        ...add(
          'inUse',
          ...[1, 2].map((n) => ({
            prefix: six ? `2001:db8:${n}::/64` : `10.${n}.0.0/24`,
            owner: `o${n}`,
            networkId: testId('networks', n),
          })),
        ),
      ]);
    const words = (n: number, six: boolean) => `range ${six ? `2001:db8:${n}::/64` : `10.${n}.0.0/24`} (o${n})`;
    const asked = (mtu: number, six: boolean) => brief(linked(mtu, six), words(1, six), `${words(2, six)} tcp 443`);
    expect([asked(1340, true), asked(1339, true)]).toEqual(['pass', 'broken ipv6-narrow']);
    expect([asked(1340, false), asked(1339, false)]).toEqual(['pass', 'pass']);
  });

  test('a tunnel of a connection: WireGuard on IPv6 takes 80', () => {
    const six = (mtu: number) =>
      applied(joined({ clusters: [{ family: 'ipv6' }, { family: 'ipv6' }] }), [
        ...[1, 2].flatMap((n) => [
          setOperation('networks', testId('networks', n), { mtu }),
          ...['node', 'pod', 'service'].map((_, at) =>
            setOperation('allocations', testId('allocations', 3 * (n - 1) + at + 1), {
              prefix: [`2001:db8:${n}::/64`, `2001:db8:${n}00::/56`, `2001:db8:${n}:ff::/112`][at],
            }),
          ),
        ]),
      ]);
    expect(brief(six(1360), 'pod of c1', 'pod of c2 tcp 8080')).toBe('pass');
    expect(brief(six(1359), 'pod of c1', 'pod of c2 tcp 8080')).toBe('broken ipv6-narrow');
  });
});

// What the plan does not say is unknown, and never passes.
test('of two ends outside the plan it says nothing, whatever the internet does between them', () => {
  const plan = one({}, '10.1.0.0/24', toInternet);
  expect(brief(plan, 'the internet', '192.0.2.5 tcp 443')).toBe('unknown trace.elsewhere');
  expect(brief(plan, 'the internet', '2001:db8:5::5 tcp 443')).toBe('unknown trace.elsewhere');
  expect(brief(plan, 'the internet', '10.1.0.2 tcp 443')).toBe('refused private-destination');
});

describe('while a zone is lost', () => {
  const SITE = testId('sites', 1);
  /** Nodes in zones a and b, and the NAT device of all in zone a. */
  const two = applied(ground(1), [
    setOperation('sites', SITE, { zones: ['a', 'b'] }),
    ...add('routeTables', { name: 'main', networkId: N1, isMain: true }, { name: 'out', networkId: N1 }),
    ...add('clusters', cluster('c')),
    ...add(
      'allocations',
      ...['a', 'b'].map((zone, at) => ({
        clusterId: testId('clusters', 1),
        purpose: 'node' as const,
        zone,
        prefix: `10.1.${at}.0/24`,
      })),
    ),
    ...add('subnets', subnet('10.9.0.0/28', { zone: 'a', isPublic: true, routeTableId: testId('routeTables', 2) })),
    ...add('natDevices', { name: 'nat', subnetId: SUBNET, publicAddresses: ['203.0.113.1'] }),
    ...add(
      'routes',
      route(1, '0.0.0.0/0', 'nat', { natDeviceId: testId('natDevices', 1) }),
      route(2, '0.0.0.0/0', 'internet'),
    ),
  ]);
  const without = (from: string, ...zones: string[]) => {
    const lost = new Set(zones.map((zone) => `${SITE} ${zone}`));
    const forwarding = Forwarding.of(two).with({ ...NO_FAULTS, zones: lost });
    const answer = trace(forwarding, expectGood(readPacketQuestion(two, from, 'the internet tcp 443', 576)));
    return [
      answer.verdict,
      answer.flows[0]?.failed?.failure.code ?? answer.lack?.code,
      formatTrace(two, answer),
    ] as const;
  };

  test('nodes of the others go on as far as their devices stand elsewhere', () => {
    expect(without('node of c')[0]).toBe('pass');
    expect(without('node of c', 'b')[0]).toBe('pass');
    expect(without('node of c', 'a')).toEqual([
      'broken',
      'zone-lost',
      expect.stringContaining('nat is in zone a, which is lost.') as string,
    ]);
    expect(without('node of c, zone b', 'a').slice(0, 2)).toEqual(['broken', 'zone-lost']);
  });

  test('who stands in the zone itself, or in all that are lost, is nobody', () => {
    expect(without('node of c, zone a', 'a').slice(0, 2)).toEqual(['broken', 'host.zone-lost']);
    expect(without('node of c', 'a', 'b').slice(0, 2)).toEqual(['broken', 'host.zone-lost']);
    // A zone that stands and has no range lacks that, whatever else is lost.
    const third = applied(two, [setOperation('sites', SITE, { zones: ['a', 'b', 'd'] })]);
    const forwarding = Forwarding.of(third).with({ ...NO_FAULTS, zones: new Set([`${SITE} a`]) });
    const asked = expectGood(readPacketQuestion(third, 'node of c, zone d', 'the internet tcp 443', 576));
    expect(trace(forwarding, asked).lack?.code).toBe('host.no-range');
  });

  // By hand: what stands in one zone falls with it; what stands in one of several that is not said, may; what spans them does not.
  describe('what no zone is said of', () => {
    const zoned = (
      zones: readonly string[],
      { kind = 'region' as const, scope = 'region', zoneCount = null as number | null, more = [] as Operation[] } = {},
    ) =>
      applied(ground(1), [
        setOperation('sites', SITE, { zones, kind }),
        setOperation('profiles', testId('profiles', 1), { subnetScope: scope as 'region' | 'zone' }),
        ...add('routeTables', { name: 'main', networkId: N1, isMain: true }, { name: 'out', networkId: N1 }),
        ...add('clusters', cluster('c', { zoneCount }), cluster('d', { zoneCount })),
        ...ranges([1, 'node', '10.1.0.0/24'], [2, 'node', '10.1.1.0/24']),
        ...add('subnets', subnet('10.9.0.0/28', { isPublic: true, routeTableId: testId('routeTables', 2) })),
        ...add('natDevices', { name: 'nat', subnetId: SUBNET, publicAddresses: ['203.0.113.1'] }),
        ...add(
          'routes',
          route(1, '0.0.0.0/0', 'nat', { natDeviceId: testId('natDevices', 1) }),
          route(2, '0.0.0.0/0', 'internet'),
        ),
        ...more,
      ]);
    const asked = (plan: Plan, from: string, to: string, ...zones: string[]) => {
      const lost = new Set(zones.map((zone) => `${SITE} ${zone}`));
      const forwarding = Forwarding.of(plan).with({ ...NO_FAULTS, zones: lost });
      const answer = trace(forwarding, expectGood(readPacketQuestion(plan, from, to, 576)));
      return [answer.verdict, answer.flows[0]?.failed?.failure.code ?? answer.lack?.code].filter(Boolean).join(' ');
    };
    const out = 'the internet tcp 443';

    test('a cluster is gone with the only zone of its site, and with all that it is spread over', () => {
      expect(asked(zoned(['a']), 'node of c', out, 'a')).toBe('broken host.zone-lost');
      expect(asked(zoned(['a']), 'node of c', 'node of d tcp 10250', 'a')).toBe('broken host.zone-lost');
      expect(asked(zoned(['a', 'b', 'd']), 'node of c', out, 'a', 'b')).toBe('pass');
      expect(asked(zoned(['a', 'b', 'd'], { zoneCount: 2 }), 'node of c', out, 'a', 'b')).toBe('broken host.zone-lost');
      expect(asked(zoned(['a', 'b', 'd'], { zoneCount: 2 }), 'node of c', out, 'd')).toBe('pass');
      expect(asked(zoned(['a', 'b']), 'node of c, zone a', out, 'a')).toBe('broken host.zone-lost');
    });

    test('of one address of a range without a zone it is not known whether it is still there', () => {
      expect(asked(zoned(['a', 'b']), 'node of c', '10.1.1.9 tcp 443', 'a')).toBe('unknown zone-unsaid');
      expect(asked(zoned(['a', 'b']), '10.1.1.9 in n1', out, 'a')).toBe('unknown zone-unsaid');
      expect(asked(zoned(['a', 'b']), 'node of c', '10.1.1.9 tcp 443')).toBe('pass');
    });

    test('a device of a provider spans the region as its subnets do; elsewhere it stands in one zone that nobody knows', () => {
      expect(asked(zoned(['a', 'b']), 'node of c', out, 'a')).toBe('pass');
      expect(asked(zoned(['a', 'b'], { scope: 'zone' }), 'node of c', out, 'a')).toBe('unknown zone-unsaid');
      const hall = zoned(['a', 'b'], { kind: 'data centre' as 'region' });
      expect(asked(hall, 'node of c', out, 'a')).toBe('unknown zone-unsaid');
      expect(asked(hall, 'node of c', out)).toBe('pass');
    });

    test('an endpoint, a bastion and a load balancer fall with their zone, and a load balancer in several goes on', () => {
      const place = (zone: string, zones: readonly string[] = []) =>
        zoned(['a', 'b'], {
          more: [
            ...add('subnets', subnet('10.9.1.0/28', { id: testId('subnets', 2), zone, isPublic: true })),
            ...add('endpoints', {
              name: 'store',
              subnetId: testId('subnets', 2),
              address: '10.9.1.4',
              serves: 'service',
            }),
            ...add('bastions', { name: 'gate', subnetId: testId('subnets', 2), address: '10.9.1.5' }),
            ...add('balancers', {
              name: 'door',
              subnetId: testId('subnets', 2),
              layer: '4',
              runBy: 'provider',
              side: 'internal',
              address: '10.9.1.6',
              zones,
            }),
          ],
        });
      for (const to of ['10.9.1.4 tcp 443', '10.9.1.5 tcp 22', '10.9.1.6 tcp 443']) {
        expect([to, asked(place('a'), 'node of c', to, 'a')]).toEqual([to, 'broken zone-lost']);
        expect([to, asked(place('a'), 'node of c', to, 'b')]).toEqual([to, 'pass']);
      }
      expect(asked(place('a'), 'bastion gate', 'node of c tcp 22', 'a')).toBe('broken zone-lost');
      expect(asked(place('a', ['a', 'b']), 'node of c', '10.9.1.6 tcp 443', 'a')).toBe('pass');
      expect(asked(place('a', ['a', 'b']), 'node of c', '10.9.1.6 tcp 443', 'a', 'b')).toBe('broken host.zone-lost');
    });

    test('the next gateway takes over from one whose zone is lost, and a tunnel falls with the device it rests on', () => {
      const pair = (gateways: number) =>
        applied(joined({ members: [{ gateways }, { gateways }] }), [
          setOperation('sites', SITE, { zones: ['a', 'b'] }),
        ]);
      expect(asked(pair(2), 'pod of c1', 'pod of c2 tcp 8080', 'a')).toBe('pass');
      expect(asked(pair(1), 'pod of c1', 'pod of c2 tcp 8080', 'a')).toBe('broken no-gateway');
      expect(asked(pair(1), 'pod of c1', 'pod of c2 tcp 8080', 'b')).toBe('pass');
    });
  });
});
