import { addressFurther } from '../address/index.js';
import type { Address } from '../address/index.js';
import { internetHost, trace, traceFlow } from '../forwarding/index.js';
import type { Forwarding, Host } from '../forwarding/index.js';
import { byId, grouped, rangeOf, USUAL_BYTES, zonesOfCluster } from '../plan/index.js';
import type { Cluster, NatDevice, Network, Plan, RouteTable, Subnet } from '../plan/index.js';
import type { Alongside } from '../section/index.js';
import { countsToHold, nodesInZone } from '../sizing/index.js';
import type { Sizing } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';
import { lookUpOf } from '../road/index.js';

type Parts = Pick<
  Plan,
  | 'networks'
  | 'subnets'
  | 'clusters'
  | 'nodePools'
  | 'sites'
  | 'profiles'
  | 'routeTables'
  | 'routes'
  | 'natDevices'
  | 'firewalls'
>;

interface Needed {
  readonly forwarding: Forwarding;
  readonly demand: Alongside<Cluster, Sizing>;
}

/**
 * Ports of one public address that translation can use for one destination: 65,536 − 1,024 (common practice; ports from
 * 1024 up, RFC 6056 3.2).
 */
const PORTS_PER_ADDRESS = 64_512;

/** What is wrong with the ways out: routes, NAT devices, firewalls, public nodes, tables. */
export function egressFindings(plan: Parts, needed: Needed): readonly Finding[] {
  return [
    ...goneHops(plan),
    ...defaultWays(plan, needed.forwarding),
    ...undecidedEgress(plan),
    ...natInOtherZone(plan),
    ...natPorts(plan, needed.demand),
    ...natWithoutAddress(plan),
    ...publicNodes(plan, needed.forwarding),
    ...tablesOverLimit(plan, needed),
  ];
}

function goneHops({ routes, routeTables }: Parts): Finding[] {
  const fields = { link: 'linkId', nat: 'natDeviceId', firewall: 'firewallId' } as const;
  return routes
    .filter(({ nextHop, ...route }) => nextHop in fields && route[fields[nextHop as 'link']] === null)
    .map(({ id, prefix, nextHop, routeTableId }) =>
      finding('route.gone', 'error', [{ kind: 'routes', id }], {
        table: byId(routeTables, routeTableId)?.name ?? '',
        prefix,
        hop: nextHop as keyof typeof fields,
      }),
    );
}

/** Where the defaults of a network lead, of each table that its machines use: in a loop, or past the firewall that its egress asks for. */
function defaultWays(plan: Parts, forwarding: Forwarding): Finding[] {
  const withTables = new Set(plan.routeTables.map(({ networkId }) => networkId));
  return plan.networks.flatMap((network): Finding[] => {
    if (network.internetEgress !== 'hub' && !withTables.has(network.id)) return [];
    return machinesOf(plan, forwarding, network).flatMap((from) => defaultWay(forwarding, network, from));
  });
}

/** One private machine for each table that machines of a network use: any of it, those of its subnets, the nodes in its zones. */
function machinesOf(
  { subnets, firewalls, natDevices, clusters }: Parts,
  forwarding: Forwarding,
  network: Network,
): Host[] {
  const space = forwarding.space(network.id);
  const machine = (address: Address, where: string, zone: string, subnet?: Subnet): Host => ({
    kind: 'machine',
    label: `a machine in ${where}`,
    address,
    networkId: network.id,
    zone,
    ...(subnet === undefined ? {} : { subnet }),
    isPublic: false,
    attachable: [],
  });
  const ofDevices = new Set([...firewalls, ...natDevices].map(({ subnetId }) => subnetId));
  const isEdge = ({ id, isPublic }: Subnet) => isPublic || ofDevices.has(id);
  const any = space.local[0]?.prefix;
  const found = [
    ...(any === undefined ? [] : [machine(any, network.name, '')]),
    ...(grouped(subnets, 'networkId').get(network.id) ?? [])
      .filter((subnet) => !isEdge(subnet) && subnet.internetEgress !== 'none')
      .map((subnet) => machine(addressFurther(rangeOf(subnet), 2), `subnet ${subnet.name}`, subnet.zone, subnet)),
    ...(grouped(clusters, 'networkId').get(network.id) ?? []).flatMap(({ id, name }) =>
      forwarding
        .rangesOf(id)
        .filter(({ purpose }) => purpose === 'node')
        .map((range) => {
          const address = addressFurther(rangeOf(range), 2);
          return machine(address, `the nodes of ${name}`, range.zone, space.subnetOf(address));
        }),
    ),
  ].filter(({ address, subnet }) => address.family === 4 && (subnet === undefined || !isEdge(subnet)));
  const tableOf = ({ subnet, zone }: Host) =>
    subnet === undefined ? forwarding.routes.mainTable(network.id, zone) : forwarding.routes.tableOf(subnet);
  return [...new Map(found.reverse().map((host) => [tableOf(host)?.id ?? '', host])).values()].reverse();
}

