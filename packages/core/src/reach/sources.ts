import { formatAddress } from '../address/index.js';
import { nodeHost, podHost } from '../forwarding/index.js';
import type { Forwarding, Host } from '../forwarding/index.js';
import { byId, rangeOf } from '../plan/index.js';
import type { Cluster } from '../plan/index.js';
import type { Distinct } from './distinct.js';

/** A place that a cell is asked from, and what tells it from others for forwarding. */
export interface Source {
  readonly host: Host;
  readonly words: string;
  /** The number it shares with sources that are like it. */
  readonly number: number;
}

/** A pod and a node in each node subnet of the cluster: needs are felt by both, and tables and filters of subnets differ. */
export function sourcesOf(forwarding: Forwarding, distinct: Distinct, cluster: Cluster): Source[] {
  const ranges = forwarding.rangesOf(cluster.id).filter(({ purpose }) => purpose === 'node');
  const family = cluster.family === 'ipv6' ? 6 : 4;
  const own = ranges.filter((range) => rangeOf(range).family === family);
  return own.flatMap(({ zone, turn }) =>
    (['node', 'pod'] as const).flatMap((kind): Source[] => {
      const part = { clusterId: cluster.id, nodePoolId: null, zone, turn };
      const host = kind === 'node' ? nodeHost(forwarding, part, family) : podHost(forwarding, part, family);
      if (!host.ok) return [];
      // Only an address says which of several subnets of a zone is meant; a pod's overlay address says nothing of its node.
      const words =
        turn === 1
          ? `${kind} of ${cluster.name}${zone === '' ? '' : `, zone ${zone}`}`
          : `${formatAddress(host.value.address)} in ${byId(forwarding.parts.networks, cluster.networkId)?.name ?? ''}`;
      return [{ host: host.value, words, number: distinct.numberOf(host.value, 'asking') }];
    }),
  );
}

/** Where a cluster's cells about many targets are asked from. */
export function askingOf(sources: readonly Source[]): Source | undefined {
  return sources.find(({ host }) => host.kind === 'pod') ?? sources[0];
}
