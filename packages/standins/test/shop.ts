import type { IngressRoute, Operation, Plan } from '@wide-lattice/core/plan';
import { front } from '../../core/test/front.js';
import { add, applied, ground, testId } from '../../core/test/worlds.js';

const own = testId('clusters', 1);
const inCluster = <F extends object>(fields: F) => ({ clusterId: own, namespace: 'web', ...fields });

/** The workloads of the shop by name: an edge of 2 pods, old of 6, new of 2. */
export const workloadIds = { edge: testId('workloads', 1), old: testId('workloads', 2), new: testId('workloads', 3) };
/** The first rule: it sends to old and new by weight. */
export const weighted = testId('ingressRoutes', 1);

/** A cluster behind a public load balancer of layer 4 and its controller, with rules of every sort for shop.example. */
export function shop(...more: readonly Operation[][]): Plan {
  const route = (name: string, path: string, fields: Partial<IngressRoute>) =>
    inCluster({
      name,
      objectKind: 'HTTPRoute' as const,
      gatewayId: testId('gateways', 1),
      hosts: ['www.shop.example'],
      path,
      backends: ['old 80'],
      ...fields,
    });
  return applied(ground(1), [
    ...front(),
    ...add('balancers', {
      id: testId('balancers', 2),
      name: 'machines',
      subnetId: testId('subnets', 1),
      side: 'public',
      address: '203.0.113.10',
      layer: '7',
    }),
    ...add('backends', {
      id: testId('backends', 3),
      name: 'fixed',
      balancerId: testId('balancers', 2),
      members: 'addresses',
      addresses: ['10.8.0.21', '10.8.0.22', '10.8.0.23'],
      port: 80,
    }),
    ...add(
      'listeners',
      {
        id: testId('listeners', 3),
        name: 'plain',
        balancerId: testId('balancers', 2),
        protocol: 'http',
        port: 80,
        backendId: testId('backends', 3),
      },
      {
        id: testId('listeners', 4),
        name: 'secure',
        balancerId: testId('balancers', 2),
        protocol: 'https',
        port: 443,
        backendId: testId('backends', 3),
        certificate: 'gone',
      },
    ),
    ...add('certificates', {
      name: 'gone',
      names: ['fixed.shop.example'],
      validFrom: '2020-01-01',
      validDays: 90,
      renewsItself: false,
    }),
    ...add(
      'gateways',
      inCluster({
        name: 'g',
        className: 'edge',
        listeners: ['web http 80', 'tls https 443 *.shop.example'],
        certificate: 'shop',
        certificateHosts: ['*.shop.example', 'shop.example'],
      }),
    ),
    ...add(
      'ingressRoutes',
      route('weighted', '/', { backends: ['old 80 weight 90', 'new 80 weight 10'] }),
      route('window', '/window', { rateLimitPerMinute: 5, rateLimitAlgorithm: 'fixed window' }),
      route('bucket', '/bucket', { rateLimitPerMinute: 4, rateLimitAlgorithm: 'token bucket' }),
      route('closed', '/closed', { allowedSources: ['192.0.2.0/24'] }),
      route('moved', '/moved', { redirect: 'https://{host}/new{rest}', redirectStatus: '301', backends: [] }),
      route('changed', '/a/b', {
        rewritePath: '/x',
        rewriteHost: 'inside.example',
        headerChanges: ['set x-tier=edge', 'add accept=text/plain', 'remove user-agent'],
      }),
      route('preview', '/pick', { headers: ['x-preview=yes'], backends: ['new 80'] }),
      route('nothing', '/nothing', { backends: ['gone 80'] }),
    ),
    ...add('zones', {
      name: 'shop',
      apex: 'shop.example',
      side: 'public',
      isDelegated: true,
      nameServers: ['ns.shop.example'],
    }),
    ...add('records', {
      zoneId: testId('zones', 1),
      name: 'www',
      type: 'A',
      value: '203.0.113.9',
      target: 'elsewhere',
      ttl: 60,
    }),
    ...more.flat(),
  ]);
}
