import { containsAddress, formatPrefix, subtract } from '../address/index.js';
import {
  addOperation,
  byId,
  grouped,
  newId,
  positionAtEnd,
  positionBefore,
  prefixList,
  setOperation,
  withFallbacks,
} from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { isPublicAddress } from '../forwarding/index.js';
import type { FlowTrace } from '../forwarding/index.js';
import { destinationPorts, lookUpOf, messageOf, subjectOf } from '../road/index.js';
import type { Failure, Packet } from '../road/index.js';
import type { ServiceNamed, Hop, Candidate } from './mendSteps.js';
import { Places } from './mendPlaces.js';

/**
 * Changes of the known kinds that may let a flow go on from where it failed; each still has to be tried. For addresses that were typed a
 * rule names these alone, for all others the range that they stand for.
 */
export function mendsAt(
  plan: Plan,
  flow: Pick<FlowTrace, 'forth' | 'back' | 'failed'>,
  typed: ReadonlySet<string> = new Set(),
): Candidate[] {
  if (flow.failed === undefined) return [];
  const at = new Places(plan, flow.failed, flow.forth[0]?.packet, typed);
  const { failure } = flow.failed;
  switch (failure.code) {
    case 'filter':
      return filterCandidates(at, failure);
    case 'firewall':
      return firewallCandidates(at, failure);
    case 'no-route':
      return [
        ...learnCandidates(at, networksOn(flow)),
        ...passOnCandidates(at, failure.networkId),
        ...routeCandidates(at, failure),
      ];
    case 'no-taker':
      return advertiseCandidates(at, failure.linkId);
    case 'route-drops':
      return [
        {
          step: { do: 'remove route' },
          operations: [{ op: 'remove', kind: 'routes', id: failure.routeId }],
        },
      ];
    case 'hop-gone':
    case 'private-source':
      return hopCandidates(at, failure, lastSubject(flow.forth));
    case 'too-big':
      return sizeCandidates(at, failure.room);
    case 'avoided':
      return backCandidates(at, failure.deviceId);
    default:
      return [];
  }
}

/** The entity that was decided by before the packet failed. */
function lastSubject(events: FlowTrace['forth']): string | undefined {
  const event = events.at(-2);
  return event === undefined ? undefined : subjectOf(event)?.id;
}

function serviceOf(packet: Packet): ServiceNamed {
  const { first, last } = destinationPorts(packet);
  const ports = packet.port === 0 ? [] : [first === last ? String(first) : `${first}-${last}`];
  const message = messageOf(packet);
  const icmp = message === undefined ? [] : [message];
  return { protocol: packet.protocol, ports, icmp };
}

function filterCandidates(at: Places, { filterIds, direction, ruleId }: Failure & { code: 'filter' }): Candidate[] {
  const { packet } = at.failed;
  const service = serviceOf(packet);
  const peer = direction === 'in' ? packet.source : packet.destination;
  const denied = at.plan.filterRules.find(({ id }) => id === ruleId)?.peers ?? [];
  const peers = at.peersOf(peer, denied);
  if (peers === undefined) return [];
  return filterIds.slice(0, 2).flatMap((filterId): Candidate[] => {
    const rules = (grouped(at.plan.filterRules, 'filterId').get(filterId) ?? []).filter(
      (rule) => rule.direction === direction,
    );
    const denying = rules.find(({ id }) => id === ruleId);
    const position = denying === undefined ? positionAtEnd(rules) : positionBefore(rules, denying);
    if (position === undefined) return [];
    const rule = withFallbacks('filterRules', {
      id: newId(),
      filterId,
      direction,
      position,
      ...service,
      peers: peers.prefixes,
      peerSetIds: peers.setIds,
    });
    const name = byId(at.plan.filters, filterId)?.name ?? '';
    return [
      {
        step: { do: 'filter rule', position, filter: name, service, direction, peers: peers.as },
        operations: [...peers.made, addOperation('filterRules', rule)],
      },
    ];
  });
}

function firewallCandidates(at: Places, { firewallId, ruleId }: Failure & { code: 'firewall' }): Candidate[] {
  const { packet } = at.failed;
  const service = serviceOf(packet);
  const rules = grouped(at.plan.firewallRules, 'firewallId').get(firewallId) ?? [];
  const denying = rules.find(({ id }) => id === ruleId);
  const source = at.named(packet.source, denying?.sources);
  const destination = at.named(packet.destination, denying?.destinations);
  if (source === undefined || destination === undefined) return [];
  const position = denying === undefined ? positionAtEnd(rules) : positionBefore(rules, denying);
  if (position === undefined) return [];
  const rule = withFallbacks('firewallRules', {
    id: newId(),
    firewallId,
    position,
    ...service,
    sources: source.prefixes,
    sourceSetIds: source.setIds,
    destinations: destination.prefixes,
    destinationSetIds: destination.setIds,
  });
  const name = byId(at.plan.firewalls, firewallId)?.name ?? '';
  return [
    {
      step: { do: 'firewall rule', position, firewall: name, service, from: source.as, to: destination.as },
      operations: [...source.made, ...destination.made, addOperation('firewallRules', rule)],
    },
  ];
}

