export type { WildcardReach } from './hostNames.js';
export { certifies, commonHost, coversHost } from './hostNames.js';
export {
  MAX_LABEL,
  MAX_NAME,
  addressOfReverse,
  compareNames,
  isWithin,
  labelsOf,
  parentOf,
  readFullName,
  readName,
  relativeTo,
  reverseName,
  shownName,
  storedName,
} from './names.js';
export type { AnyType, RecordType } from './rdata.js';
export { forms, octetParts, readTtl, readValue, recordTypes, textOf, typesByNumber } from './rdata.js';
export type { ZoneProblem } from './zoneFile.js';
export { apexOf, readZoneFile, writeZoneFile } from './zoneFile.js';
export { MAX_ALIASES, ZoneSet } from './zoneSet.js';
export type { Rr, ZoneAnswer } from './zoneTree.js';
export { ZoneTree } from './zoneTree.js';
