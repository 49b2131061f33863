import { formatAddress, formatPrefix } from '@wide-lattice/core/address';
import { Forwarding, podHost } from '@wide-lattice/core/forwarding';
import type { Host } from '@wide-lattice/core/forwarding';
import { byId, readTranslation } from '@wide-lattice/core/plan';
import type { Cluster, Member, Plan } from '@wide-lattice/core/plan';
import { expectFound } from '@wide-lattice/core/road';
import type { Probe } from './agent.js';
import { Agent } from './agentProcess.js';
import { MAC } from './model.js';
import { run } from './shell.js';

const PORTS = [53, 8080];
/** VXLAN: inner Ethernet 14, VXLAN 8, UDP 8, IP 20 (RFC 7348 5). */
const VXLAN_BYTES = 50;
let made = 0;

/** One cluster in namespaces: a pod, its node, a gateway, and the router of its network. */
interface Place {
  readonly n: number;
  readonly cluster: Cluster;
  readonly member: Member;
  readonly pod: Host;
  readonly node: Host;
  readonly gateway: Host;
  readonly mtu: number;
}

/**
 * Clusters that VXLAN joins, built in network namespaces from the plan’s own rows: the pod network to the gateway and the tunnels are VXLAN
 * devices, translated ranges are prefix translation by nft, filters are rules at the network’s end of each machine’s cable. Shares no rule with
 * the engine.
 */
export class KernelConnection {
  private readonly prefix = `wl${process.pid}x${made++}j`;
  private readonly agents = new Map<number, Agent>();

  private constructor(
    private readonly plan: Plan,
    private readonly forwarding: Forwarding,
    private readonly places: readonly Place[],
  ) {}

  static async start(plan: Plan): Promise<KernelConnection> {
    const forwarding = Forwarding.of(plan);
    const places = plan.members.map((member, n): Place => {
      const cluster = byId(plan.clusters, member.clusterId) as Cluster;
      const pod = expectFound(podHost(forwarding, { clusterId: cluster.id, nodePoolId: null, zone: '' }, 4));
      const gateway = expectFound(forwarding.tunnels.gatewayOf(member, 0));
      return {
        n,
        cluster,
        member,
        pod,
        node: pod.node ?? pod,
        gateway: gateway.host,
        mtu: byId(plan.networks, cluster.networkId)?.mtu ?? 1500,
      };
    });
    const kernel = new KernelConnection(plan, forwarding, places);
    try {
      kernel.build();
      for (const { n, pod } of places)
        kernel.agents.set(n, await Agent.start(kernel.nameOf(`p${n}`), `p${n}`, [formatAddress(pod.address)], PORTS));
    } catch (error) {
      kernel.end();
      throw error;
    }
    return kernel;
  }

  end(): void {
    for (const agent of this.agents.values()) agent.end();
    run(
      'ip',
      ['-force', '-batch', '-'],
      this.spaces()
        .map((space) => `netns del ${this.nameOf(space)}`)
        .join('\n'),
    );
  }

  /** Calls an address by TCP from the pod of a member: who answered, and whom it saw. */
  call(from: number, to: string, port: number): Promise<{ readonly seen: string; readonly by: string } | undefined> {
    return this.probe(from, { protocol: 'tcp', to, port, bytes: 0 });
  }

  /** Sends one UDP packet of a size from the pod of a member to an address, with the do-not-fragment bit: who answered, and whom it saw. */
  send(from: number, to: string, bytes: number): Promise<{ readonly seen: string; readonly by: string } | undefined> {
    return this.probe(from, { protocol: 'udp', to, port: 53, bytes });
  }

  private probe(from: number, probe: Omit<Probe, 'id' | 'from'>) {
    const agent = this.agents.get(from);
    const place = this.places[from];
    if (agent === undefined || place === undefined) throw new Error(`No pod ${from}.`);
    return agent.send({ ...probe, from: formatAddress(place.pod.address) });
  }

  private spaces(): string[] {
    return ['hub', ...this.places.flatMap(({ n }) => [`p${n}`, `n${n}`, `g${n}`, `r${n}`])];
  }

  private nameOf(space: string): string {
    return `${this.prefix}-${space}`;
  }

