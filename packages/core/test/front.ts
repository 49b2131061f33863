import type { Operation } from '../src/plan/index.js';
import { add, cluster, testId } from './worlds.js';

const own = testId('clusters', 1);
const inCluster = <F extends object>(fields: F) => ({ clusterId: own, namespace: 'web', ...fields });

/** A cluster with routed pods of three workloads, behind a public load balancer of layer 4 and its controller; it has no routes yet. */
export function front(): Operation[] {
  return [
    ...add('clusters', cluster('c', { podMode: 'routed', nodesNow: 4, nodesHorizon: 4 })),
    ...add(
      'allocations',
      { clusterId: own, purpose: 'node', prefix: '10.9.0.0/24' },
      { clusterId: own, purpose: 'pod', prefix: '10.10.0.0/20' },
      { clusterId: own, purpose: 'service', prefix: '10.96.0.0/20' },
    ),
    ...add('subnets', {
      name: 'front',
      networkId: testId('networks', 1),
      siteId: testId('sites', 1),
      purpose: 'entry',
      prefix: '10.8.0.0/24',
    }),
    ...add(
      'workloads',
      ...['edge', 'old', 'new'].map((name, at) =>
        inCluster({
          name,
          labels: [`app=${name}`],
          ports: ['http tcp 8080'],
          replicasNow: [2, 6, 2][at],
          replicasHorizon: 9,
        }),
      ),
    ),
    ...add(
      'services',
      inCluster({
        name: 'edge',
        type: 'NodePort' as const,
        selector: ['app=edge'],
        ports: ['web tcp 80 to http node 30080', 'tls tcp 443 to http node 30081'],
      }),
      ...['old', 'new'].map((name) => inCluster({ name, selector: [`app=${name}`], ports: ['tcp 80 to http'] })),
    ),
    ...add('balancers', {
      name: 'front',
      subnetId: testId('subnets', 1),
      side: 'public',
      address: '203.0.113.9',
      layer: '4',
    }),
    ...add(
      'backends',
      ...[80, 443].map((port) => ({
        name: `nodes ${port}`,
        balancerId: testId('balancers', 1),
        members: 'nodes' as const,
        serviceId: testId('services', 1),
        port,
      })),
    ),
    ...add(
      'listeners',
      ...[80, 443].map((port, at) => ({
        name: `on ${port}`,
        balancerId: testId('balancers', 1),
        protocol: 'tcp' as const,
        port,
        backendId: testId('backends', at + 1),
      })),
    ),
    ...add('controllers', {
      name: 'k',
      clusterId: own,
      classes: ['edge'],
      serviceId: testId('services', 1),
      balancerId: testId('balancers', 1),
    }),
  ];
}
