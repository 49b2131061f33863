import type { Evaluation } from '@wide-lattice/core';

/** One network: what it reaches and what uses it. */
export interface ReachRow {
  readonly id: string;
  readonly name: string;
  readonly reaches: readonly {
    readonly name: string;
    readonly link: string;
    readonly kind: 'peering' | 'hub';
    readonly isPlanned: boolean;
  }[];
  readonly clusters: number;
  readonly inUse: number;
}

/** Who can send to whom, network by network. */
export function reachRows({ plan, domains }: Evaluation): ReachRow[] {
  const names = new Map(plan.networks.map((network) => [network.id, network.name]));
  return plan.networks.map(({ id, name }) => ({
    id,
    name,
    reaches: domains.neighbours(id).flatMap((other) => {
      const link = domains.join(id, other)?.link;
      return link === undefined
        ? []
        : [{ name: names.get(other) ?? '', link: link.name, kind: link.kind, isPlanned: link.isPlanned }];
    }),
    clusters: plan.clusters.filter((cluster) => cluster.networkId === id).length,
    inUse: plan.inUse.filter((range) => range.networkId === id).length,
  }));
}
