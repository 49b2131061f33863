import type { Allocation, Block, Cluster, Network, Profile, Site } from '../plan/index.js';
import type { Neighbours } from './bound.js';
import type { ClusterFigures } from './clusterFigures.js';
import type { Resident } from './residents.js';
import type { Sizing } from './sizing.js';

/** One cluster with what belongs to it and what was computed for it. */
export interface ClusterResult {
  readonly cluster: Cluster;
  readonly site: Site;
  readonly network: Network;
  readonly profile: Profile;
  /** Address blocks of its network. */
  readonly blocks: readonly Block[];
  /** Its ranges by purpose, zone and age. */
  readonly allocations: readonly Allocation[];
  readonly sizing: Sizing;
  /** What the other clusters of its site hold. */
  readonly neighbours: Neighbours;
  /** Who else lives in its subnets, by the id of its range there; ranges that are alone are not in it. */
  readonly beside: ReadonlyMap<string, readonly Resident[]>;
  readonly figures: ClusterFigures;
}
