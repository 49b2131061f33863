import type { Address } from '@wide-lattice/core/address';
import { addressFurther, formatAddress, formatPrefix, parseAddress } from '@wide-lattice/core/address';
import { byId, hostPrefix } from '@wide-lattice/core/plan';
import { layersOf } from '@wide-lattice/core/podnetwork';
import { largestPacket } from '@wide-lattice/core/wire';
import { decideRow, Forwarding, isOnInternet, isPublicAddress, outerService } from '@wide-lattice/core/forwarding';
import type { CompiledRule, Host } from '@wide-lattice/core/forwarding';
import { expectGood } from '@wide-lattice/core/result';
import type { Cluster, Link, Plan, RouteTable, Subnet } from '@wide-lattice/core/plan';
import type { RouteRow } from '@wide-lattice/core/road';
import { ruleMatches } from './ruleMatches.js';
import { subnetLists } from './subnetLists.js';
import type { Member } from './subnetLists.js';

/** A namespace to be made: addresses and routes by `ip`, filters and translation by `nft`. */
interface Space {
  readonly name: string;
  readonly ip: string[];
  readonly nft: string[];
  readonly sysctl: string[];
}

/** A cable between two namespaces. */
interface Cable {
  readonly ends: readonly [readonly [space: string, device: string], readonly [space: string, device: string]];
  readonly mtu: number;
}

/** Everything that a plan comes to in namespaces. */
export interface Model {
  readonly spaces: readonly Space[];
  readonly cables: readonly Cable[];
  /** The namespace of each machine, by its address. */
  readonly spaceOf: ReadonlyMap<string, string>;
  /** What cannot be built here, in words. */
  readonly notes: readonly string[];
}

const PRIVATE = '{ 10.0.0.0/8, 172.16.0.0/12, 192.168.0.0/16, 100.64.0.0/10 }';
/** Unique local addresses. Source: RFC 4193. */
const LOCAL = 'fc00::/7';
const DOCUMENTS = ['192.0.2.0/24', '198.51.100.0/24', '203.0.113.0/24', '198.18.0.0/15', '2001:db8::/32'];

/** Every end of a cable has this address: then nobody has to ask for it, and each side takes what the other sends. */
export const MAC = '02:00:00:00:00:01';

/** Builds the model of a plan with the machines that are asked about. */
export function modelOf(plan: Plan, machines: readonly Host[], internet: readonly string[]): Model {
  return new ModelMaker(plan, machines, internet).make();
}

class ModelMaker {
  private readonly forwarding: Forwarding;
  private readonly spaces = new Map<string, Space>();
  private readonly cables: Cable[] = [];
  private readonly spaceOf = new Map<string, string>();
  private readonly notes = new Set<string>();
  private readonly hosts = new Map<string, { readonly host: Host; readonly device: string }[]>();
  private readonly tableIds = new Map<string, number>();
  /** Nodes that take part in an overlay already: several pods of one may be asked about. */
  private readonly inOverlay = new Set<string>();
  private publics = 0;

  constructor(
    private readonly plan: Plan,
    private readonly machines: readonly Host[],
    private readonly internet: readonly string[],
  ) {
    this.forwarding = Forwarding.of(plan);
  }

  make(): Model {
    this.makeInternet();
    this.plan.networks.forEach((_, n) => this.space(router(n)));
    for (const machine of this.machines) this.machine(machine);
    for (const machine of this.machines) this.overlayWithoutPods(machine);
    for (const link of this.plan.links) this.cableLink(link);
    this.plan.natDevices.forEach((_, n) => this.nat(n));
    this.plan.firewalls.forEach((_, n) => this.firewall(n));
    this.plan.networks.forEach((_, n) => this.tables(n));
    return { spaces: [...this.spaces.values()], cables: this.cables, spaceOf: this.spaceOf, notes: [...this.notes] };
  }

