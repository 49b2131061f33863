export { searchListOf } from './clusterNames.js';
export { closestZones, zonesOfRecordController } from './kept.js';
export { fullName, NameState, rrOf } from './nameState.js';
export type { NameOutcome, Query, Resolution } from './resolve.js';
export { addressesOf, askerOf, codeOf, resolve } from './resolve.js';
export { namesTried } from './searchList.js';
export { naming, vantages, wantedByCluster } from './section.js';
export { takers } from './takers.js';
export type { Takers } from './takers.js';
export { caaOf } from './caa.js';
export { certificateEnd, daysBetween, isExpired, renewalOf, thisDay } from './certificates.js';
export type { NameCount, WantedHost } from './hosts.js';
export { clientsOf, nameCounts, selfRunNames, typeTo, usesOf, wantedHosts } from './hosts.js';
export type { CutOver } from './cutOver.js';
export { cutOver, shareLeft } from './cutOver.js';
export type { NamesProposal, NamesWish } from './propose.js';
export { proposeNames } from './propose.js';
export type { QueryLoad, Saving } from './queryLoad.js';
export { afterMemory, dnsReplicas, plannedReplicas, queryLoad, sizeNow } from './queryLoad.js';
export type { NameRow } from './vantages.js';
export { alikeIn, differs, recordedNames, rowOf, vantagesOf, VantageTable } from './vantages.js';
export type { HandedOut, ZoneImport } from './zoneText.js';
export { handOut, importZone, zoneText } from './zoneText.js';
export type { Exporter, ExportParts, Imported, ImportParts } from './clusterSet.js';
export {
  addressSeen,
  blockedWay,
  domainOfSet,
  exportedAs,
  exportReads,
  importsOf,
  serviceNamed,
  serving,
  setZones,
  suffixOf,
  urlOfImported,
} from './clusterSet.js';
export type { NamesCalled } from './namesCalled.js';
export { namesCalled } from './namesCalled.js';
