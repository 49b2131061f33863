import type { Cluster, Need, Plan } from '../plan/index.js';

/** Whether a need is one of a cluster: named by it, its site or its template, or of all when nothing is named. */
export function isNeedOf({ siteIds, templateIds, clusterIds }: Need, cluster: Cluster): boolean {
  if (siteIds.length + templateIds.length + clusterIds.length === 0) return true;
  return (
    clusterIds.includes(cluster.id) ||
    siteIds.includes(cluster.siteId) ||
    (cluster.templateId !== null && templateIds.includes(cluster.templateId))
  );
}

/** The needs of a cluster, in the order of the plan. */
export function needsOf({ needs }: Pick<Plan, 'needs'>, cluster: Cluster): readonly Need[] {
  return needs.filter((need) => isNeedOf(need, cluster));
}
