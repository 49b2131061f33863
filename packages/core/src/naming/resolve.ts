import { isWithin, MAX_ALIASES, parentOf } from '../zones/index.js';
import type { AnyType, Rr, ZoneAnswer, ZoneTree } from '../zones/index.js';
import type { FlowTrace, Host } from '../forwarding/index.js';
import { byId, readStubZone } from '../plan/index.js';
import type { Cluster, ForwardingRule, Zone } from '../plan/index.js';
import { answerInCluster, isOwnName, searchListOf } from './clusterNames.js';
import { blockedWay, exportedAs, plannedFor } from './clusterSet.js';
import type { HeldNames } from './heldNames.js';
import { goesOn, namesTried } from './searchList.js';
import { CLIENT_OUTSIDE } from '../english/index.js';
import type { NameReason, Subject } from '../road/index.js';

/** How a question for a name ends: the records, no such record, no such name, a failure of the resolver, no answer, or the plan does not say. */
export type NameOutcome = 'answer' | 'no data' | 'no name' | 'failure' | 'time-out' | 'outside';

/** How each ending is called on the wire. Source: RFC 1035 4.1.1, RFC 2308. */
export const codeOf: Readonly<Record<NameOutcome, string>> = {
  answer: 'NOERROR',
  'no data': 'NODATA',
  'no name': 'NXDOMAIN',
  failure: 'SERVFAIL',
  'time-out': 'time-out',
  outside: 'unknown',
};

/** One question that is sent, who answers it, and what. */
export interface Query {
  readonly asker: string;
  readonly name: string;
  readonly type: AnyType;
  /** Who answers: a cluster’s DNS, a network’s resolver, a resolver at an address. */
  readonly server: string;
  readonly outcome: NameOutcome;
  readonly records: readonly Rr[];
  readonly why: NameReason;
  readonly subject: Subject | undefined;
  /** The way to who is asked, where it is one through the plan’s networks. */
  readonly flow: FlowTrace | undefined;
}

/** What a name comes to for who asks for it. */
export interface Resolution {
  /** The name that was answered, or the last that was tried. */
  readonly name: string;
  readonly type: AnyType;
  readonly outcome: NameOutcome;
  /** Aliases, then the records, in their order. */
  readonly records: readonly Rr[];
  /** Seconds for which the answer may be remembered: the shortest of its records, or for a negative one that of the zone. */
  readonly ttl: number;
  /** Why it ends as it does. */
  readonly why: NameReason;
  readonly subject: Subject | undefined;
  /** Each question on the way, in order. */
  readonly queries: readonly Query[];
  /** Names that the resolver library tried, with the questions that it sent for them. */
  readonly tried: readonly string[];
  readonly sent: number;
  /** Names of servers of delegations whose addresses it hangs on. */
  readonly servers: readonly string[];
  /** Whether somebody was asked at an address, so that it hangs on the ways there. */
  readonly isByWays: boolean;
}

/** Who asks. */
export interface Asker {
  readonly label: string;
  /** Empty on the internet. */
  readonly networkId: string;
  /** Where its packets start; without it, whether they arrive is not looked at. */
  readonly host: Host | undefined;
  /** For a pod: its cluster and namespace. */
  readonly pod: { readonly cluster: Cluster; readonly namespace: string } | undefined;
  /** The workload whose network policies keep its questions back; undefined when they leave it. */
  readonly held?: string | undefined;
}

interface Found {
  readonly outcome: NameOutcome;
  readonly records: readonly Rr[];
  readonly ttl: number;
  readonly why: NameReason;
  readonly subject: Subject | undefined;
}

/** Seconds for which the name that a provider gives a load balancer may be remembered: common practice. */
const PROVIDER_TTL = 60;

/** Resolvers that ask one another before it counts as endless. */
const MAX_HOPS = 12;

/** Resolves a name as who asks would: a pod by its search list, every other place as it is. */
export function resolve(state: HeldNames, asker: Asker, name: string, type: AnyType): Resolution {
  return new Resolving(state).resolve(asker, name, type);
}

