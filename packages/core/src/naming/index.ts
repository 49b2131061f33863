export { answerInCluster, domainOf, isOwnName, searchListOf } from './clusterNames.js';
export type { KeptRecord, WantedName } from './kept.js';
export { answerOf, closestZones, wantedNames, zonesOfKeeper } from './kept.js';
export type { NamingParts, View } from './nameState.js';
export { apexRecords, DNS_PORT, NameState, rrOf } from './nameState.js';
export type { Asker, NameOutcome, Query, Resolution } from './resolve.js';
export { addressesOf, askerOf, codeOf, resolve } from './resolve.js';
export { namesTried } from './searchList.js';
export { naming } from './section.js';
