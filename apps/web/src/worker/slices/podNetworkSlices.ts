import { moveSite } from '@wide-lattice/core/podnetwork';
import type { PodMode } from '@wide-lattice/core/plan';
import type { SliceHost } from '../sliceHost';
import { lockedDecisions, podNetworkSheet } from './podNetwork';

/** Overlay, routed and native side by side, a site that moves, and what is locked. */
export const podNetworkSlices = {
  podNetwork: ({ evaluation }: SliceHost, clusterId: string) => podNetworkSheet(evaluation, clusterId),
  /** What would change if every cluster at a site had its pods in one mode. */
  moveSite: ({ plan }: SliceHost, siteId: string, mode: PodMode) => moveSite(plan, siteId, mode),
  lockedDecisions: ({ evaluation }: SliceHost) => lockedDecisions(evaluation),
};
