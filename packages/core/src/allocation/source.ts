import type { Prefix } from '../address/index.js';
import { byId, rangeOf } from '../plan/index.js';
import type { Plan, Pool, Purpose } from '../plan/index.js';

/** Where ranges are taken from: a pool, or an address block of a network that takes its subnets from its blocks. */
export interface Source {
  readonly id: string;
  readonly name: string;
  readonly whole: Prefix;
  /** Cluster-internal ranges from here may repeat in other clusters. */
  readonly isShared: boolean;
  readonly pool: Pool | undefined;
  /** The network whose block it is; undefined for pools. */
  readonly networkId: string | undefined;
  /** The network whose own advertised prefixes it gives destinations from; undefined when it keeps out of all. */
  readonly homeId: string | undefined;
}

/** Every pool and every address block of the plan as a source. */
export function sourcesOf(plan: Plan): Source[] {
  return [
    ...plan.pools.map((pool): Source => ({
      id: pool.id,
      name: pool.name,
      whole: rangeOf(pool),
      isShared: pool.isShared,
      pool,
      networkId: undefined,
      homeId: undefined,
    })),
    ...plan.blocks.map((block): Source => ({
      id: block.id,
      name: `${byId(plan.networks, block.networkId)?.name ?? ''} block ${block.prefix}`,
      whole: rangeOf(block),
      isShared: false,
      pool: undefined,
      networkId: block.networkId,
      homeId: block.networkId,
    })),
  ];
}

/** Whether a pool may give a range of this purpose at this site. */
export function isOpenTo(pool: Pool, purpose: Purpose, siteId: string): boolean {
  return pool.purposes.includes(purpose) && (pool.siteId === null || pool.siteId === siteId);
}
