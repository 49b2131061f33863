import {
  compareAddresses,
  containsAddress,
  formatAddress,
  formatPrefix,
  isSamePrefix,
  lastAddress,
  parsePrefix,
  prefixAround,
  specialBlocks,
  subtract,
} from '../address/index.js';
import type { Address, Prefix } from '../address/index.js';
import {
  addOperation,
  applyOperations,
  byId,
  grouped,
  newId,
  positionAtEnd,
  positionBefore,
  prefixList,
  rangeOf,
  readPorts,
  setOperation,
  withFallbacks,
} from '../plan/index.js';
import type { FilterRule, FirewallRule, IcmpMessage, Operation, Plan, Question, Service } from '../plan/index.js';
import { expectGood } from '../result.js';
import { Forwarding } from './forwarding.js';
import { internetAddresses, isPublicAddress } from './host.js';
import { compareMatrices } from './compareMatrix.js';
import { trace } from './trace.js';
import type { FlowTrace, Trace } from './trace.js';
import { destinationPorts, lookUpOf, messageOf, subjectOf } from '../road/index.js';
import type { Failed, Failure, Packet } from '../road/index.js';

/** A change that lets a packet pass, with what it does and what else it would open. */
export interface Mend {
  readonly steps: readonly MendStep[];
  readonly operations: readonly Operation[];
  readonly opens: Opened;
}

/** What a rule or a range is for, as it is named. */
export type NamedFor =
  | { readonly is: 'prefixes'; readonly prefixes: readonly string[] }
  | { readonly is: 'set'; readonly set: string }
  | { readonly is: 'internet' };

/** What a packet is of, as a rule names it: its ports and its kind of ICMP message where it has any. */
export interface ServiceNamed {
  readonly protocol: Packet['protocol'];
  readonly ports: readonly string[];
  readonly icmp: readonly IcmpMessage[];
}

/** One change of a row. Rows are told by their names, since those that a step before has made are in no plan yet. */
export type MendStep =
  | {
      readonly do: 'filter rule';
      readonly position: number;
      readonly filter: string;
      readonly service: ServiceNamed;
      readonly direction: 'in' | 'out';
      readonly peers: NamedFor;
    }
  | {
      readonly do: 'firewall rule';
      readonly position: number;
      readonly firewall: string;
      readonly service: ServiceNamed;
      readonly from: NamedFor;
      readonly to: NamedFor;
    }
  | {
      readonly do: 'route';
      readonly table: string;
      readonly isTableNew: boolean;
      readonly prefix: string;
      readonly hop: Hop;
      /** Whether it is for answers, which have to pass the device too. */
      readonly isForAnswers: boolean;
    }
  | { readonly do: 'next hop'; readonly table: string; readonly prefix: string; readonly hop: Hop }
  | { readonly do: 'remove route' }
  | { readonly do: 'learn'; readonly network: string; readonly from: string; readonly link: string }
  | { readonly do: 'advertise'; readonly network: string; readonly prefix: string; readonly link: string }
  | {
      readonly do: 'translate';
      readonly cluster: string;
      readonly to: NamedFor;
      /** The prefixes of the cluster’s field that it is taken out of. */
      readonly outOf: readonly string[];
    }
  | { readonly do: 'mtu'; readonly network: string; readonly before: number; readonly after: number };

/** Where a route leads, by name. */
export interface Hop {
  readonly is: 'nat' | 'firewall' | 'link';
  readonly name: string;
}

/** What passes with a change beyond what was asked. */
export interface Opened {
  /** Cells of the matrix that pass with it and did not before, those of the question's own kind included; undefined where there are too many clusters to count. */
  readonly cells: readonly { readonly cluster: string; readonly label: string }[] | undefined;
  /** Clusters up to which cells are counted. */
  readonly countedUpTo: number;
  /** Prefixes of added rules that are more than one address: all of them pass. */
  readonly wide: readonly string[];
}

interface Candidate {
  readonly step: MendStep;
  readonly operations: readonly Operation[];
}

/** Changes in a row that are tried, and traces in all. */
const DEEPEST = 3;
const MOST_TRACES = 40;
/** Prefixes of a need by whose last addresses a change is judged. */
const MOST_JUDGED = 8;
/** Clusters up to which it is counted what else a change would open. */
const MOST_COUNTED = 250;

/**
 * The smallest changes that would let a question pass: fewest steps first. None when it passes, or when no change of
 * the known kinds helps.
 */
