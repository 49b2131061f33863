import { countsToHold, nodesAtRest } from '../sizing/index.js';
import type { ClusterResult } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** More nodes, now or at the horizon, than the provider's management carries in one cluster. */
export function nodesOverQuota({ cluster, profile, sizing }: ClusterResult): Finding[] {
  const nodes = nodesAtRest(sizing, countsToHold(sizing));
  if (nodes <= profile.nodesPerCluster) return [];
  return [
    finding('nodes.over-quota', 'error', [{ kind: 'clusters', id: cluster.id }], {
      cluster: cluster.name,
      nodes,
      quota: profile.nodesPerCluster,
      profile: profile.name,
    }),
  ];
}
