import type { Allocation, Block, Cluster, Network, Profile, Site } from '../plan/index.js';
import type { ClusterFigures, Sizing } from '../sizing/index.js';

/** One cluster with what belongs to it and what was computed for it. */
export interface ClusterResult {
  readonly cluster: Cluster;
  readonly site: Site;
  readonly network: Network;
  readonly profile: Profile;
  /** Address blocks of its network. */
  readonly blocks: readonly Block[];
  readonly allocations: readonly Allocation[];
  readonly sizing: Sizing;
  readonly figures: ClusterFigures;
}
