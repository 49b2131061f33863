export type { Answering, Member } from './members.js';
export { answering, selectedBy } from './members.js';
export type { NoRoom, Placed, Placement, PlacementCase } from './placement.js';
export { missing, placements } from './placement.js';
export type { AddressFault } from './serviceAddresses.js';
export {
  addressFaults,
  FIRST_NODE_PORT,
  LAST_NODE_PORT,
  LAST_STATIC_NODE_PORT,
  nodePortFaults,
} from './serviceAddresses.js';
