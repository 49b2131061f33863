export type { NoRoom, Placed, Placement, PlacementCase } from './placement.js';
export { daemonPods, missing, placements, podsPerNodeOf } from './placement.js';
export type { AddressFault } from './serviceAddresses.js';
export {
  addressFaults,
  FIRST_NODE_PORT,
  LAST_NODE_PORT,
  LAST_STATIC_NODE_PORT,
  nodePortFaults,
} from './serviceAddresses.js';
export type { Answer, AnsweredBy, Stage, Via } from './answer.js';
export { ask } from './ask.js';
export type { DoorCount, DoorEntry, DoorList, Doors } from './doors.js';
export { doorCounts, doorLists, doorsOf } from './doors.js';
export type { ExposeRequest, Exposure } from './expose.js';
export { expose, exposeApi } from './expose.js';
export { freeAddressFor } from './freeAddress.js';
export type { Held, HoldCase } from './holds.js';
export { heldBy, heldDifference } from './holds.js';
export type { IngressParts } from './ingressState.js';
export { ingressReads, IngressState } from './ingressState.js';
export type { Limited } from './limits.js';
export { limited } from './limits.js';
export { PolicySet } from './policies.js';
export type { Call, Lost } from './routeBook.js';
export { areUndated, attaches, carries, isOlder } from './attaches.js';
export { unsentStatus } from './unsent.js';
export { byOrder, isPattern, RouteBook } from './routeBook.js';
export { ingress } from './section.js';