class Resolving {
  private readonly queries: Query[] = [];
  private sent = 0;
  /** Servers of delegations whose addresses are being looked for. */
  private readonly finding = new Set<string>();
  /** Names of servers whose addresses were looked up on the way. */
  private readonly servers = new Set<string>();
  private isByWays = false;

  constructor(private readonly state: HeldNames) {}

  resolve(asker: Asker, name: string, type: AnyType): Resolution {
    const { pod } = asker;
    const names =
      pod === undefined
        ? [withoutDot(name)]
        : namesTried(name, pod.cluster.ndots, searchListOf(pod.cluster, pod.namespace));
    // The library asks for A and AAAA of a name at once, and takes what either finds (getaddrinfo(3)).
    const types: readonly AnyType[] = pod !== undefined && (type === 'A' || type === 'AAAA') ? ['A', 'AAAA'] : [type];
    const tried: string[] = [];
    let last: Found | undefined;
    let first: Found | undefined;
    let unheld: Found | undefined;
    for (const each of names) {
      tried.push(each);
      const found = types.map((of) => {
        this.sent++;
        return this.asked(asker, each, of);
      });
      const own = found[types.indexOf(type)];
      last = own;
      if (each === withoutDot(name)) first = own;
      if (found.some(({ outcome }) => outcome === 'answer')) break;
      const worst = found.some(({ outcome }) => outcome === 'time-out')
        ? 'time-out'
        : found.some(({ outcome }) => outcome === 'failure')
          ? 'failure'
          : 'nothing';
      if (!goesOn(worst)) break;
      // A name of the search list that the plan does not hold is taken not to exist, so that the search goes on; the name itself may.
      if (found.some(({ outcome }) => outcome === 'outside')) {
        if (each === withoutDot(name)) break;
        unheld ??= own;
      }
    }
    // Of several names that do not exist the one that was meant is told.
    const told =
      last?.outcome === 'answer' || last?.outcome === 'time-out' || last?.outcome === 'outside'
        ? last
        : (unheld ?? first ?? last);
    const end = told ?? { outcome: 'failure', records: [], ttl: 0, why: { code: 'nothing-asked' }, subject: undefined };
    return {
      name: tried.at(-1) ?? name,
      type,
      ...end,
      queries: this.queries,
      tried,
      sent: this.sent,
      servers: [...this.servers],
      isByWays: this.isByWays,
    };
  }

  /** One question of who asks, to whom it asks first. */
  private asked(asker: Asker, name: string, type: AnyType): Found {
    const { pod } = asker;
    if (pod !== undefined) return this.askCluster(asker, pod.cluster, name, type);
    if (asker.networkId === '') return this.note(asker.label, name, type, 'public DNS', this.askPublic(name, type));
    return this.askFromNetwork(asker, name, type, new Set());
  }

  /** `met` are the names whose aliases led here. Source: RFC 1034 3.6.2, aliases in a circle are an error. */
  private askCluster(asker: Asker, cluster: Cluster, name: string, type: AnyType, met: readonly string[] = []): Found {
    const server = `DNS of ${cluster.name}`;
    const subject: Subject = { kind: 'clusters', id: cluster.id };
    if (asker.held !== undefined)
      return this.note(asker.label, name, type, server, {
        outcome: 'time-out',
        records: [],
        ttl: 0,
        why: { code: 'held', workload: asker.held },
        subject,
      });
    if (isOwnName(this.state, cluster, name)) return this.ownName(asker, cluster, name, type, met);
    const set = this.state.setOf(cluster).closest(name);
    if (set !== undefined) return this.note(asker.label, name, type, server, this.inSet(set, cluster, name, type));
    const planned = plannedFor(this.state.parts, cluster, name);
    if (planned !== undefined)
      return this.note(asker.label, name, type, server, {
        outcome: 'outside',
        records: [],
        ttl: 0,
        why: { code: 'export.planned', connection: planned.name },
        subject: { kind: 'connections', id: planned.id },
      });
    return this.fromCluster(asker, cluster, name, type);
  }

