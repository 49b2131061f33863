import { joinOfNetworks } from '@wide-lattice/core/domains';
import type { Evaluation } from '@wide-lattice/core/evaluation';
import type { LinkKind } from '@wide-lattice/core/plan';

/** One network: what it reaches and what uses it. */
export interface ReachRow {
  readonly id: string;
  readonly name: string;
  readonly reaches: readonly {
    readonly name: string;
    readonly link: string;
    readonly kind: LinkKind;
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
    reaches: plan.networks.flatMap(({ id: other }) => {
      const join = other === id ? undefined : joinOfNetworks(plan, domains, id, other);
      const [hop] = join?.hops ?? [];
      if (join === undefined || hop === undefined) return [];
      const link = join.hops.map((each) => each.link.name).join(', ');
      return [{ name: names.get(other) ?? '', link, kind: hop.link.kind, isPlanned: join.isPlanned }];
    }),
    clusters: plan.clusters.filter((cluster) => cluster.networkId === id).length,
    inUse: plan.inUse.filter((range) => range.networkId === id).length,
  }));
}
