import { addOperation, byId, grouped, newId, setOperation, withFallbacks } from '../plan/index.js';
import type { Link, Network, Plan, RouteTable, Subnet } from '../plan/index.js';
import { placeSubnet } from './placeSubnet.js';
import type { ProposalMaker } from './proposal.js';
import { formatProposed } from '../english/index.js';

const EVERYWHERE = '0.0.0.0/0';
const EDGE_LENGTH = 28;

/** Tables, routes and devices that the egress of each network asks for. */
export function proposeNetworkEgress(maker: ProposalMaker): void {
  for (const network of maker.plan.networks) {
    switch (network.internetEgress) {
      case 'nat per zone':
        for (const zone of zonesOf(maker.plan, network)) {
          natFor(maker, network, zone, zone.zone);
          const zones = byId(maker.plan.sites, zone.siteId)?.zones.length ?? 0;
          if (zone.zone === '' && zones > 1)
            maker.notes.push(formatProposed('egress.zoneless', { network: network.name, zones }));
        }
        break;
      case 'one nat': {
        const [first] = zonesOf(maker.plan, network);
        if (first !== undefined) natFor(maker, network, first, '');
        break;
      }
      case 'hub':
        overHub(maker, network);
        break;
      case 'direct':
        directly(maker, network);
        break;
      case 'none':
      case 'undecided':
    }
  }
}

function directly(maker: ProposalMaker, network: Network): void {
  const intent = formatProposed('egress.direct', { network: network.name });
  maker.group(intent, () => {
    defaultRoute(maker, network, '', { nextHop: 'internet' }, intent);
  });
}

interface ZoneOf {
  readonly siteId: string;
  readonly zone: string;
}

/** The zones in which clusters of a network have node ranges; an empty zone where a range spans the region. */
function zonesOf(plan: Plan, network: Network): ZoneOf[] {
  const found = new Map<string, ZoneOf>();
  for (const cluster of grouped(plan.clusters, 'networkId').get(network.id) ?? [])
    for (const { purpose, zone } of grouped(plan.allocations, 'clusterId').get(cluster.id) ?? [])
      if (purpose === 'node') found.set(`${cluster.siteId} ${zone}`, { siteId: cluster.siteId, zone });
  return [...found.values()].sort((a, b) => (a.zone < b.zone ? -1 : 1));
}

/** A NAT device in a zone and the default route of a table that leads to it. */
function natFor(maker: ProposalMaker, network: Network, { siteId, zone }: ZoneOf, tableZone: string): void {
  const where = zone === '' ? network.name : `${network.name} in ${zone}`;
  const intent =
    tableZone === ''
      ? formatProposed('egress.one-nat', { network: network.name })
      : formatProposed('egress.nat', { where });
  maker.group(intent, () => {
    const standing = maker.plan.natDevices.find(({ subnetId }) => {
      const subnet = byId(maker.plan.subnets, subnetId);
      return subnet?.networkId === network.id && subnet.siteId === siteId && subnet.zone === zone;
    });
    const natDeviceId = standing?.id ?? newNat(maker, network, { siteId, zone }, intent);
    if (natDeviceId !== undefined) defaultRoute(maker, network, tableZone, { nextHop: 'nat', natDeviceId }, intent);
  });
}

function newNat(maker: ProposalMaker, network: Network, { siteId, zone }: ZoneOf, intent: string): string | undefined {
  const name = [network.name, 'nat', zone].filter((part) => part !== '').join('-');
  const subnetId = edgeSubnet(
    maker,
    network,
    { siteId, zone },
    [network.name, 'edge', zone].filter((part) => part !== '').join('-'),
    'nat',
    intent,
  );
  if (subnetId === undefined) return undefined;
  return maker.want('natDevices', { name, subnetId, intent }, (each) => each.intent === intent || each.name === name);
}

/** A small public subnet with a table that leads to the internet; undefined when there is no room, which is told. */
export function edgeSubnet(
  maker: ProposalMaker,
  network: Network,
  { siteId, zone }: ZoneOf,
  name: string,
  delegatedTo: string,
  intent: string,
): string | undefined {
  const standing = maker.plan.subnets.find((each) => each.name === name);
  if (standing !== undefined) return standing.id;
  const prefix = placeSubnet(maker.plan, network.id, siteId, EDGE_LENGTH);
  if (prefix === undefined) {
    maker.notes.push(formatProposed('egress.no-room-for', { intent, length: EDGE_LENGTH, subnet: name }));
    return undefined;
  }
  const routeTableId = tableToInternet(
    maker,
    network,
    delegatedTo === 'firewall' ? 'behind-firewall' : 'public',
    intent,
  );
  const id = newId();
  maker.add(
    addOperation(
      'subnets',
      withFallbacks('subnets', {
        id,
        name,
        networkId: network.id,
        siteId,
        zone,
        purpose: 'other',
        prefix,
        delegatedTo,
        isPublic: true,
        internetEgress: 'direct',
        routeTableId,
      }),
    ),
  );
  return id;
}

