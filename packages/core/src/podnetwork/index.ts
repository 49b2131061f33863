export { advertisedPrefixes, fullMeshSessions, reflectedSessions } from './bgp.js';
export type { MoveOfSite, MovedCluster } from './moveSite.js';
export { moveSite } from './moveSite.js';
export type { Consequence, FamilyComparison, ModeComparison, PodNetworkComparison, Sensitivity } from './compare.js';
export { comparePodNetworks } from './compare.js';
export type { Criterion } from './criteria.js';
export { criteria } from './criteria.js';
export type { WirePath } from './paths.js';
export { layersOf, podPacket, wirePaths } from './paths.js';