/** A static route where there is none: by a NAT device, a firewall, or a link whose other side knows the way. */
function routeCandidates(at: Places, { networkId, tableId, zone }: Failure & { code: 'no-route' }): Candidate[] {
  const { destination } = at.failed.packet;
  const isOut = isPublicAddress(destination);
  const prefix = isOut ? (destination.family === 4 ? '0.0.0.0/0' : '::/0') : formatPrefix(at.rangeAround(destination));
  const network = byId(at.plan.networks, networkId)?.name ?? '';
  const table = byId(at.plan.routeTables, tableId ?? '');
  const made = withFallbacks('routeTables', { id: newId(), name: `${network}-main`, networkId, isMain: true });
  const to = (hop: Hop, fields: object): Candidate => ({
    step: {
      do: 'route',
      table: (table ?? made).name,
      isTableNew: table === undefined,
      prefix,
      hop,
      isForAnswers: false,
    },
    operations: [
      ...(table === undefined ? [addOperation('routeTables', made)] : []),
      addOperation(
        'routes',
        withFallbacks('routes', { id: newId(), routeTableId: table?.id ?? made.id, prefix, ...fields }),
      ),
    ],
  });
  const inNetwork = ({ subnetId }: { readonly subnetId: string }) =>
    byId(at.plan.subnets, subnetId)?.networkId === networkId;
  const zoneOf = ({ subnetId }: { readonly subnetId: string }) => byId(at.plan.subnets, subnetId)?.zone ?? '';
  const nats = isOut
    ? at.plan.natDevices.filter(inNetwork).sort((a, b) => Number(zoneOf(b) === zone) - Number(zoneOf(a) === zone))
    : [];
  const owner = at.ownerOf(destination);
  const links = at.forwarding.links
    .of(networkId)
    .filter((link) =>
      isOut
        ? at.forwarding.routes.nextHopOnLink(link, networkId, destination) !== undefined
        : owner !== undefined && link.networkIds.includes(owner),
    );
  return [
    ...nats.slice(0, 1).map(({ id, name }) => to({ is: 'nat', name }, { nextHop: 'nat', natDeviceId: id })),
    ...at.plan.firewalls
      .filter(inNetwork)
      .slice(0, 1)
      .map(({ id, name }) => to({ is: 'firewall', name }, { nextHop: 'firewall', firewallId: id })),
    ...links.slice(0, 2).map(({ id, name }) => to({ is: 'link', name }, { nextHop: 'link', linkId: id })),
  ];
}

/** The networks whose tables were looked up on the way of the failed packet, the last first. */
function networksOn({ forth, back, failed }: Pick<FlowTrace, 'forth' | 'back' | 'failed'>): string[] {
  const steps = failed?.isBack === true ? back : forth;
  return [...new Set(steps.flatMap((event) => lookUpOf(event)?.networkId ?? []))].reverse();
}

/** A route that is advertised to a network on the way, and that it does not accept. */
function learnCandidates(at: Places, networkIds: readonly string[]): Candidate[] {
  const { destination } = at.failed.packet;
  const name = (id: string) => byId(at.plan.networks, id)?.name ?? '';
  return networkIds.flatMap((networkId) =>
    at.forwarding.links.of(networkId).flatMap((link): Candidate[] => {
      const own = at.forwarding.links.attachmentOf(link, networkId);
      if (own === undefined) return [];
      const refused = at.forwarding.routes
        .advertisersOf(link, destination)
        .find((id) => id !== networkId && !at.forwarding.links.accepts(link, networkId, id));
      if (refused === undefined) return [];
      return [
        {
          step: { do: 'learn', network: name(networkId), from: name(refused), link: link.name },
          operations: [
            setOperation('attachments', own.id, {
              accepts: 'listed',
              acceptsFromIds: [...own.acceptsFromIds, refused],
            }),
          ],
        },
      ];
    }),
  );
}

/** A neighbour that knows the way and does not tell it over the link: it can pass the range on, beside its own. */
function passOnCandidates(at: Places, networkId: string): Candidate[] {
  const { destination } = at.failed.packet;
  if (isPublicAddress(destination)) return [];
  const prefix = formatPrefix(at.rangeAround(destination));
  const name = (id: string) => byId(at.plan.networks, id)?.name ?? '';
  return at.forwarding.links.of(networkId).flatMap((link) =>
    link.networkIds.slice(0, 20).flatMap((otherId): Candidate[] => {
      if (otherId === networkId) return [];
      const row = at.forwarding.routes.lookUp(otherId, at.forwarding.routes.mainTable(otherId), destination).row;
      if (row === undefined || row.prefix.length === 0) return [];
      const attachment = at.forwarding.links.attachmentOf(link, otherId);
      const listed = attachment?.advertises ?? [];
      if (listed.includes(prefix)) return [];
      const own = listed.length > 0 ? listed : at.forwarding.space(otherId).advertised.map(formatPrefix);
      const advertises = [...new Set([...own, prefix])].slice(0, 200);
      return [
        {
          step: { do: 'advertise', network: name(otherId), prefix, link: link.name },
          operations: [
            attachment === undefined
              ? addOperation(
                  'attachments',
                  withFallbacks('attachments', { id: newId(), linkId: link.id, networkId: otherId, advertises }),
                )
              : setOperation('attachments', attachment.id, { advertises }),
          ],
        },
      ];
    }),
  );
}

