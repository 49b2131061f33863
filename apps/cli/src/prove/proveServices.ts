import { labelMap } from '@wide-lattice/core/plan';
import type { NetworkPolicy, Workload } from '@wide-lattice/core/plan';
import { Agent } from './agentProcess.js';
import { MAC } from './model.js';
import { run } from './shell.js';

/** One pod in a namespace of its own. */
export interface KernelPod {
  readonly name: string;
  readonly address: string;
  readonly node: 'n1' | 'n2';
  readonly workload: Workload;
}

/** What the nodes do for a service. */
export interface KernelService {
  readonly clusterAddress: string;
  readonly port: number;
  readonly nodePort: number;
  readonly targetPort: number;
  readonly externalPolicy: 'cluster' | 'local';
  readonly pods: readonly KernelPod[];
}

/** The addresses of the two nodes, after the gateway’s, and of the client outside. */
export const MACHINES = { n1: '10.9.0.2', n2: '10.9.0.3', client: '192.0.2.10' } as const;

const PORTS = [80, 8080, 9090];
let made = 0;

/** A cluster of two nodes in network namespaces, a client outside, and each pod in one of its own: real DNAT and packet filters decide. */
export class KernelCluster {
  private readonly prefix = `wl${process.pid}x${made++}s`;
  private readonly agents = new Map<string, Agent>();

  private constructor(private readonly pods: readonly KernelPod[]) {}