function defaultWay(forwarding: Forwarding, network: Network, from: Host): Finding[] {
  const subject = { kind: 'networks', id: network.id } as const;
  const to = internetHost();
  const aim = {
    address: to.address,
    protocol: 'tcp' as const,
    port: 443,
    host: undefined,
    isOutside: true,
    label: to.label,
  };
  const { forth, failed } = traceFlow(forwarding, from, aim, USUAL_BYTES);
  const row = forth.flatMap((event) => lookUpOf(event) ?? [])[0]?.found.row;
  const subjects = [subject, ...(row === undefined ? [] : [row.subject])];
  if (failed?.failure.code === 'loop')
    return [finding('route.loop', 'error', subjects, { network: network.name, from: from.label, failed })];
  const past = forth.some(({ spot }) => spot.kind === 'firewall');
  // Over a link, or by a way of its own.
  const leaves = forth.find(({ event }) => event === 'crossed') ?? (failed === undefined ? forth.at(-1) : undefined);
  if (network.internetEgress !== 'hub' || past || leaves === undefined) return [];
  return [
    finding('route.past-firewall', 'error', subjects, { network: network.name, from: from.label, row, leaves, forth }),
  ];
}

/** Networks with clusters whose way to the internet nobody decided: nothing is proposed for them, and nothing else would say so. */
function undecidedEgress({ networks, clusters }: Parts): Finding[] {
  return networks.flatMap((network) => {
    const own = grouped(clusters, 'networkId').get(network.id) ?? [];
    if (network.internetEgress !== 'undecided' || own.length === 0) return [];
    return [
      finding('egress.undecided', 'warning', [{ kind: 'networks', id: network.id }], {
        network: network.name,
        clusters: own.map(({ name }) => name),
      }),
    ];
  });
}

/** The NAT devices that the tables of a network lead to, with the zones each table is for. */
function natRoutes(parts: Parts) {
  const { routeTables, routes, natDevices, subnets } = parts;
  return routes.flatMap((route) => {
    const table = byId(routeTables, route.routeTableId);
    const device = byId(natDevices, route.natDeviceId ?? '');
    if (route.nextHop !== 'nat' || table === undefined || device === undefined) return [];
    const named = grouped(subnetsOfTables(subnets), 'routeTableId').get(table.id) ?? [];
    const zones = [...new Set([...(table.isMain ? zonesOfMain(parts, table) : []), ...named.map(({ zone }) => zone)])];
    return [{ route, table, device, zones, zone: byId(subnets, device.subnetId)?.zone ?? '' }];
  });
}

/** The zones that a main table holds for: its own, or those with nodes or subnets that have no main table of their own. */
function zonesOfMain({ routeTables, subnets, clusters, sites }: Parts, { zone, networkId }: RouteTable): string[] {
  if (zone !== '') return [zone];
  const mains = (grouped(routeTables, 'networkId').get(networkId) ?? []).filter(({ isMain }) => isMain);
  const ofSubnets = (grouped(subnets, 'networkId').get(networkId) ?? []).filter(
    ({ routeTableId }) => routeTableId === null,
  );
  const ofClusters = (grouped(clusters, 'networkId').get(networkId) ?? []).flatMap((cluster) =>
    zonesOfCluster(cluster, byId(sites, cluster.siteId)),
  );
  const all = [...ofSubnets.map((subnet) => subnet.zone), ...ofClusters];
  return ['', ...all].filter((each) => each === '' || mains.every((main) => main.zone !== each));
}

function subnetsOfTables(subnets: Parts['subnets']) {
  return subnets.flatMap((subnet) =>
    subnet.routeTableId === null ? [] : [{ ...subnet, routeTableId: subnet.routeTableId }],
  );
}

function natInOtherZone(plan: Parts): Finding[] {
  return natRoutes(plan).flatMap(({ route, table, device, zones, zone }) => {
    const others = zones.filter((each) => each !== '' && zone !== '' && each !== zone);
    if (others.length === 0) return [];
    return [
      finding(
        'nat.other-zone',
        byId(plan.networks, table.networkId)?.internetEgress === 'one nat' ? 'note' : 'warning',
        [
          { kind: 'routes', id: route.id },
          { kind: 'natDevices', id: device.id },
        ],
        { table: table.name, zones: others, device: device.name, zone, price: priceBetweenZones(plan, device) },
      ),
    ];
  });
}

function priceBetweenZones({ subnets, sites, profiles }: Parts, { subnetId }: NatDevice): number | null {
  const site = byId(sites, byId(subnets, subnetId)?.siteId ?? '');
  return byId(profiles, site?.profileId ?? '')?.priceZoneGb ?? null;
}

