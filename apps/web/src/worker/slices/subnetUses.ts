import { subnetUse } from '@wide-lattice/core/allocation';
import { byId } from '@wide-lattice/core/plan';
import type { Plan } from '@wide-lattice/core/plan';
import { formatNumber } from '@wide-lattice/core/working';

/** A subnet of the ground as its sheet shows who lives there. */
export interface SubnetUseRow {
  readonly id: string;
  /** "booking-north 42, the gateway of the subnet 1"; empty while nobody does. */
  readonly living: string;
  /** "43 of 251"; in IPv6 nothing, since it does not run out. */
  readonly taken: string;
  /** Percent that is taken, at the largest; more than 100 when it is too small. */
  readonly percent: number;
}

/** Who lives in each subnet of the ground, and how much of it they take at their largest. */
export function subnetUses(plan: Plan): SubnetUseRow[] {
  return plan.subnets.flatMap((subnet): SubnetUseRow[] => {
    const profile = byId(plan.profiles, byId(plan.sites, subnet.siteId)?.profileId ?? '');
    if (profile === undefined) return [];
    const { usable, taken, living } = subnetUse(plan, subnet, profile);
    const clusters = living
      .filter(({ isCluster }) => isCluster)
      .map(({ name, addresses }) => `${name} ${formatNumber(addresses)}`);
    const devices = living.filter(({ isCluster }) => !isCluster).reduce((sum, { addresses }) => sum + addresses, 0);
    return [
      {
        id: subnet.id,
        living: [...clusters, ...(devices === 0 ? [] : [`devices ${formatNumber(devices)}`])].join(', '),
        taken: Number.isFinite(usable) ? `${formatNumber(taken)} of ${formatNumber(usable)}` : '',
        percent: Number.isFinite(usable) && usable > 0 ? Math.round((100 * taken) / usable) : 0,
      },
    ];
  });
}
