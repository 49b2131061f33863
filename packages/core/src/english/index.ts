export { formatAstray, formatNameAnswered, formatServed, formatUnanswered } from './answers.js';
export type { Astray } from './answers.js';
export type { CutOverStep } from './cutOvers.js';
export { formatCutOverStep } from './cutOvers.js';
export { formatChainStep } from './chains.js';
export { formatEnded, formatEvent } from './events.js';
export { formatFailed, formatPolicy, formatTooNarrow, formatTunnelFault } from './failures.js';
export { lackProblem, formatLack } from './lacks.js';
export { formatMend } from './mends.js';
export { formatBlocked, formatNameReason } from './nameReasons.js';
export { CLIENT_OUTSIDE, formatClientsOf, formatServiceAddress } from './names.js';
export type { Names } from './names.js';
export { formatLoss, formatNextHop, formatRow, formatRowSource } from './tables.js';
export { formatFault, formatReason, formatTrace } from './traces.js';
export { formatRequest, formatUnsent } from './requestFacts.js';
export { formatRouteLoss } from './routeLosses.js';
export { formatPair } from './pairFacts.js';
export { findingTitles, formatBroken, formatFinding, formatFix, formatOpening } from './findings/index.js';
export type {
  Asking,
  FactCode,
  FactOf,
  FindingCode,
  FindingFact,
  FindingWords,
  FixFact,
  OpeningFact,
  Owner,
  RuleFact,
  RuleOf,
  Unattached,
  Unfit,
  UseFact,
} from './findings/index.js';
export type { EntryPointLack } from './entryPoints.js';
export { formatEntryPointLack } from './entryPoints.js';
export { refuse, formatProposed } from './proposals.js';
export type { FullThing, Refusal } from './rehearsal.js';
export {
  formatDuration,
  formatRefusal,
  formatTooManyObjects,
  formatUnderway,
  formatWaiting,
  reasonOf,
  WAITS_FOR_TURN,
} from './rehearsal.js';
export type { DrillFact, Noticed, PreventionFact } from './drills.js';
export { formatDrill, formatDrillFact, formatNoticed, formatPrevention } from './drills.js';
