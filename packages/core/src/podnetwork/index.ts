export { fullMeshSessions, reflectedSessions } from './bgp.js';
export type { Consequence, Criterion, ModeComparison, PodNetworkComparison, Sensitivity } from './compare.js';
export { comparePodNetworks, criteria } from './compare.js';
export { nativePodsPerNode } from './nativePods.js';
export type { WirePath } from './paths.js';
export { layersOf, podPacket, wirePaths } from './paths.js';
