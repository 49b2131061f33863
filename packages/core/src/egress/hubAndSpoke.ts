import { formatPrefix } from '../address/index.js';
import { freeAddressIn } from '../allocation/index.js';
import { Forwarding } from '../forwarding/index.js';
import { addOperation, byId, newId, setOperation, withFallbacks } from '../plan/index.js';
import type { Attachment, Network, Plan, RouteTable, Subnet } from '../plan/index.js';
import { proposeNeedRules } from './needRules.js';
import { edgeSubnet, leadOut, tableToInternet } from './networkEgress.js';
import { placeSubnet } from './placeSubnet.js';
import { ProposalMaker } from './proposal.js';
import type { EgressProposal } from './proposal.js';
import { formatProposed } from '../english/index.js';

/** What a hub is asked for. */
export interface HubRequest {
  /** The network of the plan that is to be the hub, with the firewall that stands in it; empty for a new one. */
  readonly networkId: string;
  /** What a new network is called; link, tables and devices are named after it. */
  readonly name: string;
  readonly siteId: string;
  readonly spokeIds: readonly string[];
}

const SHARED_LENGTH = 27;
const BASTION_LENGTH = 28;
/** Prefixes of one spoke that are led through the firewall. */
const MAX_ROUTES = 200;
const EVERYWHERE = '0.0.0.0/0';

/**
 * A hub in one action: its network with subnets for firewall, bastion and shared endpoints, or one that stands with the firewall it has;
 * the transit hub that attaches the spokes; the default over it in every table that their machines use, and back; rules for what the
 * spokes' clusters need. What leads elsewhere today is led through the hub: that is what is asked for.
 */
export function hubAndSpoke(plan: Plan, { networkId, name, siteId, spokeIds }: HubRequest): EgressProposal {
  const maker = new ProposalMaker(plan);
  const standing = byId(plan.networks, networkId);
  const spokes = spokeIds.flatMap((id) => byId(plan.networks, id) ?? []).filter(({ id }) => id !== networkId);
  const names = spokes.map((spoke) => spoke.name).join(', ');
  const network =
    standing ??
    withFallbacks('networks', { id: newId(), name, internetEgress: 'hub', note: `Hub of ${names}`.slice(0, 500) });
  const intent = `hub ${network.name}`;
  const made =
    standing === undefined
      ? formatProposed('egress.hub', { network: network.name })
      : formatProposed('egress.through-firewall', { network: network.name });
  let firewallId: string | undefined;
  maker.group(made, () => {
    if (standing === undefined) maker.add(addOperation('networks', network));
    else if (standing.internetEgress !== 'hub')
      maker.add(setOperation('networks', standing.id, { internetEgress: 'hub' }));
    firewallId = firewallOf(maker, network, siteId, intent);
    if (firewallId === undefined) return;
    if (standing === undefined) sharedParts(maker, network, siteId, intent);
    ownTable(maker, network, intent);
    leadOut(maker, network, { nextHop: 'firewall', firewallId }, intent, true);
  });
  if (firewallId !== undefined) attach(maker, network, spokes, firewallId, intent);
  for (const spoke of spokes) noteIdleNat(maker, spoke);
  proposeNeedRules(maker);
  return { groups: maker.groups, notes: [...new Set(maker.notes)] };
}

