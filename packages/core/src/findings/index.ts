export type { ClusterResult } from './clusterResult.js';
export type { Finding, Fix, Severity, Subject } from './finding.js';
export type { Ranked } from './ranked.js';
export { inRank, rank } from './ranked.js';
export type { PlanCheck } from './registry.js';
export { checkCluster, planChecks } from './registry.js';
export { findingTitles } from './findingTitles.js';
export { reuseFinding, verdictFinding } from './overlapFindings.js';
