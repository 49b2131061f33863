import { add, applied, cluster, ground, testId } from '../../../test/worlds.js';
import {
  applyOperations,
  readBackendRef,
  readCondition,
  readGatewayListener,
  readHeaderChange,
  readNamespaceLabel,
  removalOf,
} from '../index.js';
import type { Kind, Operation, Plan } from '../index.js';

const own = testId('clusters', 1);
const other = testId('clusters', 2);
const balancer = testId('balancers', 1);
const world: Plan = applied(ground(1), [
  ...add('clusters', cluster('c'), cluster('d')),
  ...add('subnets', {
    name: 's',
    networkId: testId('networks', 1),
    siteId: testId('sites', 1),
    purpose: 'entry',
    prefix: '10.8.0.0/24',
  }),
  ...add(
    'services',
    { clusterId: own, name: 'own', ports: ['tcp 80 to 80'] },
    { clusterId: other, name: 'other', ports: ['tcp 80 to 80'] },
  ),
  ...add(
    'balancers',
    { name: 'four', subnetId: testId('subnets', 1), layer: '4' },
    { name: 'seven', subnetId: testId('subnets', 1), layer: '7' },
  ),
  ...add(
    'backends',
    { name: 'b', balancerId: balancer, members: 'addresses', addresses: ['192.0.2.1'], port: 80 },
    { name: 'b', balancerId: testId('balancers', 2), members: 'addresses', addresses: ['192.0.2.1'], port: 80 },
  ),
  ...add('listeners', { name: 'l', balancerId: balancer, protocol: 'tcp', port: 80 }),
  ...add('gateways', { clusterId: other, name: 'g', className: 'k', listeners: ['web http 80'] }),
]);

let count = 50;
/** What the plan says of one more of a kind. */
function problems(kind: Kind, fields: object): string[] {
  const id = testId(kind, count++);
  const operations = add(kind, { ...fields }).map((each) =>
    each.op === 'add' ? { ...each, entity: { ...each.entity, id } } : each,
  ) as Operation[];
  const result = applyOperations(world, operations);
  return result.ok ? [] : result.problems.map(({ field, message }) => `${field}: ${message}`);
}

const subnetId = testId('subnets', 1);
const route = { clusterId: own, name: 'r', backends: ['own 80'] };
test.each([
  ['balancers', { name: 'x', subnetId }, ''],
  ['balancers', { name: 'FOUR', subnetId }, 'name: '],
  ['balancers', { name: 'x', subnetId, runBy: 'cluster' }, 'clusterId: A cluster runs it, and none is named.'],
  [
    'balancers',
    { name: 'x', subnetId, clusterId: own },
    'clusterId: It is run by the provider, and a cluster is named.',
  ],
  ['balancers', { name: 'x', subnetId, address: '10.9.0.1' }, 'address: 10.9.0.1 is not in the subnet s, 10.8.0.0/24.'],
  ['balancers', { name: 'x', subnetId, side: 'public', address: '203.0.113.9' }, ''],
  [
    'backends',
    { name: 'x', balancerId: balancer, members: 'addresses', serviceId: testId('services', 1) },
    'serviceId: Its members are fixed addresses',
  ],
  [
    'backends',
    { name: 'x', balancerId: balancer, members: 'nodes', addresses: ['192.0.2.1'] },
    'addresses: Its members are nodes',
  ],
  ['backends', { name: 'x', balancerId: balancer, healthPath: 'ready' }, 'healthPath: “ready” is not a path.'],
  ['backends', { name: 'B', balancerId: balancer }, 'name: '],
  [
    'listeners',
    { name: 'x', balancerId: balancer, protocol: 'tcp', port: 80 },
    'port: four already listens on tcp 80, as l.',
  ],
  ['listeners', { name: 'x', balancerId: balancer, protocol: 'udp', port: 80 }, ''],
  [
    'listeners',
    { name: 'x', balancerId: balancer, protocol: 'https', port: 443 },
    'protocol: four works at layer 4 and knows no https.',
  ],
  [
    'listeners',
    { name: 'x', balancerId: balancer, protocol: 'tcp', port: 443, certificate: 'c' },
    'certificate: A listener of tcp has no certificate',
  ],
  [
    'listeners',
    { name: 'x', balancerId: balancer, protocol: 'tcp', port: 443, backendId: testId('backends', 2) },
    'backendId: The backend b is of another load balancer.',
  ],
  ['controllers', { name: 'x', clusterId: own, classes: [] }, 'classes: '],
  [
    'controllers',
    { name: 'x', clusterId: own, classes: ['k'], serviceId: testId('services', 2) },
    'serviceId: The service default/other is of another cluster than c.',
  ],
  [
    'controllers',
    { name: 'x', clusterId: own, classes: ['k'], tier: 'on a load balancer', balancerId: balancer },
    'balancerId: four works at layer 4',
  ],
  [
    'gateways',
    { name: 'x', clusterId: own, className: 'k', listeners: ['a http 80', 'a https 443'] },
    'listeners: Two listeners are called a.',
  ],
  ['gateways', { name: 'x', clusterId: own, className: 'k', listeners: ['a http 80000'] }, 'listeners: '],
  ['ingressRoutes', route, ''],
  ['ingressRoutes', { ...route, path: 'x' }, 'path: “x” is not a path.'],
  ['ingressRoutes', { ...route, hosts: ['a..b'] }, 'hosts: '],
  ['ingressRoutes', { ...route, hosts: ['a'.repeat(300)] }, 'hosts: '],
  ['ingressRoutes', { ...route, headers: ['v=1'] }, 'headers: An Ingress matches only by host and path.'],
  ['ingressRoutes', { ...route, method: 'GET' }, 'method: An Ingress matches only by host and path.'],
  ['ingressRoutes', { ...route, backends: ['own 80', 'b 80'] }, 'backends: A rule of an Ingress sends to one service.'],
  ['ingressRoutes', { ...route, backends: ['own http'] }, 'backends: '],
  [
    'ingressRoutes',
    { ...route, backends: ['other/own 80'] },
    'backends: An Ingress sends only to services of its own namespace',
  ],
  [
    'ingressRoutes',
    { ...route, objectKind: 'HTTPRoute', className: 'k' },
    'className: A rule of the kind HTTPRoute has no class of its own.',
  ],
  [
    'ingressRoutes',
    { ...route, objectKind: 'HTTPRoute', gatewayId: testId('gateways', 1) },
    'gatewayId: The gateway default/g is of another cluster.',
  ],
  [
    'ingressRoutes',
    { ...route, pathType: 'Default backend', path: '/a' },
    'pathType: A default backend is for what no rule of an Ingress takes',
  ],
  ['ingressRoutes', { ...route, redirect: 'ftp://x' }, 'redirect: “ftp://x” is neither a URL nor a path.'],
  ['ingressRoutes', { ...route, objectKind: 'TCPRoute', path: '/x' }, 'path: A TCPRoute reads no requests'],
  ['ingressRoutes', { ...route, redirect: 'nowhere' }, 'redirect: “nowhere” is neither a URL nor a path.'],
  ['ingressRoutes', { ...route, mirror: 'shadow' }, 'mirror: “shadow” names no service with a port.'],
  ['ingressRoutes', { ...route, rewritePath: 'new' }, 'rewritePath: “new” is not a path.'],
  ['networkPolicies', { clusterId: own, name: 'p', selector: ['a b'] }, 'selector: '],
  ['networkPolicies', { clusterId: own, name: 'p', allowIn: ['somebody'] }, 'allowIn: '],
  ['networkPolicies', { clusterId: own, name: 'P' }, 'name: “P” is no DNS label.'],
  [
    'workloads',
    { clusterId: own, name: 'w', replicasNow: 1, replicasHorizon: 1, cpuMillis: 500, cpuLimit: 250 },
    'cpuLimit: The CPU limit of 250 m is below the request of 500 m.',
  ],
  ['workloads', { clusterId: own, name: 'w', replicasNow: 1, replicasHorizon: 1, memoryMib: 64, memoryLimit: 64 }, ''],
] as const)('%s %j: %s', (kind, fields, message) => {
  const found = problems(kind, fields);
  if (message === '') expect(found).toEqual([]);
  else expect(found.join(' | ')).toContain(message);
});

