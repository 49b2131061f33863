import type { ClusterResult } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** Routed pods take one route per node, and the table holds fewer. */
export function routesOverLimit({ cluster, profile, figures }: ClusterResult): Finding[] {
  const wanted = figures.nodesToAddress.value;
  if (cluster.podMode !== 'routed' || wanted <= profile.routesPerTable) return [];
  return [
    finding('routes.over-limit', 'error', [{ kind: 'clusters', id: cluster.id }], {
      cluster: cluster.name,
      routes: wanted,
      most: profile.routesPerTable,
      profile: profile.name,
    }),
  ];
}
