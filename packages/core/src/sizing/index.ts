export { bitsFor } from './bits.js';
export type { ClusterContext, ClusterFigures, FilledNeed } from './clusterFigures.js';
export { clusterFigures } from './clusterFigures.js';
export type { Counts } from './counts.js';
export {
  countsAtHorizon,
  countsInMonth,
  countsToHold,
  countsOf,
  countsRunning,
  countsToday,
  nodesAtOnce,
  nodesAtRest,
  podsOf,
} from './counts.js';
export type { Growth } from './growth.js';
export { monthExceeded, mostNodes, nodesInMonth } from './growth.js';
export type { LimitCode, LimitContext, Neighbours } from './bound.js';
export { withNodes } from './bound.js';
export type { Limit } from './limits.js';
export { limitsOf, nearestLimit } from './limits.js';
export { NODE_PORTS, publicAddressesOf, publicAddressesToHold } from './portBounds.js';
export { nativePodsPerNode } from './nativePods.js';
export type { Need } from './needs.js';
export { familiesOf, isFromSubnet, nodesToAddress, perNodeOf, rangesNeeded, servicesWithAddress } from './needs.js';
export { perNodePrefix } from './perNodePrefix.js';
export { MAX_NODE_BITS, nodesServed, podRangeLength } from './podRange.js';
export type { Raise } from './bound.js';
export type { ServiceBands } from './serviceRange.js';
export { MAX_SERVICE_HOST_BITS, serviceBands, serviceRangeLength, serviceUsable } from './serviceRange.js';
export { MAX_NODES } from './demandProblems.js';
export type { DemandProblem, LonePods, NodeGroup, Sizing } from './sizing.js';
export type { DemandPlan } from './sizingOf.js';
export { sizingOf } from './sizingOf.js';
export { expectsMergers, horizon } from './settingsSections.js';
export { demand } from './demandSection.js';
export type { ClusterResult } from './clusterResult.js';
export { clusters } from './clustersSection.js';
export type { Resident, Residents } from './residents.js';
export { entryKept, rangesByCluster, residents, residentsBeside, subnetKey } from './residents.js';
export type { Placement } from './row.js';
export { addressesIn, lengthInRow, overflowOf, rowOf, takenIn, usableIn } from './row.js';
export type { SiteShares } from './siteShares.js';
export { siteShares } from './siteShares.js';
export type { SubnetDemand } from './subnetDemand.js';
export {
  nodesInZone,
  nodeSubnetAddresses,
  nodeSubnetDemand,
  podSubnetAddresses,
  reservedIn,
  subnetLength,
  subnetZones,
  usableAddresses,
} from './subnetDemand.js';
export type { Surge } from './surge.js';
export type { Followed, PodSizes, PodSizesContext } from './twoWay.js';
export { follow, holdTogether, podSizeBounds } from './twoWay.js';
export { formatSurge, withSurge } from './surge.js';