  /** The pod and service ranges of a member, and what the others see of them. */
  private rangesOf({ cluster, member }: Place): { readonly own: string; readonly shown: string }[] {
    const translations = member.translated.flatMap((text) => readTranslation(text) ?? []);
    return this.forwarding
      .rangesOf(cluster.id)
      .filter(({ purpose }) => purpose === 'pod' || purpose === 'service')
      .map(({ prefix }) => {
        const found = translations.find(({ own }) => formatPrefix(own) === prefix);
        return { own: prefix, shown: found === undefined ? prefix : formatPrefix(found.shown) };
      });
  }

  private build(): void {
    run(
      'ip',
      ['-batch', '-'],
      this.spaces()
        .map((space) => `netns add ${this.nameOf(space)}`)
        .join('\n'),
    );
    const hubMtu = this.plan.links[0]?.mtu ?? 1500;
    const cable = (a: string, one: string, b: string, other: string, mtu: number) =>
      `link add ${one} mtu ${mtu} address ${MAC} netns ${this.nameOf(a)} type veth peer name ${other} mtu ${mtu} address ${MAC} netns ${this.nameOf(b)}`;
    const cables = this.places.flatMap(({ n, mtu }) => [
      cable(`p${n}`, 'eth0', `n${n}`, 'pod', mtu),
      cable(`n${n}`, 'eth0', `r${n}`, 'node', mtu),
      cable(`g${n}`, 'eth0', `r${n}`, 'gate', mtu),
      cable(`r${n}`, 'hub', 'hub', `to${n}`, Math.min(mtu, hubMtu)),
    ]);
    run('ip', ['-batch', '-'], cables.join('\n'));
    this.set(
      'hub',
      this.places.flatMap(({ n, node, gateway }) => [
        `link set to${n} arp off up`,
        ...[node, gateway].map((host) => `route add ${formatAddress(host.address)}/32 dev to${n}`),
      ]),
    );
    for (const place of this.places) this.buildPlace(place);
  }

  private buildPlace(place: Place): void {
    const { n, pod, node, gateway, mtu } = place;
    const [own, at, gate] = [pod, node, gateway].map((host) => formatAddress(host.address)) as [string, string, string];
    const others = this.places.filter((each) => each !== place);
    const ranges = this.rangesOf(place);
    const mac = (kind: number, of: number) => `02:0${kind}:00:00:00:${of.toString(16).padStart(2, '0')}`;
    // Outer packets are not cut up, since "whole" means that nothing is. What wraps frames: a device with the far end’s address and hardware address written down.
    const vxlan = (device: string, id: number, from: string, to: string, ownMac: string, farMac: string) => [
      `link add ${device} type vxlan id ${id} dstport 4789 local ${from} remote ${to} nolearning df set`,
      `link set ${device} address ${ownMac} mtu ${mtu - VXLAN_BYTES} up`,
      `addr add 169.254.${id % 250}.1/32 dev ${device}`,
      `neigh add 169.254.200.1 lladdr ${farMac} dev ${device} nud permanent`,
    ];
    this.set(`p${n}`, [
      'link set eth0 arp off up',
      `addr add ${own}/32 dev eth0`,
      `route add default dev eth0 src ${own}`,
    ]);
    this.set(`n${n}`, [
      'link set eth0 arp off up',
      'link set pod arp off up',
      `addr add ${at}/32 dev eth0`,
      `route add default dev eth0 src ${at}`,
      `route add ${own}/32 dev pod`,
      ...vxlan('vx', 42, at, gate, mac(1, n), mac(2, n)),
      // A cluster keeps its own ranges to itself; other pods of them are not built here.
      ...ranges.map((range) => `route add blackhole ${range.own}`),
      ...others
        .flatMap((other) => this.rangesOf(other))
        .filter(({ shown }) => !ranges.some((range) => range.own === shown))
        .map(({ shown }) => `route replace ${shown} via 169.254.200.1 dev vx onlink`),
    ]);
    this.set(`g${n}`, [
      'link set eth0 arp off up',
      `addr add ${gate}/32 dev eth0`,
      `route add default dev eth0 src ${gate}`,
      ...vxlan('vx', 42, gate, at, mac(2, n), mac(1, n)),
      ...others.flatMap((other) =>
        vxlan(
          `t${other.n}`,
          100 + Math.min(n, other.n) * 16 + Math.max(n, other.n),
          gate,
          formatAddress(other.gateway.address),
          mac(3, n * 16 + other.n),
          mac(3, other.n * 16 + n),
        ),
      ),
      ...ranges.map((range) => `route add ${range.own} via 169.254.200.1 dev vx onlink`),
      ...others.flatMap((other) =>
        this.rangesOf(other)
          .filter(({ shown }) => !ranges.some((range) => range.own === shown))
          .map(({ shown }) => `route replace ${shown} via 169.254.200.1 dev t${other.n} onlink`),
      ),
    ]);
    const translated = ranges.filter((range) => range.own !== range.shown);
    if (translated.length > 0)
      this.nft(`g${n}`, [
        'add chain ip wl post { type nat hook postrouting priority 100; }',
        'add chain ip wl pre { type nat hook prerouting priority -100; }',
        `add rule ip wl post oifname "t*" snat ip prefix to ip saddr map { ${translated.map((range) => `${range.own} : ${range.shown}`).join(', ')} }`,
        `add rule ip wl pre iifname "t*" dnat ip prefix to ip daddr map { ${translated.map((range) => `${range.shown} : ${range.own}`).join(', ')} }`,
      ]);
    this.set(`r${n}`, [
      'link set node arp off up',
      'link set gate arp off up',
      'link set hub arp off up',
      `route add ${at}/32 dev node`,
      `route add ${gate}/32 dev gate`,
      'route add default dev hub',
    ]);
    this.filter(place);
  }

