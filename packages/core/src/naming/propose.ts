import { addressBytes, addressFurther, formatAddress, parseAddress } from '../address/index.js';
import { certifies, readFullName, relativeTo, reverseName } from '../zones/index.js';
import type { RecordType } from '../zones/index.js';
import { isPublicAddress } from '../forwarding/index.js';
import {
  addOperation,
  byId,
  classesOf,
  controllersOf,
  listenersOf,
  newId,
  setOperation,
  addressSpan,
  withFallbacks,
} from '../plan/index.js';
import type { Balancer, Certificate, Cluster, EntityOf, Kind, Operation, Plan, Zone } from '../plan/index.js';
import { caaOf } from './caa.js';
import { clientsOf, selfRunNames, typeTo, usesOf, wantedHosts } from './hosts.js';
import { answerOf, closestZones } from './kept.js';
import { fullName, NameState } from './nameState.js';
import { formatProposed } from '../english/index.js';

/** What is to be proposed. */
export interface NamesWish {
  readonly withReverse: boolean;
  readonly withCertificates: boolean;
  /** The day from which new certificates are good, such as 2026-11-26. */
  readonly today: string;
}

/** Rows of one intent. */
interface ProposedNames {
  readonly title: string;
  readonly operations: readonly Operation[];
}

/** Records, reverse records and certificates as one difference, in parts, with what has to be done in which order, and what stays open. */
export interface NamesProposal {
  readonly parts: readonly ProposedNames[];
  readonly order: readonly string[];
  readonly openSteps: readonly string[];
}

/** Proposes names for all hosts, APIs and load balancers that none lead to yet. */
export function proposeNames(plan: Plan, wish: NamesWish): NamesProposal {
  return new Proposing(plan, wish).all();
}

/** A certificate that something needs, by its name there. */
interface Needed {
  readonly name: string;
  /** Null outside clusters. */
  readonly clusterId: string | null;
  readonly namespace: string;
  readonly hosts: readonly string[];
  readonly isPublic: boolean;
}

class Proposing {
  private readonly state: NameState;
  private readonly records: Operation[] = [];
  private readonly reverse: Operation[] = [];
  private readonly certificates: Operation[] = [];
  private readonly order: string[] = [];
  private readonly open: string[] = [];
  /** Names that get a record here, by zone. */
  private readonly made = new Set<string>();
  /** What records of the plan say already: addresses and names. */
  private readonly led: ReadonlySet<string>;
  /** New reverse zones by their domain name and networks. */
  private readonly reverseZones = new Map<string, Zone>();

  constructor(
    private readonly plan: Plan,
    private readonly wish: NamesWish,
  ) {
    this.state = NameState.of(plan);
    this.led = new Set(
      plan.zones.flatMap((zone) =>
        this.state
          .treeOf(zone)
          .records()
          .map(({ value }) => value),
      ),
    );
  }

  all(): NamesProposal {
    this.hosts();
    for (const cluster of this.plan.clusters) this.selfRun(cluster);
    for (const balancer of this.plan.balancers) this.balancer(balancer);
    if (this.wish.withReverse) this.backwards();
    if (this.wish.withCertificates) this.certify();
    const parts = [
      { title: formatProposed('names.records'), operations: this.records },
      { title: 'Reverse records', operations: this.reverse },
      { title: 'Certificates', operations: this.certificates },
    ];
    return { parts: parts.filter(({ operations }) => operations.length > 0), order: this.order, openSteps: this.open };
  }

  private hosts(): void {
    for (const wanted of wantedHosts(this.state)) {
      const { host, balancer } = wanted;
      const clients = clientsOf(this.state, wanted);
      if (clients === undefined || parseAddress(host).ok) continue;
      const asked = host.startsWith('*.') ? `any${host.slice(1)}` : host;
      if (this.state.answers.of(clients, `${asked}.`, typeTo(balancer)).outcome === 'answer') continue;
      if (balancer === undefined) {
        this.open.push(formatProposed('names.no-balancer', { host }));
        continue;
      }
      this.pointTo(host, balancer);
    }
  }

