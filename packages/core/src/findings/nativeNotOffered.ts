import type { ClusterResult } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** Pods are to take addresses from subnets where the provider does not offer it. */
export function nativeNotOffered({ cluster, profile }: ClusterResult): Finding[] {
  if (cluster.podMode !== 'native' || profile.nativeRule !== 'none') return [];
  return [
    finding('pods.native-not-offered', 'error', [{ kind: 'clusters', id: cluster.id }], {
      cluster: cluster.name,
      profile: profile.name,
    }),
  ];
}
