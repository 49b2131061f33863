export { advertisedPrefixes, fullMeshSessions, reflectedSessions } from './bgp.js';
export type { MoveOfSite, MovedCluster } from './moveSite.js';
export { moveSite } from './moveSite.js';
export type { Criterion, FamilyComparison, ModeComparison, PodNetworkComparison } from './comparison.js';
export { comparePodNetworks } from './compare.js';
export { criteria } from './criteria.js';
export type { WirePath } from './paths.js';
export { layersOf, podPacket, wirePaths } from './paths.js';