  private space(name: string): Space {
    const known = this.spaces.get(name);
    if (known !== undefined) return known;
    const space: Space = {
      name,
      ip: ['link set lo up'],
      nft: [],
      sysctl: [
        'net/ipv4/ip_forward=1',
        'net/ipv6/conf/all/forwarding=1',
        'net/ipv4/conf/all/rp_filter=0',
        'net/ipv4/conf/default/rp_filter=0',
        // What a router says itself may come back to it by a device on its way.
        'net/ipv4/conf/all/accept_local=1',
        'net/netfilter/nf_conntrack_tcp_loose=0',
        'net/ipv4/icmp_ratelimit=0',
        'net/ipv6/icmp/ratelimit=0',
      ],
    };
    this.spaces.set(name, space);
    return space;
  }

  private cable(a: readonly [string, string], b: readonly [string, string], mtu: number): void {
    this.cables.push({ ends: [a, b], mtu });
  }

  private makeInternet(): void {
    const { ip, nft, sysctl } = this.space('inet');
    sysctl.push('net/ipv4/ip_nonlocal_bind=1', 'net/ipv6/ip_nonlocal_bind=1');
    for (const range of DOCUMENTS) ip.push(`route add local ${range} dev lo table main`);
    // A private source finds no answer on the internet, and is carried nowhere.
    for (const hook of ['input', 'forward'])
      nft.push(
        `add chain inet wl ${hook} { type filter hook ${hook} priority 0; }`,
        `add rule inet wl ${hook} ip saddr ${PRIVATE} drop`,
        `add rule inet wl ${hook} ip6 saddr ${LOCAL} drop`,
      );
    for (const address of this.internet) this.spaceOf.set(address, 'inet');
  }

  /** A machine behind the router of its network; a pod behind its node. */
  private machine(host: Host): void {
    if (host.kind === 'internet' || this.spaceOf.has(key(host))) return;
    if (host.kind === 'pod' && host.node !== undefined) {
      this.pod(host, host.node);
      return;
    }
    const n = this.networkAt(host.networkId);
    const name = `m${this.spaceOf.size}`;
    this.spaceOf.set(key(host), name);
    const device = `h${this.spaceOf.size}`;
    this.attach(name, n, device, host);
    this.space(name).ip.push(...atEnd(host.address));
    this.space(router(n)).nft.push(...this.filterAt(host, device));
    // A service address never leaves a node: what lies in the service range goes nowhere else.
    for (const { purpose, prefix } of host.cluster === undefined ? [] : this.forwarding.rangesOf(host.cluster.id))
      if (purpose === 'service') this.space(name).ip.push(`route add blackhole ${prefix}`);
  }

  private attach(name: string, n: number, device: string, host: Host): void {
    const mtu = this.mtuOf(n);
    this.space(name);
    this.cable([name, 'eth0'], [router(n), device], mtu);
    this.hosts.set(router(n), [...(this.hosts.get(router(n)) ?? []), { host, device }]);
  }

  private pod(pod: Host, node: Host): void {
    this.machine(node);
    const nodeSpace = this.spaceOf.get(key(node)) as string;
    const { cluster } = pod;
    if (cluster === undefined) return;
    const name = `p${this.spaceOf.size}`;
    this.spaceOf.set(key(pod), name);
    const text = formatAddress(pod.address);
    const mtu = this.mtuOf(this.networkAt(pod.networkId));
    this.cable([name, 'eth0'], [nodeSpace, name], mtu);
    this.space(name).ip.push(...atEnd(pod.address));
    this.space(nodeSpace).ip.push(`route add ${text}${alone(pod.address)} dev ${name}`);
    if (cluster.podMode === 'overlay') this.overlay(cluster, node, nodeSpace, insideOf(pod));
    else {
      if (cluster.encryption !== 'none') this.notes.add(`${cluster.name}: encryption between nodes is not built.`);
      const routerName = router(this.networkAt(pod.networkId));
      const { device } = (this.hosts.get(routerName) ?? []).find(({ host }) => key(host) === key(node)) ?? {};
      if (device !== undefined)
        this.hosts.set(routerName, [...(this.hosts.get(routerName) ?? []), { host: pod, device }]);
    }
  }

  /** A node whose pods nobody asks for takes part in the overlay too. */
  private overlayWithoutPods(node: Host): void {
    const { cluster, kind, address } = node;
    if (kind !== 'node' || cluster?.podMode !== 'overlay' || address.family === 6) return;
    const hasPod = this.machines.some(({ node: at }) => at !== undefined && key(at) === key(node));
    const space = this.spaceOf.get(key(node));
    if (!hasPod && space !== undefined) this.overlay(cluster, node, space, undefined);
  }