  /** A record for a load balancer in the closest zones where its clients ask. */
  private pointTo(host: string, balancer: Balancer): void {
    const answer = answerOf(balancer, ['A', 'AAAA', 'CNAME']);
    if (answer === undefined) {
      this.open.push(formatProposed('names.undecided', { host, balancer: balancer.name }));
      return;
    }
    const zones = this.zonesFor(host, balancer);
    if (zones.length === 0) {
      this.open.push(formatProposed('names.no-zone', { host }));
      return;
    }
    for (const zone of zones) {
      // An alias cannot stand at the apex, where the address itself is told.
      const value = answer.type === 'CNAME' && host === zone.apex ? answerOf(balancer, ['A', 'AAAA']) : answer;
      if (value !== undefined) this.record(zone, host, value.type, value.value);
    }
  }

  private zonesFor(host: string, balancer: Balancer): Zone[] {
    const networkId = byId(this.plan.subnets, balancer.subnetId)?.networkId ?? '';
    const isAsked = ({ side, networkIds }: Zone) =>
      balancer.side === 'public'
        ? side === 'public' || networkIds.includes(networkId)
        : side === 'private' && networkIds.includes(networkId);
    return closestZones(this.plan.zones.filter(isAsked), host);
  }

  /** Names of a self-run cluster are asked for while it is installed. */
  private selfRun(cluster: Cluster): void {
    const names = selfRunNames(cluster);
    if (names === undefined) return;
    const zones = closestZones(
      this.plan.zones.filter(({ side, networkIds }) => side === 'private' && networkIds.includes(cluster.networkId)),
      names.api,
    );
    const [zone] = zones;
    if (zone === undefined) {
      this.open.push(formatProposed('names.no-own-zone', { host: names.api, domain: cluster.baseDomain }));
      return;
    }
    const api = this.apiAddress(cluster);
    if (api === undefined) this.open.push(formatProposed('names.no-api', { host: names.api }));
    else if (this.isMissing(zone, names.api)) this.record(zone, names.api, api.includes(':') ? 'AAAA' : 'A', api);
    const front = this.frontOf(cluster);
    if (front?.address == null)
      this.open.push(formatProposed('names.no-front', { host: names.apps, cluster: cluster.name }));
    else if (this.isMissing(zone, names.apps))
      this.record(zone, names.apps, front.address.includes(':') ? 'AAAA' : 'A', front.address);
  }

  /** The load balancer whose members are the control plane’s addresses, else the virtual address kept after those of its nodes. */
  private apiAddress(cluster: Cluster): string | undefined {
    const reservation = this.plan.reservations.find(
      ({ clusterId, count }) => clusterId === cluster.id && count > cluster.controlNodes,
    );
    const first = reservation === undefined ? undefined : addressSpan(reservation).first;
    const backend =
      first === undefined
        ? undefined
        : this.plan.backends.find(({ addresses }) => addresses.includes(formatAddress(first)));
    const balancer = byId(this.plan.balancers, backend?.balancerId ?? '');
    if (balancer?.address != null) return balancer.address;
    return first === undefined ? undefined : formatAddress(addressFurther(first, cluster.controlNodes));
  }

  private frontOf(cluster: Cluster): Balancer | undefined {
    const fed = this.plan.controllers
      .filter(({ clusterId }) => clusterId === cluster.id)
      .flatMap(({ balancerId }) => byId(this.plan.balancers, balancerId ?? '') ?? []);
    const services = new Set(
      this.plan.services.filter(({ clusterId }) => clusterId === cluster.id).map(({ id }) => id),
    );
    const behind = this.plan.backends
      .filter(({ serviceId }) => serviceId !== null && services.has(serviceId))
      .flatMap(({ balancerId }) => byId(this.plan.balancers, balancerId) ?? []);
    return [...fed, ...behind].find(({ address }) => address !== null);
  }

  /** A load balancer that nothing leads to gets a name of its own, in a zone where it is. */
  private balancer(balancer: Balancer): void {
    const { address, name } = balancer;
    if (address === null) return;
    const isLed = this.led.has(address);
    const isProposed = this.records.some(
      (each) => each.op === 'add' && (each.entity as { value?: string }).value === address,
    );
    if (isLed || isProposed) return;
    const networkId = byId(this.plan.subnets, balancer.subnetId)?.networkId ?? '';
    const zone = this.plan.zones.find(
      ({ side, networkIds, apex }) =>
        !apex.endsWith('.arpa') &&
        (balancer.side === 'public' ? side === 'public' : side === 'private' && networkIds.includes(networkId)),
    );
    if (zone === undefined) this.open.push(formatProposed('names.no-zone-of-balancer', { balancer: name }));
    else
      this.record(
        zone,
        `${name.toLowerCase().replace(/[^a-z0-9-]+/g, '-')}.${zone.apex}`,
        address.includes(':') ? 'AAAA' : 'A',
        address,
      );
  }