  /** A name that a cluster’s DNS answers itself. */
  private ownName(asker: Asker, cluster: Cluster, name: string, type: AnyType, met: readonly string[]): Found {
    const server = `DNS of ${cluster.name}`;
    const { outcome, records, service, why } = answerInCluster(this.state, cluster, name, type);
    const [record] = records;
    const subject: Subject =
      service === undefined ? { kind: 'clusters', id: cluster.id } : { kind: 'services', id: service.id };
    const found: Found = { outcome, records, ttl: record?.ttl ?? 5, why, subject };
    this.note(asker.label, name, type, server, found);
    // An ExternalName is an alias, and its target is asked for like any other name.
    if (record?.type !== 'CNAME' || type === 'CNAME') return found;
    const target = record.target ?? '';
    const chain = [...met, name];
    if (chain.includes(target) || chain.length > MAX_ALIASES)
      return this.note(asker.label, name, type, server, {
        ...failure({ code: 'aliases', name: chain[0] ?? name, most: MAX_ALIASES, chain: [...chain, target] }),
        subject,
      });
    const rest = this.askCluster(asker, cluster, target, type, chain);
    return { ...rest, records: [record, ...rest.records], ttl: Math.min(record.ttl, rest.ttl) };
  }

  /** A cluster’s DNS passes on what is not its own: by a stub zone, to its upstream, or to the resolver of its network. */
  private fromCluster(asker: Asker, cluster: Cluster, name: string, type: AnyType): Found {
    const server = `DNS of ${cluster.name}`;
    const subject: Subject = { kind: 'clusters', id: cluster.id };
    const stub = cluster.stubZones
      .flatMap((text) => readStubZone(text) ?? [])
      .filter(({ domain }) => isWithin(name, domain))
      .sort((a, b) => b.domain.length - a.domain.length)[0];
    const network = byId(this.state.parts.networks, cluster.networkId)?.name ?? '';
    const to =
      stub !== undefined
        ? ({ is: 'stub', domain: stub.domain } as const)
        : cluster.dnsUpstream.length > 0
          ? ({ is: 'upstream' } as const)
          : ({ is: 'network', network } as const);
    this.passedOn(asker.label, name, type, server, { code: 'passed.cluster', server, to }, subject);
    const through: Asker = {
      label: server,
      networkId: cluster.networkId,
      host: asker.host?.node ?? asker.host,
      pod: undefined,
    };
    if (stub !== undefined)
      return this.askAddresses(through, stub.targets, name, type, new Set(), `stub zone ${stub.domain}`);
    if (cluster.dnsUpstream.length > 0)
      return this.askAddresses(through, cluster.dnsUpstream, name, type, new Set(), 'upstream');
    return this.askFromNetwork(through, name, type, new Set());
  }

  /** What a cluster’s DNS says of exported services. */
  private inSet(set: ZoneTree, cluster: Cluster, name: string, type: AnyType): Found {
    const said = set.lookUp(name, type);
    const each = exportedAs(this.state.parts, cluster, name);
    const subject: Subject =
      each === undefined
        ? { kind: 'clusters', id: cluster.id }
        : { kind: 'serviceExports', id: each.exporters[0]?.exported.id ?? '' };
    if (said.outcome === 'answer' || said.outcome === 'alias')
      return {
        outcome: 'answer',
        records: said.records,
        ttl: shortest(said.records, undefined),
        why: { code: 'export.answers', name, connection: each?.connection.name ?? set.apex },
        subject,
      };
    const blocked =
      each === undefined
        ? []
        : each.exporters.flatMap((exporter) => blockedWay(this.state.forwarding, cluster, each, exporter) ?? []);
    const service = `${each?.namespace ?? ''}/${each?.name ?? ''}`;
    const why: NameReason =
      each === undefined
        ? { code: 'export.none', name, cluster: cluster.name }
        : blocked.length > 0
          ? { code: 'export.not-reached', service, blocked }
          : each.isHeadless
            ? { code: 'export.no-pod', service }
            : { code: 'type.none', type };
    return {
      outcome: said.outcome === 'no data' ? 'no data' : 'no name',
      records: [],
      ttl: set.negativeTtl(),
      why,
      subject,
    };
  }

