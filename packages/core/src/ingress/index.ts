export { areUndated, attaches, carries, isOlder } from './attaches.js';
export { entryPointCounts, entryPointLists, entryPointsOf } from './entryPoints.js';
export type { EntryPointCount, EntryPoint, EntryPointList, EntryPoints } from './entryPoints.js';
export { entrancesAt, entrancesOf } from './entrances.js';
export type { Entrance } from './entrances.js';
export { expose, exposeApi } from './expose.js';
export type { ExposeRequest, Exposure } from './expose.js';
export { freeAddressFor } from './freeAddress.js';
export { calledAtNodes, heldBy, heldDifference, hidesPods } from './holds.js';
export type { Held, HoldCase } from './holds.js';
export { IngressState, ingressReads } from './ingressState.js';
export type { IngressParts } from './ingressState.js';
export { limited } from './limits.js';
export type { Limited } from './limits.js';
export { daemonPods, fitsSurely, mayRunOn, missing, placements, podsPerNodeOf, scaledIn } from './placement.js';
export type { NoRoom, Placed, Placement, PlacementCase } from './placement.js';
export { PolicySet } from './policies.js';
export { RouteBook, byOrder, isPattern } from './routeBook.js';
export type { Call, Lost } from './routeBook.js';
export { entryPoints, ingress } from './section.js';
export {
  FIRST_NODE_PORT,
  LAST_NODE_PORT,
  LAST_STATIC_NODE_PORT,
  addressFaults,
  nodePortFaults,
  standingAddress,
} from './serviceAddresses.js';
export type { AddressFault } from './serviceAddresses.js';
export { unsentStatus } from './unsent.js';
export { nameOf } from './words.js';
