import type { Cluster } from './kinds/clusters.js';
import type { Site } from './kinds/sites.js';

/** The zones that a cluster is spread over: the first so many of its site, or all of them. */
export function zonesOfCluster(
  cluster: Pick<Cluster, 'zoneCount'> | undefined,
  site: Pick<Site, 'zones'> | undefined,
): readonly string[] {
  return (site?.zones ?? []).slice(0, cluster?.zoneCount ?? undefined);
}