  /** The overlay on a node; `inside` is the node’s own address there, from which it calls pods. */
  private overlay(cluster: Cluster, node: Host, nodeSpace: string, inside: string | undefined): void {
    if (this.inOverlay.has(nodeSpace)) return;
    this.inOverlay.add(nodeSpace);
    const layers = layersOf(cluster, 'overlay');
    const outer = outerService(layers[0] ?? 'none');
    if (layers.length !== 1 || outer.protocol !== 'udp')
      this.notes.add(
        `${cluster.name}: ${layers.join(' in ')} is built as VXLAN without its own header sizes and protocol; pods of it are not compared.`,
      );
    const mtu = this.mtuOf(this.networkAt(node.networkId));
    const ranges = this.forwarding
      .rangesOf(cluster.id)
      .filter(({ purpose }) => purpose === 'pod')
      .map(({ prefix }) => prefix);
    const { ip, nft } = this.space(nodeSpace);
    const all = `{ ${ranges.filter((prefix) => !prefix.includes(':')).join(', ')} }`;
    const kept = cluster.untranslated.filter((prefix) => !prefix.includes(':'));
    ip.push(
      `link add vx type vxlan id 42 dstport ${outer.port === 0 ? 4789 : outer.port} local ${formatAddress(node.address)} nolearning`,
      `link set vx address ${macOf(node)} mtu ${largestPacket(mtu, layers, 4).value} up`,
      ...(inside === undefined ? [] : [`addr add ${inside}/32 dev vx`]),
    );
    const others = this.machines.filter(
      ({ kind, cluster: of, node: at }) =>
        kind === 'pod' &&
        of === cluster &&
        at !== undefined &&
        formatAddress(at.address) !== formatAddress(node.address),
    );
    const peers = new Map(others.flatMap(({ node: at }) => (at === undefined ? [] : [[key(at), at] as const])));
    for (const peer of peers.values())
      ip.push(`bridge fdb append ${macOf(peer)} dev vx dst ${formatAddress(peer.address)}`);
    // Pods of one node share its address in the overlay.
    const reached = new Map(
      others.flatMap((other) => [formatAddress(other.address), insideOf(other)].map((each) => [each, other.node])),
    );
    for (const [each, at] of reached) {
      ip.push(`route add ${each}/32 dev vx${inside === undefined ? '' : ` src ${inside}`}`);
      if (at !== undefined) ip.push(`neigh add ${each} lladdr ${macOf(at)} dev vx nud permanent`);
    }
    nft.push(
      'add chain inet wl nat { type nat hook postrouting priority 100; }',
      ...(kept.length === 0 ? [] : [`add rule inet wl nat ip daddr { ${kept.join(', ')} } return`]),
      `add rule inet wl nat oifname eth0 ip saddr ${all} ip daddr != ${all} masquerade`,
    );
  }

