export { changedIds, changedLists, nameFilters } from './changedIds.js';
export { attachedTo } from './compiledLists.js';
export type { CompiledFilter } from './compiledLists.js';
export { Crossings, NO_FAULTS, pairKey, shownRanges } from './crossings.js';
export type { Crossing, Faults } from './crossings.js';
export { Forwarding } from './forwarding.js';
export { forwardingReads } from './forwardingParts.js';
export type { ForwardingParts } from './forwardingParts.js';
export type { ForwardingState, Gateway, Tunnel } from './forwardingState.js';
export { groundUnder, isLedAstray } from './ground.js';
export {
  PUBLIC_API,
  SOMEWHERE,
  balancerHost,
  balancerInside,
  hostAt,
  internetAddresses,
  internetHost,
  isPublicAddress,
  nodeHost,
  podHost,
} from './host.js';
export type { HostPart } from './host.js';
export { idsOn } from './idsOn.js';
export type { Guard, Host } from './machine.js';
export { isNeedOf, needsOf } from './needsOf.js';
export { isOnInternet } from './onInternet.js';
export { KUBELET_PORT, POD_PORT, aimsOf, apiPort, hostOfPlace, hostsOfPlace } from './resolve.js';
export type { ResolvedTarget } from './resolve.js';
export { decideRow } from './routeRow.js';
export { coversIcmp, coversPorts, portRanges } from './ruleList.js';
export type { CompiledRule } from './ruleList.js';
export { forwarding, packets, packetsButRules } from './section.js';
export { areNodesGone, goneAt, groundOf } from './standing.js';
export { letsMessagesIn } from './stations/messages.js';
export { gatewayLayers } from './stations/node.js';
export type { ExportedService } from './stations/trip.js';
export { trace, traceFlow } from './trace.js';
export type { Dress, FlowTrace, Trace } from './trace.js';
export { openingsOf, outerService, tunnelLayers } from './tunnelWire.js';
export { gatewayZones, makeTunnel } from './tunnels.js';
export { nodeLeg } from './walk.js';
export { waysOut } from './waysOut.js';
export type { WayOut, WayTaken, WaysOut } from './waysOut.js';
export { RowLookup } from './rowLookup.js';
export type { RuleList } from './ruleList.js';
