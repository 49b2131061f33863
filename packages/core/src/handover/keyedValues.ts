import { byId, grouped, zonesOfCluster } from '../plan/index.js';
import type { Cluster, Plan, Site } from '../plan/index.js';
import { Paths } from './files.js';

/** The version of the form of keyed values; another one where a key is given up or means something else. */
export const VALUES_VERSION = 1;

type Keyed<T> = Readonly<Record<string, T>>;

/** What provisioning needs of one cluster, by keys that stay: names where builders chose them, else what a thing is. Without a value a key is null. */
export interface KeyedValues {
  readonly version: typeof VALUES_VERSION;
  readonly cluster: {
    readonly id: string;
    readonly name: string;
    readonly site: string;
    readonly template: string | null;
    readonly isBuilt: boolean;
    readonly family: string;
    readonly controlPlane: string;
    readonly controlNodes: number;
    readonly apiEndpoint: string;
    readonly apiPort: number | null;
  };
  readonly podNetwork: {
    readonly mode: string;
    readonly encapsulation: string;
    readonly encryption: string;
    readonly podsPerNode: number;
    readonly perNodeLength: number | null;
    readonly untranslated: readonly string[];
  };
  readonly nodes: Keyed<{ readonly now: number; readonly horizon: number; readonly zones: readonly string[] }>;
  readonly network: {
    readonly id: string;
    readonly name: string;
    readonly mtu: number;
    readonly blocks: readonly string[];
    readonly nameServers: readonly string[];
    readonly timeServers: readonly string[];
  };
  readonly subnets: Keyed<{
    readonly id: string;
    readonly prefix: string;
    readonly zone: string;
    readonly purpose: string;
    readonly isPublic: boolean;
    readonly routeTable: string | null;
  }>;
  readonly ranges: {
    readonly node: readonly { readonly prefix: string; readonly zone: string }[];
    readonly pod: readonly { readonly prefix: string; readonly zone: string }[];
    readonly service: readonly { readonly prefix: string; readonly zone: string }[];
  };
  readonly addresses: {
    readonly reserved: Keyed<{ readonly first: string; readonly count: number }>;
    readonly endpoints: Keyed<string | null>;
    readonly balancers: Keyed<string | null>;
    readonly nat: Keyed<readonly string[]>;
    readonly bastions: Keyed<string | null>;
  };
  readonly names: {
    readonly baseDomain: string;
    readonly clusterDomain: string;
    readonly replicas: number | null;
    readonly hasNodeCache: boolean;
    readonly zones: readonly string[];
  };
  readonly connections: Keyed<{ readonly memberId: string; readonly method: string; readonly gateways: number }>;
}

/** The keyed values of a cluster; undefined where its site or network is gone. */
export function keyedValues(plan: Plan, cluster: Cluster): KeyedValues | undefined {
  const site = byId(plan.sites, cluster.siteId);
  const network = byId(plan.networks, cluster.networkId);
  if (site === undefined || network === undefined) return undefined;
  return {
    version: VALUES_VERSION,
    cluster: clusterOf(plan, cluster, site),
    podNetwork: {
      mode: cluster.podMode,
      encapsulation: cluster.encapsulation,
      encryption: cluster.encryption,
      podsPerNode: cluster.podsPerNode,
      perNodeLength: cluster.perNodeLength,
      untranslated: cluster.untranslated,
    },
    nodes: nodesOf(plan, cluster, zonesOfCluster(cluster, site)),
    network: {
      id: network.id,
      name: network.name,
      mtu: network.mtu,
      blocks: (grouped(plan.blocks, 'networkId').get(network.id) ?? []).map(({ prefix }) => prefix).sort(),
      nameServers: network.nameServers,
      timeServers: network.timeServers,
    },
    subnets: keyed(grouped(plan.subnets, 'networkId').get(network.id) ?? [], (subnet) => ({
      id: subnet.id,
      prefix: subnet.prefix,
      zone: subnet.zone,
      purpose: subnet.purpose,
      isPublic: subnet.isPublic,
      routeTable: byId(plan.routeTables, subnet.routeTableId ?? '')?.name ?? null,
    })),
    ranges: {
      node: rangesOf(plan, cluster, 'node'),
      pod: rangesOf(plan, cluster, 'pod'),
      service: rangesOf(plan, cluster, 'service'),
    },
    addresses: addressesOf(plan, cluster),
    names: {
      baseDomain: cluster.baseDomain,
      clusterDomain: cluster.dnsDomain,
      replicas: cluster.dnsReplicas,
      hasNodeCache: cluster.hasNodeCache,
      zones: plan.zones
        .filter(({ networkIds }) => networkIds.includes(network.id))
        .map(({ apex }) => apex)
        .sort(),
    },
    connections: connectionsOf(plan, cluster),
  };
}