  /** The filters of a cluster at the cables of its node and its gateway: answers pass by state, else the rules in their order. */
  private filter({ n, cluster }: Place): void {
    const lines: string[] = ['add chain ip wl forward { type filter hook forward priority 0; }'];
    for (const filter of this.plan.filters.filter(({ clusterIds }) => clusterIds.includes(cluster.id)))
      for (const device of ['node', 'gate'])
        for (const direction of ['in', 'out'] as const) {
          const chain = `${device}${direction}${filter.id.slice(-4)}`;
          lines.push(
            `add chain ip wl ${chain}`,
            `add rule ip wl forward ${direction === 'in' ? 'oifname' : 'iifname'} ${device} jump ${chain}`,
          );
          if (filter.isStateful) lines.push(`add rule ip wl ${chain} ct state established,related return`);
          const rules = this.plan.filterRules
            .filter((rule) => rule.filterId === filter.id && rule.direction === direction)
            .sort((a, b) => a.position - b.position);
          for (const { protocol, ports, peers, action } of rules) {
            const peer =
              peers.length === 0 ? '' : `ip ${direction === 'in' ? 'saddr' : 'daddr'} { ${peers.join(', ')} }`;
            const service = protocol === 'any' ? '' : `${protocol} dport { ${ports.join(', ')} }`;
            lines.push(`add rule ip wl ${chain} ${peer} ${service} ${action === 'allow' ? 'return' : 'drop'}`);
          }
          if ((direction === 'in' ? filter.defaultIn : filter.defaultOut) === 'deny')
            lines.push(`add rule ip wl ${chain} drop`);
        }
    if (lines.length > 1) this.nft(`r${n}`, lines);
  }

  private set(space: string, lines: readonly string[]): void {
    const name = this.nameOf(space);
    run('ip', [
      'netns',
      'exec',
      name,
      'sh',
      '-ec',
      'echo 1 > /proc/sys/net/ipv4/ip_forward; for each in /proc/sys/net/ipv4/conf/*/rp_filter; do echo 0 > $each; done',
    ]);
    run('ip', ['-n', name, '-batch', '-'], ['link set lo up', ...lines].join('\n'));
    run('ip', [
      'netns',
      'exec',
      name,
      'sh',
      '-ec',
      'for each in /proc/sys/net/ipv4/conf/*/rp_filter; do echo 0 > $each; done',
    ]);
  }

  private nft(space: string, lines: readonly string[]): void {
    run('ip', ['netns', 'exec', this.nameOf(space), 'nft', '-f', '-'], ['add table ip wl', ...lines].join('\n'));
  }
}