export function mendsOf(plan: Plan, question: Question): Mend[] {
  const start = Forwarding.of(plan);
  const first = trace(start, question);
  const typed = typedIn(question);
  const found: { steps: readonly MendStep[]; operations: readonly Operation[]; plan: Plan }[] = [];
  let traces = 0;
  let open: { plan: Plan; trace: Trace; steps: readonly MendStep[]; operations: readonly Operation[] }[] = [
    { plan, trace: first, steps: [], operations: [] },
  ];
  for (let depth = 0; depth < DEEPEST && found.length === 0; depth++) {
    const next: typeof open = [];
    for (const each of open) {
      for (const candidate of candidatesFor(each.plan, each.trace, typed)) {
        if (traces++ >= MOST_TRACES) break;
        const applied = applyOperations(each.plan, candidate.operations);
        if (!applied.ok) continue;
        const answer = trace(Forwarding.of(applied.plan), question);
        const tried = {
          plan: applied.plan,
          trace: answer,
          steps: [...each.steps, candidate.step],
          operations: [...each.operations, ...candidate.operations],
        };
        if (answer.verdict === 'pass' && holdsForOthers(applied.plan, question)) found.push(tried);
        else if (isFurther(each.trace, answer)) next.push(tried);
      }
    }
    open = next;
  }
  return found.slice(0, 4).map((each) => ({
    steps: each.steps,
    operations: each.operations,
    opens: { cells: cellsOpened(plan, each.plan), countedUpTo: MOST_COUNTED, wide: wideOf(each.operations) },
  }));
}

/** The addresses that a question names itself, rather than what stands there. */
function typedIn({ from, to }: Question): ReadonlySet<string> {
  return new Set([from, to].flatMap((end) => (end.kind === 'address' ? [end.address] : [])));
}

/** Whether what passes at the addresses that were asked passes at others of the same set too: of the internet, or of a need. */
function holdsForOthers(plan: Plan, question: Question): boolean {
  const { to } = question;
  const forwarding = Forwarding.of(plan);
  if (to.kind === 'internet') {
    const others = internetAddresses(forwarding, 4, true);
    return others.every((address) => isPassing(forwarding, question, formatAddress(address), to.service));
  }
  const need = to.kind === 'need' ? byId(plan.needs, to.needId) : undefined;
  if (need === undefined || need.access === 'private endpoint') return true;
  const port = readPorts(need.ports[0] ?? '')?.first ?? 0;
  return prefixList(need.prefixes)
    .slice(0, MOST_JUDGED)
    .filter(({ family }) => family === 4)
    .every((prefix) =>
      isPassing(forwarding, question, formatAddress(lastAddress(prefix)), { protocol: need.protocol, port }),
    );
}

function isPassing(forwarding: Forwarding, question: Question, address: string, service: Service): boolean {
  return trace(forwarding, { ...question, to: { kind: 'address', address, service } }).verdict === 'pass';
}

/** Whether a change brought the packet further, or fewer flows fail. */
function isFurther(before: Trace, after: Trace): boolean {
  const failing = (of: Trace) => of.flows.filter(({ verdict }) => verdict !== 'pass').length;
  const length = ({ flows: [flow] }: Trace) => (flow === undefined ? 0 : flow.forth.length + flow.back.length);
  return failing(after) < failing(before) || length(after) > length(before);
}

function candidatesFor(plan: Plan, { flows: [flow] }: Trace, typed: ReadonlySet<string>): Candidate[] {
  return flow === undefined ? [] : [...mendsAt(plan, flow, typed), ...translateCandidates(plan, flow, typed)];
}

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

/** What a rule names at one side. */
interface Named {
  readonly prefixes: readonly string[];
  readonly setIds: readonly string[];
  readonly as: NamedFor;
  /** Rows that come with it. */
  readonly made: readonly Operation[];
}

/** Prefixes of a need that one rule names. */
const MOST_NAMED = 200;
const PUBLIC_SET = 'public internet';

let known: readonly string[] | undefined;

/** IPv4 without what cannot be met on the internet; space for documents stands for public addresses, as it does in examples. */
function publicSpace(): string[] {
  known ??= subtract(
    expectGood(parsePrefix('0.0.0.0/0')),
    specialBlocks
      .filter(({ prefix, use }) => prefix.family === 4 && use !== 'documentation')
      .map(({ prefix }) => prefix),
  ).map(formatPrefix);
  return [...known];
}

