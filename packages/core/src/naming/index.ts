export { answerInCluster, domainOf, isOwnName, searchListOf } from './clusterNames.js';
export type { KeptRecord, WantedName } from './kept.js';
export { answerOf, closestZones, wantedNames, zonesOfKeeper } from './kept.js';
export type { NamingParts, View } from './nameState.js';
export { apexRecords, DNS_PORT, NameState, rrOf } from './nameState.js';
export type { Asker, NameOutcome, Query, Resolution } from './resolve.js';
export { addressesOf, askerOf, codeOf, resolve } from './resolve.js';
export { namesTried } from './searchList.js';
export { naming } from './section.js';
export { caaOf } from './caa.js';
export type { Caa } from './caa.js';
export { certificateEnd, dayAfter, daysBetween, renewalOf } from './certificates.js';
export type { CertificateUse, NameCount, WantedHost } from './hosts.js';
export {
  clientOf,
  holderOf,
  listensOn,
  nameCounts,
  networkAsker,
  selfRunNames,
  typeTo,
  usesOf,
  wantedHosts,
} from './hosts.js';
export type { CutOver, Habit, Leaving, Moving } from './cutOver.js';
export { cutOver, shareLeft } from './cutOver.js';
export type { NamesProposal, NamesWish, ProposedNames } from './propose.js';
export { proposeNames } from './propose.js';
export type { AskedName, ClusterSize, QueryLoad, Saving } from './queryLoad.js';
export { afterMemory, dnsReplicas, queryLoad } from './queryLoad.js';
export type { NameRow, Vantage, VantageAnswer } from './vantages.js';
export { differs, recordedNames, rowOf, vantagesOf, VantageTable } from './vantages.js';
export type { ZoneImport } from './zoneText.js';
export { importZone, zoneText } from './zoneText.js';