/** The firewall of a hub: the one that stands there, led to the internet past the tables that lead to it; else a new one. */
function firewallOf(maker: ProposalMaker, network: Network, siteId: string, intent: string): string | undefined {
  const subnetOf = ({ subnetId }: { readonly subnetId: string }) => byId(maker.plan.subnets, subnetId);
  const standing = maker.plan.firewalls.find((each) => subnetOf(each)?.networkId === network.id);
  if (standing === undefined) {
    const subnetId = edgeSubnet(
      maker,
      network,
      { siteId, zone: zoneFor(maker.plan, siteId) },
      `${network.name}-firewall`,
      'firewall',
      intent,
    );
    if (subnetId === undefined) return undefined;
    return maker.want(
      'firewalls',
      { name: `${network.name}-firewall`, subnetId, intent },
      (each) => each.intent === intent,
    );
  }
  const subnet = subnetOf(standing);
  const table = byId(maker.plan.routeTables, subnet?.routeTableId ?? '');
  // By a main table that leads to the firewall its own packets would come back to it.
  if (subnet !== undefined && (table === undefined || table.isMain))
    maker.add(
      setOperation('subnets', subnet.id, { routeTableId: tableToInternet(maker, network, 'behind-firewall', intent) }),
    );
  // A table of its own that leads nowhere would end there what spokes send to the internet.
  else if (
    table !== undefined &&
    !maker.plan.routes.some((each) => each.routeTableId === table.id && each.prefix === EVERYWHERE)
  )
    maker.want(
      'routes',
      { routeTableId: table.id, prefix: EVERYWHERE, nextHop: 'internet', intent },
      (each) => each.routeTableId === table.id && each.prefix === EVERYWHERE,
    );
  return standing.id;
}

/**
 * The machines of the hub itself have a table of their own: the main one leads what comes from spokes through the firewall, and answers
 * to machines of the hub do not pass it, so that what they ask a spoke must go past it both ways.
 */
function ownTable(maker: ProposalMaker, network: Network, intent: string): void {
  const ofFirewalls = new Set(maker.plan.firewalls.map(({ subnetId }) => subnetId));
  const own = maker.plan.subnets.filter(
    (each) =>
      each.networkId === network.id && !each.isPublic && each.routeTableId === null && !ofFirewalls.has(each.id),
  );
  if (own.length === 0) return;
  const name = `${network.name}-machines`;
  const routeTableId = maker.want(
    'routeTables',
    { name, networkId: network.id, intent },
    (each) => each.networkId === network.id && each.name === name,
  );
  maker.add(...own.map(({ id }) => setOperation('subnets', id, { routeTableId })));
}

/** Where subnets are in one zone, the first of the site. */
function zoneFor({ sites, profiles }: Plan, siteId: string): string {
  const site = byId(sites, siteId);
  const profile = byId(profiles, site?.profileId ?? '');
  return profile?.subnetScope === 'zone' ? (site?.zones[0] ?? '') : '';
}

/** What the clusters of all spokes share: a subnet for endpoints, and a bastion in one of its own. */
function sharedParts(maker: ProposalMaker, { id, name }: Network, siteId: string, intent: string): void {
  const zone = zoneFor(maker.plan, siteId);
  const place = { networkId: id, siteId, zone };
  plainSubnet(maker, { ...place, name: `${name}-shared`, purpose: 'endpoint', delegatedTo: '' }, SHARED_LENGTH);
  const gate = plainSubnet(
    maker,
    { ...place, name: `${name}-bastion`, purpose: 'other', delegatedTo: 'bastion' },
    BASTION_LENGTH,
  );
  const address = gate === undefined ? undefined : freeAddressIn(maker.plan, gate.id);
  if (gate === undefined || address === undefined) return;
  maker.want(
    'bastions',
    { name: `${name}-bastion`, subnetId: gate.id, address, intent },
    (each) => each.intent === intent,
  );
}