function clusterOf(plan: Plan, cluster: Cluster, site: Site): KeyedValues['cluster'] {
  return {
    id: cluster.id,
    name: cluster.name,
    site: site.name,
    template: byId(plan.templates, cluster.templateId ?? '')?.name ?? null,
    isBuilt: cluster.isBuilt,
    family: cluster.family,
    controlPlane: cluster.controlPlane,
    controlNodes: cluster.controlPlane === 'self-run' ? cluster.controlNodes : 0,
    apiEndpoint: cluster.apiEndpoint,
    apiPort: cluster.apiPort,
  };
}

function addressesOf(plan: Plan, { id, networkId }: Cluster): KeyedValues['addresses'] {
  const subnets = grouped(plan.subnets, 'networkId').get(networkId) ?? [];
  const inNetwork = <E extends { readonly subnetId: string }>(all: readonly E[]): E[] =>
    subnets.flatMap((subnet) => grouped<'subnetId', E>(all, 'subnetId').get(subnet.id) ?? []);
  return {
    reserved: keyed(grouped(plan.reservations, 'clusterId').get(id) ?? [], ({ first, count }) => ({ first, count })),
    endpoints: keyed(inNetwork(plan.endpoints), ({ address }) => address),
    balancers: keyed(inNetwork(plan.balancers), ({ address }) => address),
    nat: keyed(inNetwork(plan.natDevices), ({ publicAddresses }) => publicAddresses),
    bastions: keyed(inNetwork(plan.bastions), ({ address }) => address),
  };
}

function connectionsOf(plan: Plan, { id }: Cluster): KeyedValues['connections'] {
  const members = (grouped(plan.members, 'clusterId').get(id) ?? []).flatMap((member) => {
    const connection = byId(plan.connections, member.connectionId);
    return connection === undefined ? [] : [{ ...member, name: connection.name, method: connection.method }];
  });
  return keyed(members, ({ memberId, method, gateways }) => ({ memberId, method, gateways }));
}

function nodesOf(plan: Plan, cluster: Cluster, zones: readonly string[]): KeyedValues['nodes'] {
  const main = { now: cluster.nodesNow, horizon: cluster.nodesHorizon, zones };
  const pools = grouped(plan.nodePools, 'clusterId').get(cluster.id) ?? [];
  return keyed(
    pools,
    (pool) => ({ now: pool.nodesNow, horizon: pool.nodesHorizon, zones: pool.zones.length === 0 ? zones : pool.zones }),
    { main },
  );
}

function rangesOf(plan: Plan, { id }: Cluster, purpose: 'node' | 'pod' | 'service') {
  return (grouped(plan.allocations, 'clusterId').get(id) ?? [])
    .filter((range) => range.purpose === purpose)
    .map(({ prefix, zone }) => ({ prefix, zone }))
    .sort((a, b) => (`${a.zone} ${a.prefix}` < `${b.zone} ${b.prefix}` ? -1 : 1));
}

/** Values by the names of things as keys; two that would be alike are told apart by number, in the order of their names. */
function keyed<E extends { readonly name: string }, T>(
  all: readonly E[],
  value: (of: E) => T,
  before: Keyed<T> = {},
): Keyed<T> {
  const keys = new Paths(Object.keys(before));
  return { ...before, ...Object.fromEntries(sortedByName(all).map((each) => [keys.of(each.name), value(each)])) };
}

function sortedByName<E extends { readonly name: string }>(all: readonly E[]): E[] {
  return [...all].sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0));
}
