import type { Address } from '../address/index.js';
import type { Cluster, NodePool, Subnet, Workload } from '../plan/index.js';
import type { PolicyDecision } from '../road/index.js';

/** A machine that sends or receives packets. */
export interface Host {
  readonly kind: 'pod' | 'node' | 'machine' | 'bastion' | 'endpoint' | 'balancer' | 'NAT device' | 'internet';
  readonly label: string;
  /** It is of the asking one's own cluster, and its label says so. */
  readonly isAnother?: boolean;
  /** For a pod: it runs on the node of the one who asks. */
  readonly isNeighbour?: boolean;
  readonly address: Address;
  /** The network it is in; empty on the internet. */
  readonly networkId: string;
  readonly cluster?: Cluster;
  readonly pool?: NodePool;
  readonly zone: string;
  /** For a node or pod known by its address alone: whether the plan does not say in which of its cluster’s zones it is. */
  readonly isAnyZone?: boolean;
  /** For a load balancer: the zones that it spans, where they are entered. */
  readonly zones?: readonly string[];
  /** The subnet it is in, as far as one is planned. */
  readonly subnet?: Subnet;
  /** For a node: which of its cluster’s it is, from 0; those of node pools come after the main ones. */
  readonly place?: number;
  /** For a pod: the node it runs on. */
  readonly node?: Host;
  /** Whether it has a public address of its own. */
  readonly isPublic: boolean;
  /** That address, where it is decided. */
  readonly publicAddress?: Address;
  /** What filters can be attached to, innermost first. */
  readonly attachable: readonly string[];
  /** For a pod: of which workload it is, and the network policies that hold its packets; undefined where it may be any. */
  readonly guard?: Guard;
}

/** The network policies of one pod: asked for each call that it makes or gets. */
export interface Guard {
  readonly workload: Workload;
  readonly judge: (
    direction: 'ingress' | 'egress',
    other: { readonly workload: Workload | undefined; readonly address: Address },
    protocol: string,
    port: number,
  ) => PolicyDecision;
}
