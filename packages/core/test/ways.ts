import { setOperation } from '../src/plan/index.js';
import type { Cluster, FilterRule, Firewall, FirewallRule, Operation, Plan, Route } from '../src/plan/index.js';
import { add, applied, cluster, ground, testId } from './worlds.js';

const at = (network: number) => ({ networkId: testId('networks', network), siteId: testId('sites', 1) });

/** Allocated ranges, numbered in their order. */
export function ranges(
  ...all: readonly [cluster: number, purpose: 'node' | 'pod' | 'service', prefix: string][]
): Operation[] {
  return add(
    'allocations',
    ...all.map(([n, purpose, prefix]) => ({ clusterId: testId('clusters', n), purpose, prefix })),
  );
}

/** A static route of the nth table. */
export function route(
  table: number,
  prefix: string,
  nextHop: Route['nextHop'],
  hop: Partial<Route> = {},
): Partial<Route> {
  return { routeTableId: testId('routeTables', table), prefix, nextHop, ...hop };
}

/** A filter on the nodes of a cluster with its rules in and out. */
export function fence(
  n: number,
  filter: Parameters<typeof add<'filters'>>[1],
  ...rules: readonly Partial<FilterRule>[]
): Operation[] {
  return [
    ...add('filters', { name: 'fence', clusterIds: [testId('clusters', n)], ...filter }),
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
}

/**
 * Two spokes and a hub network with a firewall and a NAT device, on one transit hub: spoke a (network 1, cluster 1, nodes 10.1.0.0/24),
 * spoke b (network 2, cluster 2, nodes 10.2.0.0/24), hub (network 3, 10.3.0.0/24). Spokes take routes from the hub only, and all
 * they send elsewhere passes the firewall, whose subnet leads to the internet.
 */
export function hubWorld(
  fields: {
    readonly a?: Partial<Cluster>;
    readonly firewall?: Partial<Firewall>;
    readonly rules?: readonly Partial<FirewallRule>[];
  } = {},
): Plan {
  const learnsFromHub = (network: number) => ({
    linkId: testId('links', 1),
    networkId: testId('networks', network),
    accepts: 'listed' as const,
    acceptsFromIds: [testId('networks', 3)],
  });
  return applied(ground(3), [
    ...add('links', { name: 'transit', kind: 'hub', networkIds: [1, 2, 3].map((n) => testId('networks', n)) }),
    ...add('attachments', learnsFromHub(1), learnsFromHub(2), {
      linkId: testId('links', 1),
      networkId: testId('networks', 3),
      advertises: ['10.3.0.0/24', '10.0.0.0/8', '0.0.0.0/0'],
    }),
    ...add(
      'routeTables',
      { name: 'hub-main', networkId: testId('networks', 3), isMain: true },
      { name: 'behind', networkId: testId('networks', 3) },
    ),
    ...add('subnets', {
      name: 'wall',
      ...at(3),
      purpose: 'other',
      prefix: '10.3.0.0/28',
      isPublic: true,
      internetEgress: 'direct',
      routeTableId: testId('routeTables', 2),
    }),
    ...add('firewalls', {
      name: 'wall',
      subnetId: testId('subnets', 1),
      publicAddresses: ['203.0.113.1'],
      ...fields.firewall,
    }),
    ...add(
      'firewallRules',
      ...(fields.rules ?? [{ protocol: 'any' as const }]).map((rule, i) => ({
        firewallId: testId('firewalls', 1),
        position: 10 * (i + 1),
        ...rule,
      })),
    ),
    ...add(
      'routes',
      route(1, '0.0.0.0/0', 'firewall', { firewallId: testId('firewalls', 1) }),
      route(2, '0.0.0.0/0', 'internet'),
      route(1, '10.1.0.0/24', 'firewall', { firewallId: testId('firewalls', 1) }),
      route(1, '10.2.0.0/24', 'firewall', { firewallId: testId('firewalls', 1) }),
    ),
    ...add(
      'clusters',
      cluster('a', { networkId: testId('networks', 1), ...fields.a }),
      cluster('b', { networkId: testId('networks', 2) }),
    ),
    ...ranges(
      [1, 'node', '10.1.0.0/24'],
      [1, 'pod', '100.64.0.0/16'],
      [2, 'node', '10.2.0.0/24'],
      [2, 'pod', '100.64.0.0/16'],
    ),
  ]);
}

/** A plan with an MTU set. */
export function withMtu(plan: Plan, kind: 'networks' | 'links', n: number, mtu: number): Plan {
  return applied(plan, [setOperation(kind, testId(kind, n), { mtu })]);
}
