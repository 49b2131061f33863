export { advertisedIn, advertisedUses } from './advertised.js';
export type { ChainStep, NamedUse } from './chain.js';
export { chainOf } from './chain.js';
export type { Verdict, VerdictKind, VerdictState } from './judge.js';
export { isNamedFirst, isPairwise, judge, worstVerdict } from './judge.js';
export type { Use } from './use.js';
export {
  isHolding,
  isSharing,
  isInternalRange,
  useOfAllocation,
  useOfBlock,
  useOfInUse,
  useOfSubnet,
  usesOfMembers,
  usesOfPlan,
} from './use.js';
export type { ReuseGroup } from './groupBuilder.js';
export { VerdictSet } from './verdictSet.js';
export { verdicts } from './verdictsSection.js';
export type { Clash, JoinedRange } from './clashes.js';
export { byRange, clashesOfMembers, formatClash, toMove } from './clashes.js';
export { connectionVerdicts } from './connectionVerdicts.js';
export type { PairVerdict } from './verdictOfPair.js';
export { verdictOfPair } from './verdictOfPair.js';
