export type { ClusterResult } from './clusterResult.js';
export type { Finding, Fix, Severity, Subject } from './finding.js';
export type { Ranked } from './ranked.js';
export { inRank, rank } from './ranked.js';
export { checkCluster, checkPlan } from './registry.js';
export { reuseFinding, verdictFinding } from './overlapFindings.js';
