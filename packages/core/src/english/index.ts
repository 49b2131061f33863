export { sayAstray, sayNameAnswered, sayServed, sayUnanswered } from './answers.js';
export type { Astray } from './answers.js';
export type { CutOverStep } from './cutOvers.js';
export { sayCutOverStep } from './cutOvers.js';
export { sayChainStep } from './chains.js';
export { sayEnded, sayEvent } from './events.js';
export { sayFailed, sayPolicy, sayTooNarrow, sayTunnelFault } from './failures.js';
export { lackProblem, sayLack } from './lacks.js';
export { sayMend } from './mends.js';
export { sayBlocked, sayNameReason } from './nameReasons.js';
export { CLIENT_OUTSIDE, sayClientsOf, sayServiceAddress } from './names.js';
export type { Names } from './names.js';
export { sayLoss, sayNextHop, sayRow, sayRowSource } from './tables.js';
export { sayFault, sayReason, sayTrace } from './traces.js';
export { sayRequest, sayUnsent } from './requestFacts.js';
export { sayRouteLoss } from './routeLosses.js';
export { sayPair } from './pairFacts.js';
export { findingTitles, sayBroken, sayFinding, sayFix, sayOpening } from './findings/index.js';
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
export type { DoorLack } from './doors.js';
export { sayDoorLack } from './doors.js';
export { refuse, sayProposed } from './proposals.js';