  /** The filters of a machine, at the network's end of its cable: they see outer packets only, and know the flows they have seen. */
  private filterAt(host: Host, device: string): string[] {
    const filters = this.forwarding.lists.at(...host.attachable);
    if (filters.length === 0) return [];
    const [fin, fout] = [`${device}in`, `${device}out`];
    const lines = [`add chain inet wl ${fin}`, `add chain inet wl ${fout}`];
    const verdicts = (direction: 'in' | 'out', chain: string) => {
      for (const each of filters.filter(({ filter }) => filter.mode === 'ordered')) {
        const name = `${chain}_${each.filter.id.slice(-4)}`;
        lines.push(`add chain inet wl ${name}`);
        if (each.filter.isStateful) lines.push(`add rule inet wl ${name} ct state established,related return`);
        for (const rule of each[direction].rules)
          lines.push(...ruleLines(`inet wl ${name}`, rule, { allow: 'return', deny: 'drop' }));
        if ((direction === 'in' ? each.filter.defaultIn : each.filter.defaultOut) === 'deny')
          lines.push(`add rule inet wl ${name} drop`);
        lines.push(`add rule inet wl ${chain} jump ${name}`);
      }
      const sets = filters.filter(({ filter }) => filter.mode === 'allow-only');
      if (sets.length === 0) return;
      if (sets.some(({ filter }) => filter.isStateful))
        lines.push(`add rule inet wl ${chain} ct state established,related return`);
      for (const each of sets)
        for (const rule of each[direction].rules)
          lines.push(...ruleLines(`inet wl ${chain}`, rule, { allow: 'return', deny: 'drop' }));
      const isOpen = sets.some(({ filter }) => (direction === 'in' ? filter.defaultIn : filter.defaultOut) === 'allow');
      if (!isOpen) lines.push(`add rule inet wl ${chain} drop`);
    };
    verdicts('in', fin);
    verdicts('out', fout);
    return [
      ...lines,
      'add chain inet wl forward { type filter hook forward priority 0; }',
      `add rule inet wl forward iifname ${device} jump ${fout}`,
      `add rule inet wl forward oifname ${device} jump ${fin}`,
      // What the router itself says to a machine, such as that a packet is too large.
      'add chain inet wl output { type filter hook output priority 0; }',
      `add rule inet wl output oifname ${device} jump ${fin}`,
    ];
  }

  /** Cables between all that stand on a link, and a place in the middle for static routes that only name the link. */
  private cableLink(link: Link): void {
    if (link.isPlanned) return;
    const at = this.plan.links.indexOf(link);
    const room = largestPacket(link.mtu, link.encapsulation === 'none' ? [] : [link.encapsulation], 4).value;
    const members = link.networkIds.filter((id) => this.forwarding.links.of(id).includes(link));
    const middle = `l${at}`;
    const { ip } = this.space(middle);
    members.forEach((one, i) => {
      const n = this.networkAt(one);
      this.cable([middle, `to${n}`], [router(n), `l${at}`], Math.min(room, this.mtuOf(n)));
      ip.push(`rule add iif to${n} lookup ${100 + n}`);
      for (const other of members.slice(i + 1)) {
        const m = this.networkAt(other);
        // What enters a network has to fit its own packet size too.
        this.cable(
          [router(n), `l${at}n${m}`],
          [router(m), `l${at}n${n}`],
          Math.min(room, this.mtuOf(n), this.mtuOf(m)),
        );
      }
    });
    for (const from of members) {
      const n = this.networkAt(from);
      for (const [prefix, taker] of this.takers(link, from))
        ip.push(`route add ${prefix} dev to${this.networkAt(taker)} table ${100 + n}`);
      // A tunnel or circuit carries whatever is sent into it; peerings and hubs what is advertised on them.
      if ((link.kind === 'tunnel' || link.kind === 'circuit') && members.length === 2) {
        const [other] = members.filter((id) => id !== from);
        for (const all of EVERYTHING)
          if (other !== undefined) ip.push(`route replace ${all} dev to${this.networkAt(other)} table ${100 + n}`);
      }
    }
  }

  /** For each prefix on a link, who takes it from a network. */
  private takers(link: Link, from: string): Map<string, string> {
    const takers = new Map<string, string>();
    for (const { prefix, networkId } of this.forwarding.routes.advertisedOn(link)) {
      const text = formatPrefix(prefix);
      const isTaken = networkId !== from && this.forwarding.links.accepts(link, from, networkId);
      if (isTaken && !takers.has(text)) takers.set(text, networkId);
    }
    return takers;
  }