/** What stands around a failed packet. */
class Places {
  readonly forwarding: Forwarding;

  constructor(
    readonly plan: Plan,
    readonly failed: Failed,
    /** As it was sent: what stands for the internet there was asked or asks; later on it is an address that is not decided. */
    private readonly sent: Packet | undefined,
    private readonly typed: ReadonlySet<string>,
  ) {
    this.forwarding = Forwarding.of(plan);
  }

  /** The range that an address belongs to in some network of the plan, else the address alone. */
  rangeAround(address: Address): Prefix {
    for (const { id } of this.plan.networks) {
      const holder = this.forwarding.space(id).holderOf(address);
      if (holder !== undefined && holder.kind !== 'block') return holder.prefix;
    }
    return this.needAround(address)[0] ?? prefixAround(address, address.family === 4 ? 32 : 128);
  }

  /** What an address stands for: all of the internet (of IPv6 its global unicast space, RFC 4291 2.4), itself where it was typed, else the range it belongs to. */
  standsFor(address: Address): { readonly prefixes: readonly Prefix[]; readonly as: NamedFor } {
    if (this.isStandIn(address))
      return { prefixes: prefixList(address.family === 4 ? publicSpace() : ['2000::/3']), as: { is: 'internet' } };
    const own = this.typed.has(formatAddress(address))
      ? prefixAround(address, address.family === 4 ? 32 : 128)
      : this.rangeAround(address);
    return { prefixes: [own], as: { is: 'prefixes', prefixes: [formatPrefix(own)] } };
  }

  /** All prefixes of the need that an address is of, the one around it first. */
  private needAround(address: Address): Prefix[] {
    const isAround = (prefix: Prefix) =>
      prefix.family === address.family && isSamePrefix(prefixAround(address, prefix.length), prefix);
    const own =
      this.plan.needs.map(({ prefixes }) => prefixList(prefixes)).find((prefixes) => prefixes.some(isAround)) ?? [];
    return [...own.filter(isAround), ...own.filter((each) => !isAround(each) && each.family === address.family)];
  }

  /**
   * What a rule has to name for an address: of the internet all of it, as a set that the plan keeps, since an address that stands for it
   * is nobody’s; of a need all of its prefixes; else the range it belongs to. None for an address that a translation put there undecided.
   */
  named(address: Address, denied: readonly string[] = []): Named | undefined {
    if (this.isStandIn(address)) return this.isOfInternet ? this.internet() : undefined;
    const alone = this.narrower(address, denied);
    if (alone !== undefined) return ofPrefixes([alone]);
    const holder = formatPrefix(this.rangeAround(address));
    const need = this.needAround(address).map(formatPrefix);
    const prefixes = need[0] === holder ? need.slice(0, MOST_NAMED) : [holder];
    return ofPrefixes(prefixes);
  }

  /** The address alone where it was typed; else what a rule that denies names of its range, so that no more of it is undone. */
  private narrower(address: Address, denied: readonly string[]): string | undefined {
    if (this.typed.has(formatAddress(address)))
      return formatPrefix(prefixAround(address, address.family === 4 ? 32 : 128));
    const { length } = this.rangeAround(address);
    const around = prefixList(denied).find(
      (prefix) =>
        prefix.family === address.family &&
        prefix.length > length &&
        isSamePrefix(prefixAround(address, prefix.length), prefix),
    );
    return around === undefined ? undefined : formatPrefix(around);
  }

  private isStandIn(address: Address): boolean {
    return this.forwarding.internet.some((each) => compareAddresses(each, address) === 0);
  }

  private get isOfInternet(): boolean {
    return this.sent !== undefined && (this.isStandIn(this.sent.source) || this.isStandIn(this.sent.destination));
  }

  private internet(): Named {
    const standing = this.plan.prefixSets.find(({ prefixes }) => prefixes.join() === publicSpace().join());
    if (standing !== undefined)
      return { prefixes: [], setIds: [standing.id], as: { is: 'set', set: standing.name }, made: [] };
    const note = 'All of IPv4 without private, shared and special space (RFC 6890)';
    const made = withFallbacks('prefixSets', { id: newId(), name: PUBLIC_SET, prefixes: publicSpace(), note });
    return {
      prefixes: [],
      setIds: [made.id],
      as: { is: 'set', set: PUBLIC_SET },
      made: [addOperation('prefixSets', made)],
    };
  }