/** Nodes at the horizon that leave through each device, by the zones of its tables, times the ports kept for each. */
function natPorts(plan: Parts, demand: Alongside<Cluster, Sizing>): Finding[] {
  const wanted = new Map<string, { ports: number; clusters: Cluster[] }>();
  const ways = natRoutes(plan).filter(({ route }) => rangeOf(route).length === 0);
  if (ways.length === 0) return [];
  for (const cluster of plan.clusters) {
    const sizing = demand.of(cluster.id);
    const own = ways.filter(({ table }) => table.networkId === cluster.networkId && table.isMain);
    if (sizing === undefined || own.length === 0) continue;
    for (const zone of sizing.zones) {
      const way = own.find(({ table }) => table.zone === zone) ?? own.find(({ table }) => table.zone === '');
      if (way === undefined) continue;
      const counts = countsToHold(sizing);
      const nodes = sizing.groups.reduce(
        (sum, { isPublic }, at) => sum + (isPublic ? 0 : nodesInZone(sizing, counts, at, zone)),
        0,
      );
      const known = wanted.get(way.device.id) ?? { ports: 0, clusters: [] };
      wanted.set(way.device.id, {
        ports: known.ports + nodes * cluster.snatPorts,
        clusters: [...known.clusters, cluster],
      });
    }
  }
  return [...wanted].flatMap(([id, { ports, clusters }]) => {
    const device = byId(plan.natDevices, id);
    const addresses = device?.publicAddresses.length ?? 0;
    if (device === undefined || addresses === 0 || ports <= addresses * PORTS_PER_ADDRESS) return [];
    return [
      finding('nat.ports', 'warning', [{ kind: 'natDevices', id }], {
        device: device.name,
        clusters: [...new Set(clusters.map(({ name }) => name))],
        ports,
        addresses,
        each: PORTS_PER_ADDRESS,
      }),
    ];
  });
}

function natWithoutAddress({ natDevices }: Parts): Finding[] {
  return natDevices
    .filter(({ publicAddresses }) => publicAddresses.length === 0)
    .map(({ id, name }) => finding('nat.no-address', 'note', [{ kind: 'natDevices', id }], { device: name }));
}

/** Nodes with public addresses in a network whose machines leave by NAT or a hub: they can be called from everywhere, and need not be. */
function publicNodes({ nodePools, clusters, networks }: Parts, forwarding: Forwarding): Finding[] {
  return nodePools.flatMap((pool) => {
    const cluster = byId(clusters, pool.clusterId);
    const network = byId(networks, cluster?.networkId ?? '');
    if (!pool.isPublic || cluster === undefined || network === undefined) return [];
    if (!['nat per zone', 'one nat', 'hub'].includes(network.internetEgress)) return [];
    const answer = trace(forwarding, {
      from: { kind: 'node', clusterId: cluster.id, nodePoolId: null, zone: '' },
      to: { kind: 'internet', service: { protocol: 'tcp', port: 443 } },
      bytes: USUAL_BYTES,
    });
    return [
      finding('node.public', 'warning', [{ kind: 'nodePools', id: pool.id }], {
        cluster: cluster.name,
        pool: pool.name,
        network: network.name,
        egress: network.internetEgress,
        isOut: answer.verdict === 'pass',
      }),
    ];
  });
}

/** Tables that hold more routes than their provider allows: static, learned, local, and one per node for routed pods. */
function tablesOverLimit(plan: Parts, { forwarding, demand }: Needed): Finding[] {
  return plan.routeTables.flatMap((table) => {
    const site = siteOf(plan, table);
    const profile = byId(plan.profiles, byId(plan.sites, site ?? '')?.profileId ?? '');
    if (profile === undefined) return [];
    let count = 0;
    let perNode = 0;
    for (const { hop } of forwarding.routes.rowsOf(table.networkId, table)) {
      const sizing = hop.kind === 'pods' ? demand.of(hop.clusterId) : undefined;
      if (sizing === undefined) count++;
      else perNode += countsToHold(sizing).nodes.reduce((sum, nodes) => sum + nodes, 0);
    }
    if (count + perNode <= profile.routesPerTable) return [];
    return [
      finding('table.over-limit', 'error', [{ kind: 'routeTables', id: table.id }], {
        table: table.name,
        count,
        perNode,
        profile: profile.name,
        most: profile.routesPerTable,
      }),
    ];
  });
}

function siteOf({ clusters, subnets }: Parts, { networkId }: RouteTable): string | undefined {
  return (
    (grouped(clusters, 'networkId').get(networkId) ?? [])[0]?.siteId ??
    (grouped(subnets, 'networkId').get(networkId) ?? [])[0]?.siteId
  );
}