  private nat(n: number): void {
    const device = this.plan.natDevices[n];
    const subnet = byId(this.plan.subnets, device?.subnetId ?? '');
    const address = device?.publicAddresses.find((each) => !each.includes(':'));
    const six = device?.publicAddresses.find((each) => each.includes(':'));
    if (device === undefined || subnet === undefined) return;
    const name = `nat${n}`;
    const at = this.networkAt(subnet.networkId);
    this.cable([name, 'eth0'], [router(at), name], this.mtuOf(at));
    const { ip, nft } = this.space(name);
    for (const all of EVERYTHING) ip.push(`route add ${all} dev eth0`);
    if (address === undefined)
      this.notes.add(`${device.name} has no public address; what it translates is not compared.`);
    nft.push(
      'add chain inet wl forward { type filter hook forward priority 0; }',
      'add rule inet wl forward ct state invalid drop',
      'add chain inet wl nat { type nat hook postrouting priority 100; }',
      `add rule inet wl nat ip saddr ${PRIVATE} snat ip to ${address ?? '198.18.0.1'}`,
      // A device without an address of the family carries none of it.
      six === undefined
        ? 'add rule inet wl forward meta nfproto ipv6 drop'
        : `add rule inet wl nat ip6 saddr ${LOCAL} snat ip6 to ${six}`,
    );
    this.publicAt(address ?? '198.18.0.1', at, name);
    if (six !== undefined) this.publicAt(six, at, name);
  }

  private firewall(n: number): void {
    const firewall = this.plan.firewalls[n];
    const subnet = byId(this.plan.subnets, firewall?.subnetId ?? '');
    if (firewall === undefined || subnet === undefined) return;
    const name = `fw${n}`;
    const at = this.networkAt(subnet.networkId);
    this.cable([name, 'eth0'], [router(at), name], this.mtuOf(at));
    const { ip, nft } = this.space(name);
    for (const all of EVERYTHING) ip.push(`route add ${all} dev eth0`);
    nft.push('add chain inet wl forward { type filter hook forward priority 0; }');
    if (firewall.isStateful)
      nft.push(
        'add rule inet wl forward ct state invalid drop',
        'add rule inet wl forward ct state established,related accept',
      );
    for (const rule of this.forwarding.lists.rulesOf(firewall).rules)
      nft.push(...ruleLines('inet wl forward', rule, { allow: 'accept', deny: 'drop' }));
    if (firewall.defaultAction === 'deny') nft.push('add rule inet wl forward drop');
    // It translates what its own table sends to the internet: its public address is known nowhere else.
    const table = this.forwarding.routes.tableOf(subnet);
    const outside = this.internet.filter(
      (each) => this.forwarding.routes.lookUp(subnet.networkId, table, hostPrefix(each)).row?.hop.kind === 'internet',
    );
    // Its public addresses are its own whether it translates or not.
    for (const each of firewall.publicAddresses) this.publicAt(each, at, name);
    if (!firewall.translates) return;
    nft.push('add chain inet wl nat { type nat hook postrouting priority 100; }');
    const to = (isSix: boolean) => outside.filter((each) => each.includes(':') === isSix).join(', ');
    const address = firewall.publicAddresses.find((each) => !each.includes(':')) ?? '198.18.0.2';
    const six = firewall.publicAddresses.find((each) => each.includes(':'));
    if (to(false) !== '') {
      nft.push(`add rule inet wl nat ip saddr ${PRIVATE} ip daddr { ${to(false)} } snat ip to ${address}`);
      this.publicAt(address, at, name);
    }
    if (to(true) === '') return;
    const match = `ip6 saddr ${LOCAL} ip6 daddr { ${to(true)} }`;
    if (six === undefined) nft.splice(1, 0, `add rule inet wl forward ${match} drop`);
    else {
      nft.push(`add rule inet wl nat ${match} snat ip6 to ${six}`);
      this.publicAt(six, at, name);
    }
  }

  /** Leads a public address from the internet to a device of a network. */
  private publicAt(address: string, n: number, device: string): void {
    this.toInternet(n);
    const one = `${address}${address.includes(':') ? '/128' : '/32'}`;
    this.space('inet').ip.push(`route replace ${one} dev n${n}`);
    this.space(router(n)).ip.push(`route replace ${one} dev ${device} table 99`);
  }

  private toInternet(n: number): void {
    if (this.cables.some(({ ends }) => ends.some(([space, device]) => space === 'inet' && device === `n${n}`))) return;
    this.cable(['inet', `n${n}`], [router(n), 'world'], 9216);
    this.space(router(n)).ip.push('rule add iif world lookup 99');
  }