/** A table of a network whose default leads to the internet, by its name. */
export function tableToInternet(maker: ProposalMaker, network: Network, what: string, intent: string): string {
  const name = `${network.name}-${what}`;
  const routeTableId = maker.want(
    'routeTables',
    { name, networkId: network.id, intent },
    (each) => each.networkId === network.id && each.name === name,
  );
  maker.want(
    'routes',
    { routeTableId, prefix: EVERYWHERE, nextHop: 'internet', intent },
    (each) => each.routeTableId === routeTableId && each.prefix === EVERYWHERE,
  );
  return routeTableId;
}

/** Where a default route leads. */
export type DefaultHop =
  | { readonly nextHop: 'nat'; readonly natDeviceId: string }
  | { readonly nextHop: 'link'; readonly linkId: string }
  | { readonly nextHop: 'firewall'; readonly firewallId: string }
  | { readonly nextHop: 'internet' };

/** The default route of a network's main table. A table that stands for it is used, whoever made it. */
function defaultRoute(
  maker: ProposalMaker,
  network: Network,
  zone: string,
  hop: DefaultHop,
  intent: string,
  isForced = false,
): void {
  const isMain = (each: RouteTable) => each.networkId === network.id && each.isMain && each.zone === zone;
  const name = [network.name, 'main', zone].filter((part) => part !== '').join('-');
  const standing = maker.plan.routeTables.find(isMain);
  const routeTableId =
    standing?.id ?? maker.want('routeTables', { name, networkId: network.id, isMain: true, zone, intent }, isMain);
  defaultIn(maker, routeTableId, hop, intent, isForced);
}

function defaultIn(maker: ProposalMaker, routeTableId: string, hop: DefaultHop, intent: string, isForced: boolean) {
  const hops = { natDeviceId: null, linkId: null, firewallId: null, ...hop };
  maker.want(
    'routes',
    { routeTableId, prefix: EVERYWHERE, intent, ...hops },
    (each) => each.routeTableId === routeTableId && each.prefix === EVERYWHERE,
    isForced,
  );
}

/** The default route of every table that private machines of a network use: its main ones, those of zones and of subnets too. */
export function leadOut(
  maker: ProposalMaker,
  network: Network,
  hop: DefaultHop,
  intent: string,
  isForced = false,
): void {
  defaultRoute(maker, network, '', hop, intent, isForced);
  for (const { id } of machineTables(maker.plan, network.id)) defaultIn(maker, id, hop, intent, isForced);
}

function machineTables({ subnets, routeTables, firewalls, natDevices }: Plan, networkId: string): RouteTable[] {
  const own = subnets.filter((subnet) => subnet.networkId === networkId);
  const ofDevices = new Set([...firewalls, ...natDevices].map(({ subnetId }) => subnetId));
  const isEdge = ({ id, isPublic }: Subnet) => isPublic || ofDevices.has(id);
  const uses = (subnet: Subnet, table: RouteTable) => subnet.routeTableId === table.id;
  return routeTables.filter(
    (table) =>
      table.networkId === networkId &&
      !own.some((subnet) => isEdge(subnet) && uses(subnet, table)) &&
      (table.isMain || own.some((subnet) => subnet.internetEgress !== 'none' && uses(subnet, table))),
  );
}

/** The default of a network behind a firewall: in the network itself, or in one on a hub link that advertises a default. */
function overHub(maker: ProposalMaker, network: Network): void {
  const intent = formatProposed('egress.through-hub', { network: network.name });
  const inNetwork = (id: string) =>
    maker.plan.firewalls.find(({ subnetId }) => byId(maker.plan.subnets, subnetId)?.networkId === id);
  maker.group(intent, () => {
    const own = inNetwork(network.id);
    if (own !== undefined) {
      leadOut(maker, network, { nextHop: 'firewall', firewallId: own.id }, intent);
      return;
    }
    const link = maker.plan.links.find(
      ({ networkIds, isPlanned }) =>
        !isPlanned && networkIds.includes(network.id) && networkIds.some((id) => inNetwork(id) !== undefined),
    );
    if (link === undefined) {
      maker.notes.push(formatProposed('egress.no-firewall', { intent }));
      return;
    }
    acceptFrom(
      maker,
      network,
      link,
      hubOn(maker.plan, link, (id) => inNetwork(id) !== undefined),
    );
    leadOut(maker, network, { nextHop: 'link', linkId: link.id }, intent);
  });
}

/** Lets a network take the routes of the hub's network over a link, where its attachment does not. */
function acceptFrom(maker: ProposalMaker, network: Network, link: Link, hubId: string): void {
  const own = maker.plan.attachments.find(({ linkId, networkId }) => linkId === link.id && networkId === network.id);
  if (own === undefined || own.accepts === 'all' || (own.accepts === 'listed' && own.acceptsFromIds.includes(hubId)))
    return;
  const acceptsFromIds = own.accepts === 'listed' ? [...own.acceptsFromIds, hubId] : [hubId];
  maker.add(setOperation('attachments', own.id, { accepts: 'listed', acceptsFromIds }));
}

/** The network on a link that others leave through: one with a firewall that advertises a default, else the first with a firewall. */
function hubOn({ attachments }: Plan, link: Link, hasFirewall: (networkId: string) => boolean): string {
  const walled = link.networkIds.filter(hasFirewall);
  const offers = (id: string) =>
    attachments.some(
      (each) => each.linkId === link.id && each.networkId === id && each.advertises.includes(EVERYWHERE),
    );
  return walled.find(offers) ?? walled[0] ?? '';
}
