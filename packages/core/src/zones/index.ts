export type { WildcardReach } from './hostNames.js';
export { certifies, commonHost, coversHost } from './hostNames.js';
export {
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
export type { AnyType, Rdata, RecordType, Token } from './rdata.js';
export { forms, MOST_TTL, readTtl, readValue, recordTypes, textOf } from './rdata.js';
export type { ZoneFile, ZoneProblem } from './zoneFile.js';
export { apexOf, readZoneFile, writeZoneFile } from './zoneFile.js';
export type { SetAnswer, SetOutcome } from './zoneSet.js';
export { MOST_ALIASES, ZoneSet } from './zoneSet.js';
export type { Rr, ZoneAnswer } from './zoneTree.js';
export { ZoneTree } from './zoneTree.js';