  /** The tables of a network: for each, the winner of every prefix, and which machine or device looks up in which. */
  private tables(n: number): void {
    const network = this.plan.networks[n];
    if (network === undefined) return;
    const { ip, nft } = this.space(router(n));
    const idOf = (table: RouteTable | undefined) => {
      const id = `${network.id} ${table?.id ?? ''}`;
      const known = this.tableIds.get(id);
      if (known !== undefined) return known;
      const made = 200 + this.tableIds.size;
      this.tableIds.set(id, made);
      ip.push(...this.routes(n, table, made));
      return made;
    };
    const publics: string[] = [];
    for (const { host, device } of this.hosts.get(router(n)) ?? []) {
      // Who has an address of the internet is found there by it, as far as its network has a way to it.
      const place = host.subnet ?? host.node?.subnet ?? host.zone;
      if (
        host.address.family === 6 &&
        isPublicAddress(host.address) &&
        isOnInternet(this.forwarding, network.id, place, 6)
      )
        this.publicAt(formatAddress(host.address), n, device);
      if (host.kind === 'pod') continue;
      const table = this.forwarding.routes.tableOf({
        routeTableId: host.subnet?.routeTableId ?? null,
        networkId: network.id,
        zone: host.subnet?.zone ?? host.zone,
      });
      ip.push(`rule add iif ${device} lookup ${idOf(table)}`);
      if (!host.isPublic || host.address.family === 6 || isPublicAddress(host.address)) continue;
      const address = `198.18.1.${++this.publics}`;
      this.toInternet(n);
      publics.push(`add rule inet wl nat oifname world ip saddr ${formatAddress(host.address)} snat ip to ${address}`);
      this.space('inet').ip.push(`route replace ${address}/32 dev n${n}`);
      ip.push(`route add ${formatAddress(host.address)}/32 dev ${device} table 99`);
    }
    if (publics.length > 0) nft.push('add chain inet wl nat { type nat hook postrouting priority 100; }', ...publics);
    const main = idOf(this.forwarding.routes.mainTable(network.id));
    // Its own messages have an address that nobody names, and go by the main table.
    ip.push(
      `addr add 198.18.254.${n + 1}/32 dev lo`,
      `addr add 2001:db8:fffe::${n + 1}/128 dev lo`,
      `rule add iif lo lookup ${main}`,
    );
    this.plan.links.forEach((_, l) => {
      for (const { ends } of this.cables)
        for (const [space, device] of ends)
          if (space === router(n) && (device === `l${l}` || device.startsWith(`l${l}n`)))
            ip.push(`rule add iif ${device} lookup ${main}`);
    });
    const behind = (name: string, subnetId: string) => {
      const subnet = byId(this.plan.subnets, subnetId);
      if (subnet?.networkId === network.id)
        ip.push(`rule add iif ${name} lookup ${idOf(this.forwarding.routes.tableOf(subnet))}`);
    };
    this.plan.natDevices.forEach(({ subnetId }, at) => behind(`nat${at}`, subnetId));
    this.plan.firewalls.forEach(({ subnetId }, at) => behind(`fw${at}`, subnetId));
    const { lines, isTooMuch } = subnetLists(this.inSubnets(n), ({ id }) => this.forwarding.lists.at(id));
    nft.push(...lines);
    if (isTooMuch) this.notes.add(`${network.name}: its subnets have more stateful lists than are told apart.`);
  }

  /** Who stands in which subnet of a network. */
  private inSubnets(n: number): Member[] {
    const network = this.plan.networks[n];
    const members: Member[] = [];
    const put = (subnet: Subnet | undefined, device: string, address?: string) => {
      if (subnet?.networkId === network?.id && subnet !== undefined) members.push({ subnet, device, address });
    };
    for (const { host, device } of this.hosts.get(router(n)) ?? []) {
      const isApart = host.kind === 'pod' && host.subnet?.id !== host.node?.subnet?.id && host.subnet !== undefined;
      if (isApart) put(host.subnet, device, formatAddress(host.address));
      else if (host.kind !== 'pod') put(host.subnet, device);
    }
    this.plan.natDevices.forEach(({ subnetId }, at) => put(byId(this.plan.subnets, subnetId), `nat${at}`));
    this.plan.firewalls.forEach(({ subnetId }, at) => put(byId(this.plan.subnets, subnetId), `fw${at}`));
    return members;
  }