  private isMissing(zone: Zone, name: string): boolean {
    const outcome = this.state.treeOf(zone).lookUp(name.replace('*', 'any'), 'A').outcome;
    return outcome !== 'answer' && outcome !== 'alias';
  }

  private record(zone: Zone, host: string, type: RecordType, value: string, to = this.records): void {
    const read = readFullName(host);
    if (!read.ok) {
      this.open.push(`${host.slice(0, 60)}: ${read.problem.message} ${read.problem.fix}`);
      return;
    }
    const key = `${zone.id} ${read.value} ${type}`;
    if (this.made.has(key)) return;
    this.made.add(key);
    to.push(this.add('records', { zoneId: zone.id, name: relativeTo(read.value, zone.apex), type, value }));
  }

  private add<K extends Kind>(kind: K, fields: Partial<EntityOf[K]>): Operation {
    return addOperation(kind, withFallbacks(kind, { id: newId(), ...fields }));
  }

  // Backwards.

  /** A PTR record for each private address that a name leads to and that has none. Source: RFC 1035 3.5, RFC 6303 for the zones. */
  private backwards(): void {
    const led = [
      ...this.plan.zones
        .filter(({ side }) => side === 'private')
        .flatMap((zone) =>
          this.state
            .treeOf(zone)
            .records()
            .map((each) => ({ zone, name: each.name, type: each.type, value: each.value })),
        ),
      ...this.records.flatMap((each) => {
        if (each.op !== 'add' || each.kind !== 'records') return [];
        const entity = each.entity;
        const zone = byId(this.plan.zones, entity.zoneId);
        return zone === undefined
          ? []
          : [{ zone, name: fullName(entity.name, zone.apex), type: entity.type, value: entity.value }];
      }),
    ];
    const seen = new Set<string>();
    for (const { zone, name, type, value } of led) {
      const parsed = parseAddress(value);
      if ((type !== 'A' && type !== 'AAAA') || !parsed.ok || isPublicAddress(parsed.value) || name.startsWith('*.'))
        continue;
      // A service’s address is one inside its cluster alone.
      if (this.plan.services.some(({ address }) => address === value)) continue;
      const pointer = reverseName([...addressBytes(parsed.value)]);
      if (seen.has(pointer)) continue;
      seen.add(pointer);
      const own =
        closestZones(
          this.plan.zones.filter(({ apex, side }) => side === 'private' && apex.endsWith('.arpa')),
          pointer,
        )[0] ?? this.newReverse(pointer, zone);
      if (this.state.treeOf(own).setAt(pointer, 'PTR').length === 0)
        this.record(own, pointer, 'PTR', name, this.reverse);
    }
  }

  /** The reverse zone of the 256 addresses around one, or of its /64. */
  private newReverse(pointer: string, { networkIds, nameServers }: Zone): Zone {
    const labels = pointer.split('.');
    const apex = labels.slice(pointer.endsWith('ip6.arpa') ? 16 : 1).join('.');
    const known = this.reverseZones.get(apex);
    if (known !== undefined) return known;
    const fresh = withFallbacks('zones', { id: newId(), name: apex, apex, side: 'private', networkIds, nameServers });
    this.reverseZones.set(apex, fresh);
    this.reverse.push(addOperation('zones', fresh));
    return fresh;
  }

  // Certificates.

  /** A certificate for what ends TLS and names none that the plan holds, and the names that one lacks. */
  private certify(): void {
    for (const certificate of this.plan.certificates) {
      const lacking = [
        ...new Set(usesOf(this.plan, certificate).flatMap(({ hosts }) => hosts.map((host) => host.toLowerCase()))),
      ].filter((host) => !certifies(certificate.names, host));
      if (lacking.length === 0) continue;
      const names = [...certificate.names, ...lacking];
      this.certificates.push(setOperation('certificates', certificate.id, { names }));
      this.validation({ ...certificate, names: lacking });
    }
    const seen = new Set<string>();
    for (const needed of this.endingTls()) this.need(needed, seen);
  }

