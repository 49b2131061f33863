import type { Cluster, Profile, Shape, Site } from '../plan/index.js';
import type { Growth } from './growth.js';
import type { Surge } from './surge.js';

/** Nodes of one cluster that are alike: its main ones, or a node pool. */
export interface NodeGroup {
  readonly name: string;
  /** Null for the cluster's main nodes. */
  readonly poolId: string | null;
  readonly shape: Shape | undefined;
  /** The zones its nodes are spread over, in order. */
  readonly zones: readonly string[];
  readonly now: number;
  /** Nodes that today's ranges must hold: what it may scale up to. */
  readonly most: number;
  /** Nodes that ranges must hold at the horizon. */
  readonly horizon: number;
  readonly surge: Surge;
  readonly podsPerNode: number;
  readonly isPublic: boolean;
  /** Further interfaces of each node, by subnet. */
  readonly additionalInterfaceSubnetIds: readonly string[];
}

/** Pods without nodes, which take addresses straight from subnets. */
export interface LonePods {
  readonly name: string;
  readonly zones: readonly string[];
  readonly now: number;
  readonly most: number;
  readonly horizon: number;
}

/** Control nodes of a self-run cluster with the spare of a rolling upgrade and their virtual addresses; all 0 when it is hosted. */
export interface ControlDemand {
  readonly nodes: number;
  readonly shape: Shape | undefined;
  readonly spare: number;
  /** The API's and the ingress's. Source: common practice. */
  readonly virtualAddresses: number;
  /** The hosted control plane's private endpoint, in each node subnet. */
  readonly endpoints: number;
}

/** Why a figure cannot be computed as asked, or is doubtful, and the field where it can be mended. */
export interface DemandProblem {
  readonly field: string;
  /** The node pool it is about; null for the cluster itself. */
  readonly poolId: string | null;
  /** Whether what follows cannot be computed; otherwise it is computed and doubtful. */
  readonly isStopping: boolean;
  readonly message: string;
  readonly fix: string;
}

/** A cluster with everything its sizes follow from. */
export interface Sizing {
  readonly cluster: Cluster;
  readonly site: Site;
  readonly profile: Profile;
  /** Machine shapes that its provider offers. */
  readonly offers: readonly Shape[];
  /** The zones it is spread over, in order. */
  readonly zones: readonly string[];
  readonly groups: readonly NodeGroup[];
  readonly lonePods: readonly LonePods[];
  readonly control: ControlDemand;
  readonly growth: Growth;
  /** Most pods per node of any group runs: one per-node prefix length holds for all. */
  readonly podsPerNode: number;
  readonly problems: readonly DemandProblem[];
}
