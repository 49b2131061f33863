export { changedIds, changedLists } from './changedIds.js';
export type { CompiledFilter } from './compiledLists.js';
export { attachedTo } from './compiledLists.js';
export { Forwarding } from './forwarding.js';
export type { ForwardingParts } from './forwardingParts.js';
export { forwardingReads } from './forwardingParts.js';
export type { Guard, Host } from './host.js';
export { areNodesGone, goneAt, groundOf } from './standing.js';
export type { Dress, FlowTrace, Trace } from './trace.js';
export { trace } from './trace.js';
export type { WayOut, WaysOut, WayTaken } from './waysOut.js';
export { waysOut } from './waysOut.js';
export { forwarding } from './section.js';
export type { Matrix, MatrixCell, MatrixColumn } from './matrix.js';
export { matrixColumns } from './matrix.js';
export { MatrixMaker } from './matrixMaker.js';
export { isNeedOf, needsOf } from './needsOf.js';
export type { CompiledRule } from './ruleList.js';
export { coversIcmp, coversPorts, portRanges } from './ruleList.js';
export type { Aim } from './resolve.js';
export { apiPort, hostOfPlace, hostsOfPlace, KUBELET_PORT, POD_PORT } from './resolve.js';
export {
  balancerHost,
  balancerInside,
  hostAt,
  internetHost,
  isPublicAddress,
  nodeHost,
  podHost,
  PUBLIC_API,
  SOMEWHERE,
} from './host.js';
export { decideRow } from './routeRow.js';
export { traceFlow } from './trace.js';
export { idsOn } from './idsOn.js';
export type { Mend, Opened } from './mends.js';
export type { Hop, MendStep, NamedFor, ServiceNamed } from './mendSteps.js';
export { mendsAt } from './mendCandidates.js';
export { mendsOf } from './mends.js';
export { openingsOf, outerService, tunnelLayers } from './tunnelWire.js';
export { gatewayLayers } from './stations/node.js';
export { nodeLeg } from './walk.js';
export type { ExportedService } from './stations/trip.js';
export { carrying, gatewayZones } from './tunnels.js';
export type { Gateway, Tunnel } from './tunnels.js';
export { Crossings, NO_FAULTS, pairKey, shownRanges } from './crossings.js';
export type { Crossing, Faults } from './crossings.js';
export type { CellChange } from './compareMatrix.js';
export { compareMatrices } from './compareMatrix.js';
export type { Resting } from './resting.js';
export { MOST_FOLLOWED, restingOn } from './resting.js';
export { groundUnder } from './ground.js';
export { isOnInternet } from './onInternet.js';
export { letsMessagesIn } from './stations/messages.js';