  /** What machines of a network ask: the name servers that it names, else its own resolver. */
  private askFromNetwork(asker: Asker, name: string, type: AnyType, trail: ReadonlySet<string>): Found {
    const network = byId(this.state.parts.networks, asker.networkId);
    if (network !== undefined && network.nameServers.length > 0)
      return this.askAddresses(asker, network.nameServers, name, type, trail, '');
    return this.atNetwork(asker, asker.networkId, name, type, trail);
  }

  /** What the resolver of a network answers: forwards and private zones by the longest domain, everything else from the public DNS. */
  private atNetwork(asker: Asker, networkId: string, name: string, type: AnyType, trail: ReadonlySet<string>): Found {
    const label = `resolver of ${byId(this.state.parts.networks, networkId)?.name ?? ''}`;
    const key = `${networkId} ${name} ${type}`;
    if (trail.has(key) || trail.size > MAX_HOPS)
      return this.note(asker.label, name, type, label, failure({ code: 'forward.loop', server: label }));
    const onward = new Set([...trail, key]);
    const view = this.state.viewOf(networkId);
    const records: Rr[] = [];
    let at = name;
    for (let aliases = 0; aliases <= MAX_ALIASES; aliases++) {
      const forward = this.state.forwardFor(networkId, at);
      const zone = view.zones.closest(at);
      let found: Found;
      // Of a forwarding rule and a private zone the longer name decides; where they are alike, the rule (common practice).
      if (forward !== undefined && forward.domain.length >= (zone?.apex.length ?? -1)) {
        const why = { code: 'passed.rule', server: label, rule: forward.name } as const;
        this.passedOn(asker.label, at, type, label, why, { kind: 'forwardingRules', id: forward.id });
        found = this.sentOn(networkId, forward, label, at, type, onward);
        if (records.length === 0) return found;
      } else if (zone !== undefined) {
        const zoneId = view.zoneIds.get(zone.apex) ?? '';
        found = this.inZone(zone, zoneId, at, type, (cut) =>
          this.delegatedInside(networkId, cut, at, type, label, onward),
        );
      } else found = this.askPublicOnce(at, type);
      records.push(...found.records);
      const alias = openAlias(found, type);
      if (alias === undefined)
        return this.note(asker.label, name, type, label, { ...found, records, ttl: shortest(records, found) });
      if (records.filter((each) => each.name === alias).length > 0) break;
      at = alias;
    }
    return this.note(asker.label, name, type, label, {
      ...failure({ code: 'aliases', name, most: MAX_ALIASES, chain: [] }),
      records,
    });
  }

  private sentOn(
    networkId: string,
    forward: ForwardingRule,
    label: string,
    name: string,
    type: AnyType,
    trail: ReadonlySet<string>,
  ): Found {
    const through = byId(this.state.parts.resolvers, forward.throughId ?? '');
    const asking = through === undefined ? label : `resolver ${through.name}`;
    const host = this.state.senderOf(forward, networkId);
    const asker: Asker = {
      label: asking,
      networkId,
      host: host === undefined || through === undefined ? host : { ...host, label: asking },
      pod: undefined,
    };
    return this.askAddresses(asker, forward.targets, name, type, trail, forward.name, {
      kind: 'forwardingRules',
      id: forward.id,
    });
  }

  /** Addresses are asked in their order until one answers at all. */
  private askAddresses(
    asker: Asker,
    addresses: readonly string[],
    name: string,
    type: AnyType,
    trail: ReadonlySet<string>,
    by: string,
    subject?: Subject,
  ): Found {
    let last = failure({ code: 'no-resolver' });
    for (const address of addresses) {
      last = this.askAddress(asker, address, name, type, trail, by, subject);
      if (last.outcome !== 'time-out') return last;
    }
    return last;
  }

