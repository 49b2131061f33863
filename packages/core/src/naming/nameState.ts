import { parseAddress } from '../address/index.js';
import { isWithin, parentOf, readName, readValue, ZoneSet, ZoneTree } from '../zones/index.js';
import type { Rr } from '../zones/index.js';
import { Forwarding, hostAt, nodeHost, traceFlow } from '../forwarding/index.js';
import type { FlowTrace, Host } from '../forwarding/index.js';
import { byId, changedBetween, grouped, secretOf } from '../plan/index.js';
import type { Balancer, Certificate, Cluster, DnsRecord, ForwardingRule, Plan, Resolver, Zone } from '../plan/index.js';
import { Answers } from './answers.js';
import { setZones } from './clusterSet.js';
import type { HeldNames, NamingParts, View } from './heldNames.js';
import { keptReads, keptRecords, wantedByRecordControllers } from './kept.js';
import type { KeptRecord } from './kept.js';
import type { RecordEdits } from './touched.js';

/** Stands for a zone’s server while none is named, as where a provider runs the zone: a name that is never anybody’s (RFC 6761 6.4). */
export const UNNAMED_SERVER = 'ns.invalid';

/** DNS over UDP. Source: RFC 1035 4.2.1. */
const DNS_PORT = 53;
/** Room that one question over UDP takes at most before it goes over TCP: 1,232 octets and their headers, common practice since 2020. */
const DNS_BYTES = 1280;

const none: readonly never[] = [];

/** The names of a plan: its zones compiled, with what record controllers add, and what is answered where. */
export class NameState implements HeldNames {
  private readonly trees: Map<string, ZoneTree>;
  private readonly views = new Map<string, View>();
  private readonly sets = new Map<string, ZoneSet>();
  private readonly legs: Map<string, FlowTrace>;
  private readonly machines: Map<string, Host | undefined>;
  private publicView: { readonly set: ZoneSet; readonly byApex: ReadonlyMap<string, Zone> } | undefined;
  /** What record controllers make, and by which parts. */
  readonly kept: readonly KeptRecord[];
  readonly edited: RecordEdits | undefined;
  /** What machines of networks and clients on the internet get for names. */
  readonly answers: Answers;

  constructor(
    readonly parts: NamingParts,
    readonly forwarding: Forwarding,
    before?: NameState,
  ) {
    this.kept = before !== undefined && this.keepsSame(before) ? before.kept : this.keptNow();
    this.edited = before === undefined || before.parts.zones !== parts.zones ? undefined : this.editsSince(before);
    this.trees =
      this.edited === undefined || before === undefined
        ? new Map<string, ZoneTree>()
        : this.followed(before, this.edited);
    const isSameWays = before !== undefined && before.forwarding === forwarding;
    this.legs = isSameWays ? before.legs : new Map<string, FlowTrace>();
    this.machines = isSameWays ? before.machines : new Map<string, Host | undefined>();
    this.answers = new Answers(this, before);
  }

  /** Stands for the records of all zones: the same object while none of them changed. */
  get compiled(): object {
    return this.trees;
  }

  static of(plan: Plan, before?: NameState): NameState {
    return new NameState(plan, Forwarding.of(plan, before?.forwarding), before);
  }

  /** A zone compiled: its SOA and servers, what was entered by hand, and what record controllers add. */
  treeOf(zone: Zone): ZoneTree {
    const known = this.trees.get(zone.id);
    if (known !== undefined) return known;
    const made = ZoneTree.of(zone.apex, this.recordsOf(zone));
    this.trees.set(zone.id, made);
    return made;
  }

  /** Every record of a zone, as a name server would be given it. */
  recordsOf(zone: Zone): Rr[] {
    return [
      ...apexRecords(zone),
      ...(grouped(this.parts.records, 'zoneId').get(zone.id) ?? none).flatMap((each) => rrOf(each, zone) ?? []),
      ...this.kept.filter((each) => each.zone.id === zone.id).map(keptRr),
    ];
  }

  get public(): { readonly set: ZoneSet; readonly byApex: ReadonlyMap<string, Zone> } {
    return (this.publicView ??= {
      byApex: new Map(this.parts.zones.filter(({ side }) => side === 'public').map((zone) => [zone.apex, zone])),
      set: new ZoneSet(this.parts.zones.filter(({ side }) => side === 'public').map((zone) => this.treeOf(zone))),
    });
  }

  viewOf(networkId: string): View {
    const known = this.views.get(networkId);
    if (known !== undefined) return known;
    const zones = this.parts.zones.filter(
      ({ side, networkIds }) => side === 'private' && networkIds.includes(networkId),
    );
    const made: View = {
      zones: new ZoneSet(zones.map((zone) => this.treeOf(zone))),
      zoneIds: new Map(zones.map(({ apex, id }) => [apex, id])),
      forwards: this.parts.forwardingRules.filter(({ networkIds }) => networkIds.includes(networkId)),
    };
    this.views.set(networkId, made);
    return made;
  }

