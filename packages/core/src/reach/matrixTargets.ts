import { addressFurther, compareAddresses, containsAddress, lastAddress } from '../address/index.js';
import type { Address, Prefix } from '../address/index.js';
import { addTo, rangeOf } from '../plan/index.js';
import type { Distinct } from './distinct.js';
import type { Forwarding, Host } from '../forwarding/index.js';
import { nodeHost, podHost } from '../forwarding/index.js';

/** Targets that forwarding cannot tell apart. */
export interface TargetGroup {
  readonly number: number;
  readonly hosts: readonly Host[];
}

/** How many of a group lie in a prefix, and two of them: one may be the asking cluster's own. */
export interface Within {
  readonly number: number;
  readonly count: number;
  readonly hosts: readonly Host[];
}

/** A target whose group is another one after an edit. */
export interface Moved {
  readonly host: Host;
  readonly from: number;
  readonly to: number;
}

/** Many targets of one kind, in groups of those that are alike; any of them can be found by its address. */
export class Targets {
  readonly groups: readonly TargetGroup[];
  private readonly byNumber = new Map<number, TargetGroup>();
  private readonly counts = new Map<string, { readonly prefix: Prefix; readonly list: readonly Within[] }>();

  private constructor(
    private readonly hosts: readonly Host[],
    private readonly numbers: readonly number[],
    /** Places among the hosts in the order of addresses. */
    private readonly ordered: readonly number[],
    private readonly ofCluster: ReadonlyMap<string, number>,
  ) {
    const groups = new Map<number, Host[]>();
    hosts.forEach((host, at) => {
      const number = numbers[at] as number;
      addTo(groups, number, host);
    });
    this.groups = [...groups].map(([number, alike]) => ({ number, hosts: alike }));
    for (const group of this.groups) this.byNumber.set(group.number, group);
  }

  static of(hosts: readonly Host[], told: Distinct): Targets {
    const addressAt = (at: number) => (hosts[at] as Host).address;
    return new Targets(
      hosts,
      hosts.map((host) => told.numberOf(host, 'asked')),
      hosts.map((_, at) => at).sort((a, b) => compareAddresses(addressAt(a), addressAt(b))),
      new Map(hosts.flatMap(({ cluster }, at) => (cluster === undefined ? [] : [[cluster.id, at]]))),
    );
  }

  /** The same targets when only the filters of some entities differ, and which of them moved to another group. */
  followed(
    changedIds: ReadonlySet<string>,
    told: Distinct,
  ): { readonly targets: Targets; readonly moved: readonly Moved[] } {
    const moved: Moved[] = [];
    const numbers = this.hosts.map((host, at) => {
      const from = this.numbers[at] as number;
      const to = host.attachable.some((id) => changedIds.has(id)) ? told.numberOf(host, 'asked') : from;
      if (to !== from) moved.push({ host, from, to });
      return to;
    });
    if (moved.length === 0) return { targets: this, moved };
    const targets = new Targets(this.hosts, numbers, this.ordered, this.ofCluster);
    for (const [name, known] of this.counts)
      if (!moved.some(({ host }) => containsAddress(known.prefix, host.address))) targets.counts.set(name, known);
    return { targets, moved };
  }

  group(number: number): TargetGroup | undefined {
    return this.byNumber.get(number);
  }

  get count(): number {
    return this.hosts.length;
  }

  /** A cluster's own machine among the targets, and the group it is in. */
  ownOf(clusterId: string): { readonly host: Host; readonly group: TargetGroup } | undefined {
    const at = this.ofCluster.get(clusterId);
    const host = this.hosts[at ?? -1];
    const group = this.group(this.numbers[at ?? -1] ?? -1);
    return host === undefined || group === undefined ? undefined : { host, group };
  }

  /** How many of each group lie in a prefix, and one of them; counted once for all clusters that use the same range. */
  countsWithin(prefix: Prefix, name: string): readonly Within[] {
    const known = this.counts.get(name);
    if (known !== undefined) return known.list;
    const counts = new Map<number, { number: number; count: number; hosts: readonly Host[] }>();
    for (const { host, number } of this.within(prefix)) {
      const { count = 0, hosts = [] } = counts.get(number) ?? {};
      counts.set(number, { number, count: count + 1, hosts: count < 2 ? [...hosts, host] : hosts });
    }
    const list = [...counts.values()];
    this.counts.set(name, { prefix, list });
    return list;
  }

  /** The targets whose address lies in a prefix. */
  within(prefix: Prefix): { readonly host: Host; readonly number: number }[] {
    const found: { readonly host: Host; readonly number: number }[] = [];
    const last: Address = lastAddress(prefix);
    const hostAt = (place: number) => this.hosts[this.ordered[place] as number] as Host;
    let low = 0;
    let high = this.ordered.length;
    while (low < high) {
      const middle = (low + high) >>> 1;
      if (compareAddresses(hostAt(middle).address, prefix) < 0) low = middle + 1;
      else high = middle;
    }
    for (let place = low; place < this.ordered.length; place++) {
      const host = hostAt(place);
      if (compareAddresses(host.address, last) > 0) break;
      found.push({ host, number: this.numbers[this.ordered[place] as number] as number });
    }
    return found;
  }
}

/** A node or a pod of every cluster that has one. */
export function machinesOfClusters(forwarding: Forwarding, kind: 'node' | 'pod'): Host[] {
  return forwarding.parts.clusters.flatMap((cluster) => {
    if (cluster.family === 'ipv6') return [];
    const part = { clusterId: cluster.id, nodePoolId: null, zone: '' };
    const host = kind === 'node' ? nodeHost(forwarding, part, 4) : podHost(forwarding, part, 4);
    return host.ok ? [host.value] : [];
  });
}

/** A machine in every range in use that lies in a network. */
export function machinesInUse({ parts }: Forwarding): Host[] {
  return parts.inUse.flatMap((range): Host[] => {
    const prefix = rangeOf(range);
    if (range.networkId === null || prefix.family === 6) return [];
    const address = prefix.length < 31 ? addressFurther(prefix, 1) : prefix;
    return [
      {
        kind: 'machine',
        label: `${range.prefix} (${range.owner})`,
        address,
        networkId: range.networkId,
        zone: '',
        isPublic: false,
        attachable: [],
      },
    ];
  });
}