  private askAddress(
    asker: Asker,
    address: string,
    name: string,
    type: AnyType,
    trail: ReadonlySet<string>,
    by: string,
    subject?: Subject,
  ): Found {
    this.isByWays = true;
    const resolver = this.state.resolverAt(address);
    const server = `${resolver === undefined ? 'a name server' : `resolver ${resolver.name}`} at ${address}`;
    const of: Subject | undefined = resolver === undefined ? subject : { kind: 'resolvers', id: resolver.id };
    const flow = asker.host === undefined ? undefined : this.state.leg(asker.host, address);
    const end = (found: Found) => this.note(asker.label, name, type, server, found, flow);
    if (flow !== undefined && flow.verdict !== 'pass')
      return end({
        outcome: 'time-out',
        records: [],
        ttl: 0,
        why: { code: 'no-answer', asker: asker.label, address, by, failed: flow.failed },
        subject: of,
      });
    if (resolver?.role === 'outbound')
      return end({
        outcome: 'time-out',
        records: [],
        ttl: 0,
        why: { code: 'resolver.outbound', resolver: resolver.name, address },
        subject: of,
      });
    if (resolver === undefined)
      return end({
        outcome: 'outside',
        records: [],
        ttl: 0,
        why: { code: 'resolver.unknown', address },
        subject,
      });
    this.passedOn(
      asker.label,
      name,
      type,
      server,
      { code: 'passed.address', asker: asker.label, server, by },
      of,
      flow,
    );
    return this.atNetwork(
      { label: `resolver ${resolver.name}`, networkId: resolver.networkId, host: undefined, pod: undefined },
      resolver.networkId,
      name,
      type,
      trail,
    );
  }

  /** What a zone says, with what a delegation of it leads to. */
  private inZone(
    zone: ZoneTree,
    zoneId: string,
    name: string,
    type: AnyType,
    onward: (cut: string, said: ZoneAnswer) => Found,
  ): Found {
    const said = zone.lookUp(name, type);
    const subject: Subject = { kind: 'zones', id: zoneId };
    const title = byId(this.state.parts.zones, zoneId)?.name ?? zone.apex;
    const { wildcard } = said;
    const records = said.records;
    switch (said.outcome) {
      case 'answer':
        return {
          outcome: 'answer',
          records,
          ttl: shortest(records, undefined),
          why: { code: 'zone.answers', zone: title, wildcard },
          subject,
        };
      case 'alias':
        return {
          outcome: 'answer',
          records,
          ttl: shortest(records, undefined),
          why: { code: 'zone.alias', zone: title, wildcard, target: records[0]?.value ?? '' },
          subject,
        };
      case 'no data':
        return {
          outcome: 'no data',
          records,
          ttl: zone.negativeTtl(),
          why: { code: 'zone.no-data', zone: title, wildcard, name, type },
          subject,
        };
      case 'no name':
        return {
          outcome: 'no name',
          records,
          ttl: zone.negativeTtl(),
          why: { code: 'zone.no-name', zone: title, name },
          subject,
        };
      case 'referral':
        return onward(said.delegation[0]?.name ?? '', said);
    }
  }

  /** A delegation inside a network leads to servers that the network’s resolver must reach: found by the addresses that the zones know. */
  private delegatedInside(
    networkId: string,
    cut: string,
    name: string,
    type: AnyType,
    label: string,
    trail: ReadonlySet<string>,
  ): Found {
    const zone = this.state.viewOf(networkId).zones.closest(cut);
    const servers = zone?.setAt(cut, 'NS').flatMap(({ target }) => target ?? []) ?? [];
    for (const server of servers) this.servers.add(server);
    this.isByWays = true;
    const addresses = servers.flatMap((server) => this.serverAddresses(networkId, server, cut, zone, label, trail));
    if (addresses.length === 0) return failure({ code: 'delegation.unknown-there', cut, servers });
    return this.askAddresses(
      { label, networkId, host: this.state.machineIn(networkId), pod: undefined },
      addresses,
      name,
      type,
      trail,
      `delegation of ${cut}`,
    );
  }