  /** The node ranges that packets come from between a cluster's nodes, since any of them may send; else what is named for the address. */
  peersOf(address: Address, denied: readonly string[]): Named | undefined {
    const { tunnelOf } = this.failed;
    if (tunnelOf === undefined) return this.named(address, denied);
    const prefixes = this.forwarding
      .rangesOf(tunnelOf)
      .filter((range) => range.purpose === 'node' && rangeOf(range).family === address.family)
      .map(({ prefix }) => prefix);
    return ofPrefixes(prefixes);
  }

  /** The network that holds an address. */
  ownerOf(address: Address): string | undefined {
    return this.plan.networks.find(({ id }) => {
      const holder = this.forwarding.space(id).holderOf(address);
      return holder !== undefined && holder.kind !== 'block';
    })?.id;
  }
}

/** Prefixes that a rule names itself. */
function ofPrefixes(prefixes: readonly string[]): Named {
  return { prefixes, setIds: [], as: { is: 'prefixes', prefixes }, made: [] };
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
  const links = at.forwarding
    .linksOf(networkId)
    .filter((link) =>
      isOut
        ? at.forwarding.takerOn(link, networkId, destination) !== undefined
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
    at.forwarding.linksOf(networkId).flatMap((link): Candidate[] => {
      const own = at.forwarding.attachmentOf(link, networkId);
      if (own === undefined) return [];
      const refused = at.forwarding
        .offersOn(link, destination)
        .find((id) => id !== networkId && !at.forwarding.accepts(link, networkId, id));
      if (refused === undefined) return [];
      return [
        {
          step: { do: 'learn', network: name(networkId), from: name(refused), link: link.name },
          operations: [
            setOperation('attachments', own.id, { learns: 'listed', learnsFromIds: [...own.learnsFromIds, refused] }),
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
  return at.forwarding.linksOf(networkId).flatMap((link) =>
    link.networkIds.slice(0, 20).flatMap((otherId): Candidate[] => {
      if (otherId === networkId) return [];
      const row = at.forwarding.lookUp(otherId, at.forwarding.mainTable(otherId), destination).row;
      if (row === undefined || row.prefix.length === 0) return [];
      const attachment = at.forwarding.attachmentOf(link, otherId);
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
  const attachment = link === undefined || owner === undefined ? undefined : at.forwarding.attachmentOf(link, owner);
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
const MOST_UNTRANSLATED = 64;

/** Of pods in an overlay that keep their own address for what was asked, where nobody knows it: their nodes translate it there. */
function translateCandidates(
  plan: Plan,
  { from: { kind, cluster }, forth: [sent], failed }: FlowTrace,
  typed: ReadonlySet<string>,
): Candidate[] {
  if (kind !== 'pod' || cluster?.podMode !== 'overlay' || sent === undefined || failed === undefined) return [];
  if (!failed.isBack && failed.failure.code !== 'private-source') return [];
  const { destination } = sent.packet;
  const kept = prefixList(cluster.untranslated);
  const holding = kept.filter((prefix) => containsAddress(prefix, destination));
  if (holding.length === 0) return [];
  const asked = new Places(plan, failed, sent.packet, typed).standsFor(destination);
  const left = kept.flatMap((prefix) => subtract(prefix, asked.prefixes)).map(formatPrefix);
  if (left.length > MOST_UNTRANSLATED) return [];
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
  const table = at.forwarding.mainTable(owner);
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

/** The ranges that added rules hold for at either end, since more than what was asked passes by them. */
function wideOf(operations: readonly Operation[]): string[] {
  const named = operations.flatMap((operation) => {
    if (operation.op !== 'add') return [];
    if (operation.kind === 'filterRules') return prefixList((operation.entity as FilterRule).peers);
    if (operation.kind !== 'firewallRules') return [];
    const { sources, destinations } = operation.entity as FirewallRule;
    return prefixList([...sources, ...destinations]);
  });
  return [...new Set(named.filter(({ family, length }) => length < (family === 4 ? 32 : 128)).map(formatPrefix))];
}

/** What passes afterwards and did not before, cell by cell of the matrix. */
function cellsOpened(before: Plan, after: Plan): Opened['cells'] {
  if (before.clusters.length > MOST_COUNTED) return undefined;
  return compareMatrices(Forwarding.of(before), Forwarding.of(after)).gained.map(({ clusterName, label }) => ({
    cluster: clusterName,
    label,
  }));
}