describe('written forms', () => {
  test('are read as they are written', () => {
    expect(readGatewayListener('web https 443 *.Tide.example')).toEqual({
      name: 'web',
      protocol: 'https',
      port: 443,
      host: '*.tide.example',
      certificate: '',
      isPassthrough: false,
      from: undefined,
    });
    expect(readGatewayListener('web tls 443 passthrough')).toMatchObject({ host: '', isPassthrough: true });
    expect(readGatewayListener('web https 443 cert far/edge.cert from all')).toMatchObject({
      host: '',
      certificate: 'far/edge.cert',
      from: 'all',
    });
    expect(readGatewayListener('web tls 443 a.example from labelled')).toMatchObject({
      host: 'a.example',
      certificate: '',
      from: 'labelled',
    });
    expect(readBackendRef('models/tide 80 weight 10')).toEqual({
      namespace: 'models',
      service: 'tide',
      port: 80,
      weight: 10,
    });
    expect(readBackendRef('tide 80')).toEqual({ namespace: '', service: 'tide', port: 80, weight: 1 });
    expect(readCondition('agent~^old=.*')).toEqual({ name: 'agent', how: 'matches', value: '^old=.*' });
    expect(readCondition('x=')).toEqual({ name: 'x', how: 'is', value: '' });
    expect(['set a=1', 'add a=b=c', 'remove a'].map(readHeaderChange)).toEqual([
      { does: 'set', name: 'a', value: '1' },
      { does: 'add', name: 'a', value: 'b=c' },
      { does: 'remove', name: 'a', value: '' },
    ]);
    expect(readNamespaceLabel('shop: team=web')).toEqual({ namespace: 'shop', key: 'team', value: 'web' });
  });
  test.each(['web ftp 80', 'web http', 'Web http 80', 'web http 0', `web http 80 ${'a.'.repeat(130)}example`])(
    '%p is no listener',
    (text) => {
      expect(readGatewayListener(text)).toBeUndefined();
    },
  );
  test.each(['tide', 'tide 0', 'tide 70000', 'Tide 80', 'tide 80 weight', 'tide 80 weight 1000001', 'a/b/c 80'])(
    '%p is no service with a port',
    (text) => {
      expect(readBackendRef(text)).toBeUndefined();
    },
  );
  test.each(['=x', 'a b=c', 'name'])('%p is no condition', (text) => expect(readCondition(text)).toBeUndefined());
  test.each(['set a', 'drop a', 'remove a=b'])('%p is no change of a header', (text) =>
    expect(readHeaderChange(text)).toBeUndefined(),
  );
});

test('with a cluster goes what stands in it; a load balancer takes its listeners and backends, and controllers let go of it', () => {
  const cluster1 = removalOf(world, 'clusters', other).flatMap((each) => (each.op === 'remove' ? [each.kind] : []));
  expect(cluster1.sort()).toEqual(['clusters', 'gateways', 'services']);
  const fed = applied(world, add('controllers', { name: 'k', clusterId: own, classes: ['k'], balancerId: balancer }));
  const after = applied(fed, removalOf(fed, 'balancers', balancer));
  expect([after.listeners.length, after.backends.length, after.controllers[0]?.balancerId]).toEqual([0, 1, null]);
});