  /** The addresses of a server of a delegation: glue beside it, else as the network’s resolver looks them up itself. */
  private serverAddresses(
    networkId: string,
    server: string,
    cut: string,
    zone: ZoneTree | undefined,
    label: string,
    trail: ReadonlySet<string>,
  ): string[] {
    const types = ['A', 'AAAA'] as const;
    const glue = types.flatMap((type) => zone?.setAt(server, type) ?? []).map(({ value }) => value);
    if (glue.length > 0 || isWithin(server, cut)) return glue;
    return types.flatMap((type) => {
      const found = this.atNetwork(
        { label, networkId, host: undefined, pod: undefined },
        networkId,
        server,
        type,
        trail,
      );
      return addressesOf(found);
    });
  }

  /** The public DNS: from the highest public zone of the plan down its delegations. */
  private askPublic(name: string, type: AnyType): Found {
    const records: Rr[] = [];
    let at = name;
    for (let aliases = 0; aliases <= MAX_ALIASES; aliases++) {
      const found = this.askPublicOnce(at, type);
      records.push(...found.records);
      const alias = openAlias(found, type);
      if (alias === undefined) return { ...found, records, ttl: shortest(records, found) };
      if (records.some((each) => each.name === alias)) break;
      at = alias;
    }
    return { ...failure({ code: 'aliases', name, most: MAX_ALIASES, chain: [] }), records };
  }

  private askPublicOnce(name: string, type: AnyType): Found {
    const { byApex } = this.state.public;
    const around = [...aboveAndSelf(name)].flatMap((each) => byApex.get(each) ?? []);
    const top = around.at(-1);
    if (top === undefined) {
      const reserved = reservedAround(name);
      return reserved === undefined
        ? this.ofProvider(name, type)
        : {
            outcome: 'no name',
            records: [],
            ttl: PROVIDER_TTL,
            why: { code: 'public.reserved', domain: reserved },
            subject: undefined,
          };
    }
    if (!top.isDelegated)
      return {
        outcome: 'no name',
        records: [],
        ttl: 0,
        why: { code: 'public.undelegated', apex: top.apex },
        subject: { kind: 'zones', id: top.id },
      };
    return this.down(top, name, type);
  }

  private down(zone: Zone, name: string, type: AnyType): Found {
    const tree = this.state.treeOf(zone);
    return this.inZone(tree, zone.id, name, type, (cut, { delegation }) => {
      const servers = delegation.flatMap(({ target }) => target ?? []);
      for (const server of servers) this.servers.add(server);
      if (!servers.some((server) => this.isFound(server, cut, tree)))
        return {
          ...failure({ code: 'delegation.no-glue', cut, servers }),
          subject: { kind: 'zones', id: zone.id },
        };
      const child = this.state.public.byApex.get(cut);
      if (child !== undefined) return this.down(child, name, type);
      return {
        outcome: 'outside',
        records: [],
        ttl: 0,
        why: { code: 'delegation.elsewhere', zone: zone.name, cut },
        subject: { kind: 'zones', id: zone.id },
      };
    });
  }

  /** Whether the address of a server of a delegation can be found: below the cut itself only by glue beside the delegation. */
  private isFound(server: string, cut: string, parent: ZoneTree): boolean {
    const types = ['A', 'AAAA'] as const;
    if (types.some((type) => parent.setAt(server, type).length > 0)) return true;
    if (isWithin(server, cut) || this.finding.has(server)) return false;
    this.finding.add(server);
    const isThere = types.some((type) => {
      const { outcome, records } = this.askPublic(server, type);
      return outcome === 'outside' || (outcome === 'answer' && records.some((each) => each.type === type));
    });
    this.finding.delete(server);
    return isThere;
  }

