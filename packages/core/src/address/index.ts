export type { Address } from './address.js';
export { addressAt, addressBytes, addressFurther, addressValue, commonBits, compareAddresses } from './address.js';
export type { Family } from './family.js';
export { addressBits, familyName } from './family.js';
export { formatAddress } from './formatAddress.js';
export { parseAddress } from './parseAddress.js';
export type { Prefix } from './prefix.js';
export {
  comparePrefixes,
  contains,
  containsAddress,
  firstAddress,
  formatPrefix,
  halves,
  isSamePrefix,
  lastAddress,
  nthAddress,
  overlaps,
  parent,
  parsePrefix,
  prefix,
  prefixAround,
  prefixSize,
  sibling,
  sizeOfLength,
} from './prefix.js';
export { cover, intersect, merge, split, splitAround, subtract, totalSize } from './prefixSets.js';
export { specialBlockAround, specialBlocksTouching, specialBlocks, widelyUsedDefaults } from './specialBlocks.js';
export type { SpecialBlock } from './specialBlocks.js';
export { forEachOverlap, prefixTable, sortedRows } from './prefixTable.js';
export type { PrefixTable } from './prefixTable.js';
export { PrefixIndex } from './prefixIndex.js';
export { LongestMatch } from './longestMatch.js';
