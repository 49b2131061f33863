import { add, applied, cluster, ground, testId } from '../../../test/worlds.js';
import { importRows } from '../../exchange/index.js';
import {
  applyOperations,
  readPlace,
  readPacketQuestion,
  readTarget,
  setOperation,
  withRenames,
  writePlace,
  writeTarget,
} from '../index.js';
import type { Operation, Plan } from '../index.js';

const at = (n: number) => ({ networkId: testId('networks', n), siteId: testId('sites', 1) });
const plan: Plan = applied(ground(2), [
  ...add('clusters', cluster('c')),
  ...add(
    'routeTables',
    { name: 'main', networkId: testId('networks', 1), isMain: true },
    { name: 'edge', networkId: testId('networks', 1) },
  ),
  ...add(
    'subnets',
    { name: 'edge', ...at(1), purpose: 'other', prefix: '10.9.0.0/24', routeTableId: testId('routeTables', 2) },
    { name: 'far', ...at(2), purpose: 'other', prefix: '10.8.0.0/24' },
  ),
  ...add(
    'natDevices',
    { name: 'nat', subnetId: testId('subnets', 1) },
    { name: 'far-nat', subnetId: testId('subnets', 2) },
  ),
  ...add('firewalls', { name: 'wall', subnetId: testId('subnets', 1) }),
  ...add('filters', { name: 'f' }, { name: 'list', mode: 'ordered' }),
  ...add('links', { name: 'only-2', kind: 'hub', networkIds: [testId('networks', 2), testId('networks', 1)] }),
  ...add('bastions', { name: 'gate', subnetId: testId('subnets', 1), address: '10.9.0.9' }),
  ...add('needs', { name: 'time', prefixes: ['192.0.2.1/32'], protocol: 'udp', ports: ['123'] }),
  ...add('inUse', { prefix: '10.5.0.0/16', owner: 'Head office', networkId: testId('networks', 2) }),
]);

const rule = (fields: object): Operation[] =>
  add('filterRules', { filterId: testId('filters', 1), direction: 'in', position: 10, ...fields });
const route = (fields: object): Operation[] =>
  add('routes', { routeTableId: testId('routeTables', 1), prefix: '0.0.0.0/0', nextHop: 'internet', ...fields });

test.each<[string, Operation[], string]>([
  ['a port over 65535', rule({ ports: ['65536'] }), 'ports field.list-item'],
  ['a range of ports the wrong way round', rule({ ports: ['443-80'] }), 'ports field.list-item'],
  ['ports of a protocol that has none', rule({ protocol: 'icmp', ports: ['80'] }), 'ports rule.ports'],
  ['ports of any protocol', rule({ protocol: 'any', ports: ['80'] }), 'ports rule.ports'],
  ['a prefix with host bits', rule({ peers: ['10.1.2.3/16'] }), 'peers prefix.host-bits'],
  ['a message of ICMP for tcp', rule({ icmp: ['echo request'] }), 'icmp rule.icmp'],
  ['two families in one rule', rule({ peers: ['10.0.0.0/8', 'fd00::/8'] }), 'peers rule.families'],
  ['a filter that refers to itself', rule({ peerFilterIds: [testId('filters', 1)] }), 'peerFilterIds rule.itself'],
  ['a denial in a filter that only allows', rule({ action: 'deny' }), 'action rule.deny'],
  [
    'two families in a firewall rule',
    add('firewallRules', {
      firewallId: testId('firewalls', 1),
      position: 1,
      sources: ['10.0.0.0/8'],
      destinations: ['fd00::/8'],
    }),
    'destinations rule.families',
  ],
  [
    'a next hop in another network',
    route({ nextHop: 'nat', natDeviceId: testId('natDevices', 2) }),
    'natDeviceId route.not-adjacent',
  ],
  [
    'a next hop that is not the one chosen',
    route({ natDeviceId: testId('natDevices', 1) }),
    'natDeviceId route.two-hops',
  ],
  [
    'a default route back to itself',
    route({ routeTableId: testId('routeTables', 2), nextHop: 'nat', natDeviceId: testId('natDevices', 1) }),
    'routeTableId route.itself',
  ],
  [
    'a second main table',
    add('routeTables', {}, {}, { name: 'again', networkId: testId('networks', 1), isMain: true }).slice(2),
    'isMain route-table.main-twice',
  ],
  [
    'a zone of a table that is not main',
    add('routeTables', {}, {}, { name: 'z', networkId: testId('networks', 1), zone: 'a' }).slice(2),
    'zone route-table.zone',
  ],
  [
    'an endpoint outside its subnet',
    add('endpoints', { name: 'e', subnetId: testId('subnets', 1), address: '10.8.0.4' }),
    'address address.outside-subnet',
  ],
  [
    'an endpoint of an API without its cluster',
    add('endpoints', { name: 'e', subnetId: testId('subnets', 1), address: '10.9.0.4', serves: 'cluster API' }),
    'clusterId endpoint.no-cluster',
  ],
  ['a need that is nowhere', add('needs', {}, { name: 'n' }).slice(1), 'prefixes need.nowhere'],
  [
    'a host name that is none',
    add('needs', {}, { name: 'n', prefixes: ['192.0.2.1/32'], hosts: ['a b'] }).slice(1),
    'hosts field.list-item',
  ],
])('%s is refused at its field', (_, operations, expected) => {
  const result = applyOperations(plan, operations);
  expect(result.ok ? [] : result.problems.map(({ field, code }) => `${field} ${code}`)).toContain(expected);
  if (!result.ok) expect(result.problems.every(({ message }) => message.length > 10)).toBe(true);
});