  static async start(pods: readonly KernelPod[]): Promise<KernelCluster> {
    const cluster = new KernelCluster(pods);
    cluster.build();
    for (const space of ['client', 'n1', 'n2', ...pods.map(({ name }) => name)])
      cluster.agents.set(space, await Agent.start(cluster.nameOf(space), space, [cluster.addressOf(space)], PORTS));
    return cluster;
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

  /** Calls an address from a space, a pod, node or the client; the address that the far end saw, and who it was. */
  call(from: string, to: string, port: number): Promise<{ readonly seen: string; readonly by: string } | undefined> {
    const agent = this.agents.get(from);
    if (agent === undefined) throw new Error(`No agent in ${from}.`);
    return agent.send({ protocol: 'tcp', from: this.addressOf(from), to, port, bytes: 200 });
  }

  /** Puts the translation of a service into both nodes, as a node's proxy does; a local policy sends to the node's own pods alone. */
  serve(service: KernelService): void {
    for (const node of ['n1', 'n2'] as const) {
      const { clusterAddress, port, nodePort, targetPort, externalPolicy, pods } = service;
      const outside = externalPolicy === 'local' ? pods.filter((pod) => pod.node === node) : pods;
      const to = (some: readonly KernelPod[]) =>
        `dnat ip addr . port to numgen random mod ${some.length} map { ${some.map(({ address }, i) => `${i} : ${address} . ${targetPort}`).join(', ')} }`;
      const atDoor = `ip daddr ${MACHINES[node]} tcp dport ${nodePort}`;
      this.nft(node, [
        'add table ip svc',
        'flush table ip svc',
        'add chain ip svc wl_mark { type filter hook prerouting priority -150; }',
        'add chain ip svc wl_pre { type nat hook prerouting priority -100; }',
        'add chain ip svc wl_post { type nat hook postrouting priority 100; }',
        ...(externalPolicy === 'cluster' ? [`add rule ip svc wl_mark ${atDoor} meta mark set 1`] : []),
        `add rule ip svc wl_pre ip daddr ${clusterAddress} tcp dport ${port} ${to(pods)}`,
        outside.length === 0
          ? `add rule ip svc wl_mark ${atDoor} drop`
          : `add rule ip svc wl_pre ${atDoor} ${to(outside)}`,
        // What any node may pass on anywhere must come back through it.
        `add rule ip svc wl_post meta mark 1 snat to ${MACHINES[node]}`,
      ]);
    }
  }

  /** Puts network policies into the nodes as rules between pods, written anew from the policies' own words. */
  hold(policies: readonly NetworkPolicy[]): void {
    for (const node of ['n1', 'n2'] as const) {
      const lines = [
        'add table ip pol',
        'flush table ip pol',
        'add chain ip pol wl_out',
        'add chain ip pol wl_in',
        'add chain ip pol wl_fwd { type filter hook forward priority 0; }',
        'add rule ip pol wl_fwd ct state established accept',
        'add rule ip pol wl_fwd jump wl_out',
        'add rule ip pol wl_fwd jump wl_in',
      ];
      for (const pod of this.pods.filter((each) => each.node === node)) {
        lines.push(...this.chainOf(pod, 'egress', policies), ...this.chainOf(pod, 'ingress', policies));
      }
      this.nft(node, lines);
    }
  }

  private chainOf(pod: KernelPod, direction: 'ingress' | 'egress', policies: readonly NetworkPolicy[]): string[] {
    const selecting = policies.filter(({ namespace, selector, directions, allowOut }) => {
      const types = directions.length > 0 ? directions : allowOut.length > 0 ? ['ingress', 'egress'] : ['ingress'];
      return (
        types.includes(direction) &&
        namespace === pod.workload.namespace &&
        selector.every((label) => has(pod.workload, label))
      );
    });
    if (selecting.length === 0) return [];
    const [chain, own, peer] = direction === 'egress' ? ['wl_out', 'saddr', 'daddr'] : ['wl_in', 'daddr', 'saddr'];
    const rule = (match: string, ports: string, verdict: string) =>
      `add rule ip pol ${chain} ip ${own} ${pod.address} ${match} ${ports} ${verdict}`;
    const allowed = selecting.flatMap(({ namespace, allowIn, allowOut }) =>
      (direction === 'egress' ? allowOut : allowIn).flatMap((text) => {
        const [who = '', at] = text.split(' on tcp ');
        const ports = at === undefined ? '' : `tcp dport ${at}`;
        if (who === 'anyone') return [rule('', ports, 'return')];
        const block = /^[\d.]+\/\d+$/.test(who);
        if (block) return [rule(`ip ${peer} ${who}`, ports, 'return')];
        const [label = '', where] = who.replace('pods ', '').split(' in namespaces ');
        const peers = this.pods.filter(
          ({ workload }) => has(workload, label) && (where === 'all' || workload.namespace === namespace),
        );
        return peers.map(({ address }) => rule(`ip ${peer} ${address}`, ports, 'return'));
      }),
    );
    return [...allowed, rule('', '', 'drop')];
  }

  private spaces(): string[] {
    return [...Object.keys(MACHINES), ...this.pods.map(({ name }) => name)];
  }

  private nameOf(space: string): string {
    return `${this.prefix}-${space}`;
  }

  private addressOf(space: string): string {
    return (
      (MACHINES as Readonly<Record<string, string>>)[space] ??
      this.pods.find(({ name }) => name === space)?.address ??
      ''
    );
  }

  private build(): void {
    run(
      'ip',
      ['-batch', '-'],
      this.spaces()
        .map((space) => `netns add ${this.nameOf(space)}`)
        .join('\n'),
    );
    const cables: (readonly [string, string])[] = [
      ['client', 'n1'],
      ['client', 'n2'],
      ['n1', 'n2'],
      ...this.pods.map(({ name, node }) => [node, name] as const),
    ];
    run(
      'ip',
      ['-batch', '-'],
      cables
        .map(
          ([a, b]) =>
            `link add to-${b} address ${MAC} netns ${this.nameOf(a)} type veth peer name to-${a} address ${MAC} netns ${this.nameOf(b)}`,
        )
        .join('\n'),
    );
    for (const space of this.spaces()) {
      const devices = cables.flatMap(([a, b]) => (a === space ? [`to-${b}`] : b === space ? [`to-${a}`] : []));
      const own = this.addressOf(space);
      const routes = this.routesOf(space).map(([to, device]) => `route add ${to} dev ${device} src ${own}`);
      run(
        'ip',
        ['-n', this.nameOf(space), '-batch', '-'],
        [
          'link set lo up',
          `addr add ${own}/32 dev lo`,
          ...devices.map((device) => `link set ${device} arp off up`),
          ...routes,
        ].join('\n'),
      );
      const forwards = space === 'n1' || space === 'n2' ? 1 : 0;
      run('ip', [
        'netns',
        'exec',
        this.nameOf(space),
        'sh',
        '-ec',
        `echo ${forwards} > /proc/sys/net/ipv4/ip_forward; for each in /proc/sys/net/ipv4/conf/*/rp_filter; do echo 0 > $each; done`,
      ]);
    }
  }

  private routesOf(space: string): (readonly [string, string])[] {
    const pods = this.pods.map(({ name, address, node }) => ({ name, address, node }));
    if (space === 'client')
      return [
        [MACHINES.n1, 'to-n1'],
        [MACHINES.n2, 'to-n2'],
        ...pods.map(({ address, node }) => [address, `to-${node}`] as const),
      ];
    if (space === 'n1' || space === 'n2') {
      const other = space === 'n1' ? 'n2' : 'n1';
      return [
        [MACHINES.client, 'to-client'],
        [MACHINES[other], `to-${other}`],
        ...pods.map(({ name, address, node }) => [address, node === space ? `to-${name}` : `to-${other}`] as const),
      ];
    }
    return [['default', `to-${pods.find(({ name }) => name === space)?.node ?? ''}`]];
  }

  private nft(space: string, lines: readonly string[]): void {
    run('ip', ['netns', 'exec', this.nameOf(space), 'nft', '-f', '-'], lines.join('\n'));
  }
}

function has({ labels }: Workload, label: string): boolean {
  const [key = '', value = ''] = label.split('=');
  return label === 'all' || labelMap(labels).get(key) === value;
}