  private routes(n: number, table: RouteTable | undefined, id: number): string[] {
    const network = this.plan.networks[n];
    if (network === undefined) return [];
    const byPrefix = new Map<string, RouteRow[]>();
    for (const row of this.forwarding.routes.rowsOf(network.id, table)) {
      const text = formatPrefix(row.prefix);
      byPrefix.set(text, [...(byPrefix.get(text) ?? []), row]);
    }
    const lines = [...byPrefix].flatMap(([text, rows]) => {
      const { row } = decideRow(rows[0]?.prefix ?? expectGood(parseAddress('0.0.0.0')), rows);
      return row === undefined ? [] : this.hop(n, text, row, id);
    });
    for (const { host, device } of this.hosts.get(router(n)) ?? []) {
      const found = this.forwarding.routes.lookUp(network.id, table, host.address);
      const isHere = found.row?.hop.kind === 'local' || found.row?.hop.kind === 'pods';
      if (isHere && found.tie === undefined)
        lines.push(`route replace ${formatAddress(host.address)}${alone(host.address)} dev ${device} table ${id}`);
    }
    return lines;
  }

  private hop(n: number, prefix: string, { hop }: RouteRow, id: number): string[] {
    const out = (device: string) => [`route replace ${prefix} dev ${device} table ${id}`];
    switch (hop.kind) {
      case 'local':
      case 'pods':
      case 'drop':
      case 'gone':
        return [`route replace blackhole ${prefix} table ${id}`];
      case 'internet':
        this.toInternet(n);
        return out('world');
      case 'nat':
        return out(`nat${this.plan.natDevices.findIndex((each) => each.id === hop.id)}`);
      case 'firewall':
        return out(`fw${this.plan.firewalls.findIndex((each) => each.id === hop.id)}`);
      case 'link': {
        const l = this.plan.links.indexOf(hop.link);
        return out(hop.toNetworkId === undefined ? `l${l}` : `l${l}n${this.networkAt(hop.toNetworkId)}`);
      }
    }
  }

  private mtuOf(n: number): number {
    return this.plan.networks[n]?.mtu ?? 1500;
  }

  private networkAt(id: string): number {
    return this.plan.networks.findIndex((network) => network.id === id);
  }
}

/** The rules of nft for one rule of the plan. */
function ruleLines(chain: string, rule: CompiledRule, verdicts: Readonly<Record<'allow' | 'deny', string>>): string[] {
  return ruleMatches(rule).map((match) => ['add rule', chain, match, verdicts[rule.action]].filter(Boolean).join(' '));
}

/** The address of a pod's node in the overlay: the one before that of the pod. */
function insideOf({ address }: Host): string {
  return formatAddress(addressFurther(address, -1));
}

/** An overlay takes a frame only from another address than its own, so each node has one made of its IPv4 address. */
function macOf({ address: { w0 } }: Host): string {
  const bytes = [w0 >>> 24, (w0 >>> 16) & 255, (w0 >>> 8) & 255, w0 & 255];
  return `02:01:${bytes.map((byte) => byte.toString(16).padStart(2, '0')).join(':')}`;
}

/** Routes for all, of each family. */
const EVERYTHING = ['0.0.0.0/0', '::/0'] as const;

/** The length of a prefix that holds one address alone. */
function alone({ family }: Address): '/32' | '/128' {
  return family === 4 ? '/32' : '/128';
}

/** The address of a machine, and that it sends everything from it over its one cable. */
function atEnd(address: Address): string[] {
  const text = formatAddress(address);
  const [four, six] = EVERYTHING;
  return address.family === 4
    ? [`addr add ${text}/32 dev eth0`, `route add ${four} dev eth0 src ${text}`]
    : [`addr add ${text}/128 dev eth0 nodad`, `route add ${six} dev eth0 src ${text}`];
}

/** The namespace of a network's router. */
function router(n: number): string {
  return `r${n}`;
}

/** Machines of different networks may have one address; overlay pods of different clusters too. */
export function key(host: Host): string {
  return `${host.networkId} ${host.kind === 'pod' ? (host.cluster?.id ?? '') : ''} ${formatAddress(host.address)}`;
}