test('a link that its network is not on is no next hop', () => {
  const apart = applied(ground(3), [
    ...add('links', { name: 'l', kind: 'peering', networkIds: [testId('networks', 2), testId('networks', 3)] }),
    ...add('routeTables', { name: 'main', networkId: testId('networks', 1), isMain: true }),
  ]);
  const result = applyOperations(apart, route({ nextHop: 'link', linkId: testId('links', 1) }));
  expect(result.ok ? [] : result.problems.map(({ code }) => code)).toEqual(['route.not-adjacent']);
});

test('5,000 rules with errors among them: the good ones are ready, each bad one is told with its line, nothing is applied by half', () => {
  const lines = Array.from(
    { length: 5000 },
    (_, i) => `list,in,${i + 1},allow,tcp,${i % 1000 === 7 ? '70000' : 443},10.${i % 200}.0.0/16`,
  );
  const preview = importRows(
    plan,
    'filterRules',
    ['Filter,Direction,Position,Action,Protocol,Ports,Peers', ...lines].join('\n'),
  );
  expect(preview.problems.map(({ line, field }) => `${line} ${field}`)).toEqual([
    '9 Ports',
    '1009 Ports',
    '2009 Ports',
    '3009 Ports',
    '4009 Ports',
  ]);
  expect(preview.operations).toHaveLength(4995);
  expect(applyOperations(plan, preview.operations).ok).toBe(true);
});

describe('questions', () => {
  const places = [
    'the internet',
    'pod of c',
    'node of c, zone a',
    'bastion gate',
    'range 10.5.0.0/16 (Head office)',
    '10.5.0.7 in n2',
  ];
  const targets = [
    'api of c',
    'need time',
    '10.5.0.7 tcp 443',
    'pod of c udp 53',
    'node of c icmp',
    'the internet tcp 25',
    'bastion gate tcp 22',
  ];

  test('what is read is written the same, in any case', () => {
    for (const words of places) {
      const read = readPlace(plan, words.toUpperCase().replace('10.5.0.0/16', '10.5.0.0/16'));
      expect([words, read.ok && writePlace(plan, read.value)]).toEqual([words, words]);
    }
    for (const words of targets) {
      const read = readTarget(plan, words);
      expect([words, read.ok && writeTarget(plan, read.value)]).toEqual([words, words]);
    }
    expect(readPlace(plan, 'range head office')).toMatchObject({ ok: true, value: { kind: 'range' } });
  });

  test.each([
    ['pod of nobody', 'the internet', 'There is no cluster "nobody".'],
    ['pod of c, zone q', 'the internet', 'c has no zone "q".'],
    ['10.5.0.7', 'the internet', 'names no network'],
    ['somewhere', 'the internet', 'names no place'],
    ['the internet', 'nowhere tcp 80', 'names no target'],
    ['the internet', '10.0.0.1 tcp 70000', '"70000" is not a port'],
    ['the internet', '10.0.0.1 tcp', 'tcp needs a port'],
    ['the internet', 'need fame', 'There is no need "fame".'],
    ['010.0.0.1 in n1', 'the internet', '010'],
  ])('%s to %s: the problem says what is wrong', (from, to, words) => {
    const read = readPacketQuestion(plan, from, to, 576);
    expect(read.ok ? '' : read.problem.message).toContain(words);
  });

  test('a name that changes is changed in the expectations that say it', () => {
    const kept = applied(
      plan,
      add(
        'expectations',
        { name: 'e', from: 'pod of c', to: 'bastion gate tcp 22' },
        { name: 'other', from: 'the internet', to: 'api of c' },
      ),
    );
    const rename = [setOperation('clusters', testId('clusters', 1), { name: 'harbour' })];
    const after = applied(kept, withRenames(kept, rename));
    expect(after.expectations.map(({ from, to }) => `${from} > ${to}`)).toEqual([
      'pod of harbour > bastion gate tcp 22',
      'the internet > api of harbour',
    ]);
    expect(withRenames(kept, [setOperation('clusters', testId('clusters', 1), { nodesNow: 3 })])).toHaveLength(1);
  });
});