/** The transit hub with its spokes: routes that pass the firewall both ways, and the default over it. */
function attach(
  maker: ProposalMaker,
  network: Network,
  spokes: readonly Network[],
  firewallId: string,
  intent: string,
): void {
  const through = formatProposed('egress.spokes', { hub: network.name, spokes: spokes.map(({ name }) => name) });
  maker.group(through, () => {
    const linkId = transitOf(maker, network, spokes);
    const advertised = Forwarding.of(maker.plan).space(network.id).advertised.map(formatPrefix);
    attachment(maker, linkId, network.id, (own) => ({
      advertises: [
        ...new Set([
          ...(own?.advertises ?? []),
          ...(own === undefined || own.advertises.length === 0 ? advertised : []),
          EVERYWHERE,
        ]),
      ],
    }));
    const isMain = (table: RouteTable) => table.networkId === network.id && table.isMain && table.zone === '';
    const mainId = maker.plan.routeTables.find(isMain)?.id ?? '';
    for (const spoke of spokes) {
      // Without these the hub would lead from spoke to spoke past its firewall.
      for (const prefix of Forwarding.of(maker.plan).space(spoke.id).advertised.slice(0, MAX_ROUTES).map(formatPrefix))
        maker.want(
          'routes',
          { routeTableId: mainId, prefix, nextHop: 'firewall', firewallId, intent },
          (each) => each.routeTableId === mainId && each.prefix === prefix,
        );
      if (spoke.internetEgress !== 'hub') maker.add(setOperation('networks', spoke.id, { internetEgress: 'hub' }));
      // Spokes take routes from the hub only: what they say to one another passes the firewall.
      attachment(maker, linkId, spoke.id, () => ({ accepts: 'listed', acceptsFromIds: [network.id] }));
      leadOut(
        maker,
        spoke,
        { nextHop: 'link', linkId },
        formatProposed('egress.through-hub', { network: spoke.name }),
        true,
      );
    }
  });
}

/** The transit hub that the network is on, with the spokes on it too; else a new one. */
function transitOf(maker: ProposalMaker, { id, name }: Network, spokes: readonly Network[]): string {
  const standing = maker.plan.links.find(
    ({ kind, isPlanned, networkIds }) => kind === 'hub' && !isPlanned && networkIds.includes(id),
  );
  const wanted = [...new Set([id, ...(standing?.networkIds ?? []), ...spokes.map((spoke) => spoke.id)])];
  if (standing === undefined) {
    const link = withFallbacks('links', { id: newId(), name: `${name}-transit`, kind: 'hub', networkIds: wanted });
    maker.add(addOperation('links', link));
    return link.id;
  }
  if (wanted.length > standing.networkIds.length)
    maker.add(
      setOperation('links', standing.id, {
        networkIds: [...standing.networkIds, ...wanted.filter((each) => !standing.networkIds.includes(each))],
      }),
    );
  return standing.id;
}

/** What a network advertises and accepts over a link, changed where it has an attachment and made where it has none. */
function attachment(
  maker: ProposalMaker,
  linkId: string,
  networkId: string,
  fieldsOf: (own: Attachment | undefined) => Partial<Attachment>,
): void {
  const own = maker.plan.attachments.find((each) => each.linkId === linkId && each.networkId === networkId);
  const fields = fieldsOf(own);
  if (own === undefined)
    maker.add(addOperation('attachments', withFallbacks('attachments', { id: newId(), linkId, networkId, ...fields })));
  else if (
    Object.entries(fields).some(
      ([field, value]) => JSON.stringify(own[field as keyof Attachment]) !== JSON.stringify(value),
    )
  )
    maker.add(setOperation('attachments', own.id, fields));
}

/** NAT devices of a spoke that no route leads to any more. */
function noteIdleNat({ plan, notes }: ProposalMaker, { id, name }: Network): void {
  const used = new Set(plan.routes.map(({ natDeviceId }) => natDeviceId));
  const idle = plan.natDevices.filter(
    (device) => byId(plan.subnets, device.subnetId)?.networkId === id && !used.has(device.id),
  );
  if (idle.length > 0)
    notes.push(formatProposed('egress.idle', { network: name, devices: idle.map((device) => device.name) }));
}

/** A private subnet of the hub; undefined when there is no room, which is told. */
function plainSubnet(
  maker: ProposalMaker,
  of: Pick<Subnet, 'name' | 'networkId' | 'siteId' | 'zone' | 'purpose' | 'delegatedTo'>,
  length: number,
): Subnet | undefined {
  const prefix = placeSubnet(maker.plan, of.networkId, of.siteId, length);
  if (prefix === undefined) {
    maker.notes.push(formatProposed('egress.no-room', { network: of.name, length }));
    return undefined;
  }
  const subnet = withFallbacks('subnets', { id: newId(), prefix, internetEgress: 'hub', ...of });
  maker.add(addOperation('subnets', subnet));
  return subnet;
}