  /** Names that a provider gave to load balancers; of others the plan says nothing. */
  private ofProvider(name: string, type: AnyType): Found {
    const balancer = this.state.balancerNamed(name);
    if (balancer === undefined) {
      if (this.state.isProviderName(name))
        return {
          outcome: 'no name',
          records: [],
          ttl: PROVIDER_TTL,
          why: { code: 'public.free', name },
          subject: undefined,
        };
      return {
        outcome: 'outside',
        records: [],
        ttl: 0,
        why: { code: 'public.no-zone', name },
        subject: undefined,
      };
    }
    const subject: Subject = { kind: 'balancers', id: balancer.id };
    if (balancer.address === null)
      return {
        outcome: 'outside',
        records: [],
        ttl: 0,
        why: { code: 'balancer.undecided', name, balancer: balancer.name },
        subject,
      };
    const own: AnyType = balancer.address.includes(':') ? 'AAAA' : 'A';
    if (type !== own)
      return {
        outcome: 'no data',
        records: [],
        ttl: PROVIDER_TTL,
        why: { code: 'balancer.type', balancer: balancer.name, type },
        subject,
      };
    return {
      outcome: 'answer',
      records: [{ name, type, ttl: PROVIDER_TTL, value: balancer.address, target: undefined }],
      ttl: PROVIDER_TTL,
      why: { code: 'balancer.answers', name, balancer: balancer.name },
      subject,
    };
  }

  /** A question that is asked and passed on; what comes of it is told by who answers it. */
  private passedOn(
    asker: string,
    name: string,
    type: AnyType,
    server: string,
    why: NameReason,
    subject: Subject | undefined,
    flow?: FlowTrace,
  ): void {
    this.queries.push({ asker, name, type, server, outcome: 'answer', records: [], why, subject, flow });
  }

  private note(asker: string, name: string, type: AnyType, server: string, found: Found, flow?: FlowTrace): Found {
    const { outcome, records, why, subject } = found;
    this.queries.push({ asker, name, type, server, outcome, records, why, subject, flow });
    return found;
  }
}

/**
 * Domains that the public DNS never has: names that are invalid, and reverse zones of private, shared and link-local space. Sources: RFC
 * 6761 6.4, RFC 6303 4, RFC 7793.
 */
const RESERVED: readonly string[] = [
  'invalid',
  ...['10', '168.192', '127', '254.169', '0'].map((each) => `${each}.in-addr.arpa`),
  ...Array.from({ length: 16 }, (_, i) => `${16 + i}.172.in-addr.arpa`),
  ...Array.from({ length: 64 }, (_, i) => `${64 + i}.100.in-addr.arpa`),
  ...['d.f', '8.e.f', '9.e.f', 'a.e.f', 'b.e.f'].map((each) => `${each}.ip6.arpa`),
];

function reservedAround(name: string): string | undefined {
  return RESERVED.find((domain) => isWithin(name, domain));
}

function failure(why: NameReason): Found {
  return { outcome: 'failure', records: [], ttl: 0, why, subject: undefined };
}

/** The name that an answer’s last alias leads to, while its records are still to be found. */
function openAlias({ outcome, records }: Found, type: AnyType): string | undefined {
  const last = records.at(-1);
  return outcome === 'answer' && type !== 'CNAME' && last?.type === 'CNAME' ? last.target : undefined;
}

function shortest(records: readonly Rr[], found: Found | undefined): number {
  const all = [
    ...records.map(({ ttl }) => ttl),
    ...(found === undefined || found.outcome === 'answer' ? [] : [found.ttl]),
  ];
  return all.length === 0 ? (found?.ttl ?? 0) : Math.min(...all);
}

function* aboveAndSelf(name: string): Generator<string> {
  for (let at: string | undefined = name; at !== undefined; at = parentOf(at)) yield at;
}

function withoutDot(name: string): string {
  return name.endsWith('.') ? name.slice(0, -1) : name;
}

/** The addresses that a resolution comes to. */
export function addressesOf({ outcome, records }: Pick<Resolution, 'outcome' | 'records'>): string[] {
  return outcome === 'answer'
    ? records.filter(({ type }) => type === 'A' || type === 'AAAA').map(({ value }) => value)
    : [];
}

/** Where a host asks from. */
export function askerOf(host: Host, held?: string): Asker {
  const cluster = host.kind === 'pod' ? host.cluster : undefined;
  return {
    label: host.kind === 'internet' ? CLIENT_OUTSIDE : host.label,
    networkId: host.networkId,
    host: host.kind === 'internet' ? undefined : host,
    pod: cluster === undefined ? undefined : { cluster, namespace: host.guard?.workload.namespace ?? 'default' },
    held,
  };
}
