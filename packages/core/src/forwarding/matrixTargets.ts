import { addressFurther, compareAddresses, formatPrefix, lastAddress } from '../address/index.js';
import type { Address, Prefix } from '../address/index.js';
import { rangeOf } from '../plan/index.js';
import type { Distinct } from './distinct.js';
import type { Forwarding } from './forwarding.js';
import { nodeHost, podHost } from './host.js';
import type { Host } from './host.js';

/** Targets that forwarding cannot tell apart. */
export interface TargetGroup {
  readonly key: string;
  readonly hosts: readonly Host[];
}

/** Many targets of one kind, in groups of those that are alike; any of them can be found by its address. */
export class Targets {
  readonly groups: readonly TargetGroup[];
  readonly count: number;
  private readonly ordered: readonly { readonly host: Host; readonly key: string }[];
  private readonly ofCluster = new Map<string, string>();
  private readonly counts = new Map<string, ReadonlyMap<string, { readonly count: number; readonly host: Host }>>();
  private readonly addresses = new Map<string, Address>();

  constructor(hosts: readonly Host[], told: Distinct) {
    const groups = new Map<string, Host[]>();
    const keyed = hosts.map((host) => ({ host, key: told.keyOf(host) }));
    for (const { host, key } of keyed) {
      const known = groups.get(key);
      if (known === undefined) groups.set(key, [host]);
      else known.push(host);
      if (host.cluster === undefined) continue;
      this.ofCluster.set(host.cluster.id, key);
      this.addresses.set(host.cluster.id, host.address);
    }
    this.groups = [...groups].map(([key, alike]) => ({ key, hosts: alike }));
    this.count = hosts.length;
    this.ordered = keyed.sort((a, b) => compareAddresses(a.host.address, b.host.address));
  }

  /** The group that a cluster's own machine is in. */
  keyOfCluster(clusterId: string): string | undefined {
    return this.ofCluster.get(clusterId);
  }

  /** The address of a cluster's own machine among the targets. */
  addressOf(clusterId: string): Address | undefined {
    return this.addresses.get(clusterId);
  }

  /** How many of each group lie in a prefix, and one of them; counted once for all clusters that use the same range. */
  countsWithin(prefix: Prefix): ReadonlyMap<string, { readonly count: number; readonly host: Host }> {
    const name = formatPrefix(prefix);
    const known = this.counts.get(name);
    if (known !== undefined) return known;
    const counts = new Map<string, { count: number; host: Host }>();
    for (const { host, key } of this.within(prefix))
      counts.set(key, { host, count: (counts.get(key)?.count ?? 0) + 1 });
    this.counts.set(name, counts);
    return counts;
  }

  /** The targets whose address lies in a prefix. */
  within(prefix: Prefix): { readonly host: Host; readonly key: string }[] {
    const found: { readonly host: Host; readonly key: string }[] = [];
    const last: Address = lastAddress(prefix);
    let low = 0;
    let high = this.ordered.length;
    while (low < high) {
      const middle = (low + high) >>> 1;
      const at = this.ordered[middle];
      if (at !== undefined && compareAddresses(at.host.address, prefix) < 0) low = middle + 1;
      else high = middle;
    }
    for (let at = low; at < this.ordered.length; at++) {
      const each = this.ordered[at];
      if (each === undefined || compareAddresses(each.host.address, last) > 0) break;
      found.push(each);
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
    return [{ kind: 'machine', label: `${range.prefix} (${range.owner})`, address, networkId: range.networkId, zone: '', isPublic: false, attachable: [] }]; // prettier-ignore
  });
}