  setOf(cluster: Cluster): ZoneSet {
    const known = this.sets.get(cluster.id);
    if (known !== undefined) return known;
    const made = setZones(this.parts, this.forwarding, cluster);
    this.sets.set(cluster.id, made);
    return made;
  }

  /** The rule that sends a name on in a network: the one with the longest domain. */
  forwardFor(networkId: string, name: string): ForwardingRule | undefined {
    const fitting = this.viewOf(networkId).forwards.filter(({ domain }) => isWithin(name, domain));
    return fitting.reduce<ForwardingRule | undefined>(
      (best, each) => (best === undefined || each.domain.length > best.domain.length ? each : best),
      undefined,
    );
  }

  /** The zone of the plan at the longest end of a name, on any side; undefined where the plan holds none for it. */
  zoneAround(name: string): Zone | undefined {
    const byApex = grouped(this.parts.zones, 'apex');
    for (let at: string | undefined = name; at !== undefined; at = parentOf(at)) {
      const [zone] = byApex.get(at) ?? none;
      if (zone !== undefined) return zone;
    }
    return undefined;
  }

  resolverAt(address: string): Resolver | undefined {
    return this.parts.resolvers.find(({ addresses }) => addresses.includes(address));
  }

  balancerNamed(name: string): Balancer | undefined {
    const [found] = grouped(this.parts.balancers, 'providerName').get(name) ?? none;
    return name === '' ? undefined : found;
  }

  /** Whether a name is below one from which a provider names load balancers. */
  isProviderName(name: string): boolean {
    return this.parts.profiles.some(({ balancerDomain }) => balancerDomain !== '' && isWithin(name, balancerDomain));
  }

  /** A question’s way from a machine to an address, there and back. */
  leg(from: Host, address: string): FlowTrace | undefined {
    const parsed = parseAddress(address);
    if (!parsed.ok) return undefined;
    const key = `${from.kind} ${from.label} ${from.networkId} ${from.zone} ${JSON.stringify(from.address)} ${address}`;
    const known = this.legs.get(key);
    if (known !== undefined) return known;
    const made = traceFlow(
      this.forwarding,
      from,
      {
        address: parsed.value,
        protocol: 'udp',
        port: DNS_PORT,
        host: undefined,
        isOutside: true,
        label: `${from.label} to ${address}`,
      },
      DNS_BYTES,
    );
    this.legs.set(key, made);
    return made;
  }

  /** A node of a cluster; undefined while it has no range. */
  machineOf(cluster: Cluster): Host | undefined {
    const node = nodeHost(
      this.forwarding,
      { clusterId: cluster.id, nodePoolId: null, zone: '' },
      cluster.family === 'ipv6' ? 6 : 4,
    );
    return node.ok ? node.value : undefined;
  }

  /** A machine that stands for a network where names are asked there: a node of one of its clusters. */
  machineIn(networkId: string): Host | undefined {
    if (this.machines.has(networkId)) return this.machines.get(networkId);
    const made = this.firstMachineIn(networkId);
    this.machines.set(networkId, made);
    return made;
  }

  private firstMachineIn(networkId: string): Host | undefined {
    for (const cluster of grouped(this.parts.clusters, 'networkId').get(networkId) ?? none) {
      const node = this.machineOf(cluster);
      if (node !== undefined) return node;
    }
    return undefined;
  }

  /** Who is at an address of a network; undefined where nobody is planned. */
  machineAt(networkId: string, address: string): Host | undefined {
    const parsed = parseAddress(address);
    return parsed.ok ? hostAt(this.forwarding, networkId, parsed.value) : undefined;
  }

  /** The machine that sends forwarded questions of a network: the outbound resolver of the rule, else one of the network. */
  senderOf({ throughId }: ForwardingRule, networkId: string): Host | undefined {
    const through = byId(this.parts.resolvers, throughId ?? '');
    return (
      (through === undefined ? undefined : this.machineAt(through.networkId, through.addresses[0] ?? '')) ??
      this.machineIn(networkId)
    );
  }

  /** The certificate that a listener or a route names: at a load balancer by its name, in a cluster by namespace and name of its secret. */
  certificateOf(name: string, clusterId: string | null, namespace: string): Certificate | undefined {
    if (name === '') return undefined;
    const secret = secretOf(name, namespace);
    const named = grouped(this.parts.certificates, 'name');
    if (clusterId === null) return named.get(name)?.find((each) => each.clusterId === null);
    return named.get(secret.name)?.find((each) => each.clusterId === clusterId && each.namespace === secret.namespace);
  }