  /** A certificate by its name, once, unless the plan holds it. */
  private need({ name, clusterId, namespace, hosts, isPublic }: Needed, seen: Set<string>): void {
    const slash = name.indexOf('/');
    const [where, secret] =
      clusterId === null || slash < 0 ? [namespace, name] : [name.slice(0, slash), name.slice(slash + 1)];
    const key = `${clusterId ?? ''} ${where} ${secret}`;
    if (name === '' || seen.has(key) || this.state.certificateOf(name, clusterId, namespace) !== undefined) return;
    seen.add(key);
    const known = { name: secret, clusterId, namespace: clusterId === null ? '' : where };
    const names = [
      ...new Set([...hosts, ...usesOf(this.plan, known).flatMap((use) => use.hosts)].map((host) => host.toLowerCase())),
    ];
    if (names.length === 0) {
      this.open.push(formatProposed('certificate.no-hosts', { certificate: name }));
      return;
    }
    const made = withFallbacks('certificates', {
      id: newId(),
      ...known,
      names,
      issuerKind: isPublic ? 'public by DNS' : 'private',
      issuerDomain: isPublic ? (caaOf(this.state, names[0] ?? '').issuers[0] ?? '') : '',
      validFrom: this.wish.today,
      validDays: isPublic ? 90 : 365,
    });
    this.certificates.push(addOperation('certificates', made));
    this.validation(made);
  }

  /** Listeners, routes and gateways that end TLS, each with the hosts that it is for. */
  private *endingTls(): Generator<Needed> {
    const { plan } = this;
    const isPublic = (balancerId: string | null) => byId(plan.balancers, balancerId ?? '')?.side === 'public';
    const isServedOutside = (clusterId: string, classes: readonly string[]) =>
      controllersOf(plan, clusterId, classes).some(({ balancerId }) => isPublic(balancerId));
    for (const { certificate, certificateHosts, balancerId } of plan.listeners)
      yield {
        name: certificate,
        clusterId: null,
        namespace: '',
        hosts: certificateHosts,
        isPublic: isPublic(balancerId),
      };
    for (const each of [...plan.ingressRoutes, ...plan.gateways]) {
      const { certificate: name, clusterId, namespace, certificateHosts: hosts } = each;
      const classes = 'gatewayId' in each ? classesOf(plan, each) : [each.className];
      yield { name, clusterId, namespace, hosts, isPublic: isServedOutside(clusterId, classes) };
    }
    // A certificate of one listener alone is for its host.
    for (const gateway of plan.gateways)
      for (const { certificate: name, host } of listenersOf(gateway)) {
        if (name === gateway.certificate || host === '') continue;
        const { clusterId, namespace, className } = gateway;
        yield { name, clusterId, namespace, hosts: [host], isPublic: isServedOutside(clusterId, [className]) };
      }
  }

  /**
   * What has to be done in which order: the record that shows whose the names are, the wait, the certificate, the
   * listener. Source: RFC 8555 8.4.
   */
  private validation({
    name,
    names,
    issuerKind,
    clusterId,
    namespace,
  }: Pick<Certificate, 'name' | 'names' | 'issuerKind' | 'clusterId' | 'namespace'>): void {
    const where =
      clusterId === null ? name : `${namespace}/${name} in ${byId(this.plan.clusters, clusterId)?.name ?? ''}`;
    if (issuerKind === 'private') {
      this.order.push(formatProposed('certificate.private', { certificate: where, names }));
      return;
    }
    for (const host of new Set(names.map((each) => each.replace(/^\*\./, '')))) {
      const zone = this.state.public.set.closest(host);
      const wait = zone?.negativeTtl() ?? 0;
      if (zone === undefined) {
        this.open.push(formatProposed('certificate.no-zone', { host }));
        continue;
      }
      if (issuerKind === 'public by HTTP') {
        this.order.push(formatProposed('certificate.by-http', { certificate: where, host, wait }));
        continue;
      }
      this.order.push(formatProposed('certificate.by-dns', { certificate: where, host, wait, zone: zone.apex }));
    }
  }
}
