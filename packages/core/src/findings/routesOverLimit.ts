import type { ClusterResult } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** Routed pods take one route per node, and the table holds fewer. */
export function routesOverLimit({ cluster, profile, figures }: ClusterResult): Finding[] {
  const wanted = figures.nodesToAddress.value;
  if (cluster.podMode !== 'routed' || wanted <= profile.routesPerTable) return [];
  return [
    finding('routes.over-limit', 'error', [{ kind: 'clusters', id: cluster.id }], {
      title: `${cluster.name}: ${wanted} routes in a table of ${profile.routesPerTable}`,
      detail: `Routed pods take one route per node, and ${profile.name} allows ${profile.routesPerTable} per table. Use an overlay, or split the cluster.`,
    }),
  ];
}