function advertiseCandidates(at: Places, linkId: string): Candidate[] {
  const { destination } = at.failed.packet;
  const link = byId(at.plan.links, linkId);
  const owner = at.ownerOf(destination);
  const attachment =
    link === undefined || owner === undefined ? undefined : at.forwarding.links.attachmentOf(link, owner);
  if (attachment === undefined || attachment.advertises.length === 0) return [];
  const prefix = formatPrefix(at.rangeAround(destination));
  if (attachment.advertises.includes(prefix)) return [];
  return [
    {
      step: {
        do: 'advertise',
        network: byId(at.plan.networks, owner ?? '')?.name ?? '',
        prefix,
        link: link?.name ?? '',
      },
      operations: [setOperation('attachments', attachment.id, { advertises: [...attachment.advertises, prefix] })],
    },
  ];
}

/** Destinations that a cluster may keep its pods’ addresses for, as its field says. */
const MAX_UNTRANSLATED = 64;

/** Of pods in an overlay that keep their own address for what was asked, where nobody knows it: their nodes translate it there. */
export function translateCandidates(
  plan: Plan,
  { from: { kind, cluster }, forth: [sent], failed }: FlowTrace,
  typed: ReadonlySet<string>,
): Candidate[] {
  if (kind !== 'pod' || cluster?.podMode !== 'overlay' || sent === undefined || failed === undefined) return [];
  const { destination } = sent.packet;
  const kept = prefixList(cluster.untranslated);
  const holding = kept.filter((prefix) => containsAddress(prefix, destination));
  if (holding.length === 0) return [];
  const asked = new Places(plan, failed, sent.packet, typed).standsFor(destination);
  const left = kept.flatMap((prefix) => subtract(prefix, asked.prefixes)).map(formatPrefix);
  if (left.length > MAX_UNTRANSLATED) return [];
  return [
    {
      step: { do: 'translate', cluster: cluster.name, to: asked.as, outOf: holding.map(formatPrefix) },
      operations: [setOperation('clusters', cluster.id, { untranslated: left })],
    },
  ];
}

/** Another next hop for a route whose own is gone, or that leads to the internet without translation. */
function hopCandidates(at: Places, failure: Failure, lastRouteId: string | undefined): Candidate[] {
  const routeId = 'routeId' in failure ? failure.routeId : (lastRouteId ?? '');
  const route = byId(at.plan.routes, routeId);
  const networkId = 'networkId' in failure ? failure.networkId : '';
  if (route === undefined) return [];
  const inNetwork = ({ subnetId }: { readonly subnetId: string }) =>
    byId(at.plan.subnets, subnetId)?.networkId === networkId;
  return at.plan.natDevices
    .filter(inNetwork)
    .slice(0, 2)
    .map(({ id, name }) => ({
      step: {
        do: 'next hop',
        table: byId(at.plan.routeTables, route.routeTableId)?.name ?? '',
        prefix: route.prefix,
        hop: { is: 'nat', name },
      },
      operations: [
        setOperation('routes', route.id, { nextHop: 'nat', natDeviceId: id, linkId: null, firewallId: null }),
      ],
    }));
}

function sizeCandidates(at: Places, room: number): Candidate[] {
  const owner = at.ownerOf(at.failed.packet.source);
  const network = byId(at.plan.networks, owner ?? '');
  if (network === undefined || room < 1280 || room >= network.mtu) return [];
  return [
    {
      step: { do: 'mtu', network: network.name, before: network.mtu, after: room },
      operations: [setOperation('networks', network.id, { mtu: room })],
    },
  ];
}

/** A route back through the firewall, where it stands in the network that answers. */
function backCandidates(at: Places, firewallId: string): Candidate[] {
  const firewall = byId(at.plan.firewalls, firewallId);
  const subnet = byId(at.plan.subnets, firewall?.subnetId ?? '');
  const owner = at.ownerOf(at.failed.packet.source);
  if (firewall === undefined || subnet === undefined || owner !== subnet.networkId) return [];
  const table = at.forwarding.routes.mainTable(owner);
  if (table === undefined) return [];
  const prefix = formatPrefix(at.rangeAround(at.failed.packet.destination));
  return [
    {
      step: {
        do: 'route',
        table: table.name,
        isTableNew: false,
        prefix,
        hop: { is: 'firewall', name: firewall.name },
        isForAnswers: true,
      },
      operations: [
        addOperation(
          'routes',
          withFallbacks('routes', { id: newId(), routeTableId: table.id, prefix, nextHop: 'firewall', firewallId }),
        ),
      ],
    },
  ];
}