  /** Whether record controllers make what they made: nothing that they read has changed, nor any record at a name that they ask for. */
  private keepsSame(before: NameState): boolean {
    if (!keptReads.every((part) => before.parts[part] === this.parts[part])) return false;
    if (this.parts.recordControllers.length === 0 || before.parts.records === this.parts.records) return true;
    const { gone, come } = changedBetween(before.parts.records, this.parts.records);
    const wanted = wantedByRecordControllers(this.parts);
    return ![...gone, ...come].some(({ name, zoneId }) =>
      wanted.has(fullName(name, byId(this.parts.zones, zoneId)?.apex ?? '')),
    );
  }

  private keptNow(): readonly KeptRecord[] {
    if (this.parts.recordControllers.length === 0) return none;
    const held = new Set(
      this.parts.records.flatMap(({ type, zoneId, name }) =>
        type === 'A' || type === 'AAAA' || type === 'CNAME'
          ? [`${zoneId} ${fullName(name, byId(this.parts.zones, zoneId)?.apex ?? '')}`]
          : [],
      ),
    );
    return keptRecords(this.parts, (zoneId, host) => held.has(`${zoneId} ${host}`));
  }

  /** Records that differ from another state, by zone. */
  editsSince(before: NameState): Map<string, { gone: Rr[]; come: Rr[] }> {
    const edits = new Map<string, { gone: Rr[]; come: Rr[] }>();
    const of = (zoneId: string) => {
      const known = edits.get(zoneId) ?? { gone: [], come: [] };
      edits.set(zoneId, known);
      return known;
    };
    const { gone, come } = changedBetween(before.parts.records, this.parts.records);
    const put = (list: 'gone' | 'come', each: DnsRecord) => {
      const zone = byId(this.parts.zones, each.zoneId);
      const record = zone === undefined ? undefined : rrOf(each, zone);
      if (record !== undefined) of(each.zoneId)[list].push(record);
    };
    for (const each of gone) put('gone', each);
    for (const each of come) put('come', each);
    if (before.kept !== this.kept) {
      const key = ({ zone, name, type, value, ttl }: KeptRecord) => `${zone.id} ${name} ${type} ${value} ${ttl}`;
      const [had, have] = [new Set(before.kept.map(key)), new Set(this.kept.map(key))];
      for (const each of before.kept) if (!have.has(key(each))) of(each.zone.id).gone.push(keptRr(each));
      for (const each of this.kept) if (!had.has(key(each))) of(each.zone.id).come.push(keptRr(each));
    }
    return edits;
  }

  private followed(before: NameState, edits: NonNullable<NameState['edited']>): Map<string, ZoneTree> {
    if (edits.size === 0) return before.trees;
    const trees = new Map(before.trees);
    for (const [zoneId, { gone, come }] of edits) {
      const tree = trees.get(zoneId);
      if (tree !== undefined) trees.set(zoneId, tree.after(gone, come));
    }
    return trees;
  }
}

/** The records of a zone that its own fields say: SOA and NS. */
export function apexRecords({
  apex,
  ttl,
  primary,
  mailbox,
  serial,
  refresh,
  retry,
  expire,
  minimum,
  nameServers,
  serverTtl,
}: Zone): Rr[] {
  const server = primary === '' ? (nameServers[0]?.toLowerCase() ?? UNNAMED_SERVER) : primary;
  const box = mailbox === '' ? `hostmaster.${apex}` : mailbox;
  const soa: Rr = {
    name: apex,
    type: 'SOA',
    ttl,
    value: `${server} ${box} ${serial} ${refresh} ${retry} ${expire} ${minimum}`,
    target: server,
  };
  // A zone whose servers are not named yet is served by its primary one, as its SOA says.
  const names = nameServers.length === 0 ? [server] : nameServers.map((each) => each.toLowerCase());
  return [
    soa,
    ...names.map((name): Rr => ({ name: apex, type: 'NS', ttl: serverTtl ?? ttl, value: name, target: name })),
  ];
}

/** The full name of a record of a zone. */
export function fullName(name: string, apex: string): string {
  return name === '@' ? apex : `${name}.${apex}`;
}

/** A record of the plan as its zone holds it; undefined for one that cannot be read any more. */
export function rrOf({ name, type, value, ttl }: DnsRecord, zone: Zone): Rr | undefined {
  const owner = readName(name, zone.apex);
  const read = readValue(type, value);
  if (!owner.ok || !read.ok) return undefined;
  return { name: owner.value, type, ttl: ttl ?? zone.ttl, ...read.value };
}

function keptRr({ name, type, ttl, value }: KeptRecord): Rr {
  return { name, type, ttl, value, target: type === 'CNAME' ? value : undefined };
}
