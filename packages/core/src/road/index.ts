export type {
  AnsweredRecord,
  Choice,
  EventKind,
  Happening,
  NameQuestion,
  RoadEvent,
  RuleDecision,
  Translation,
} from './event.js';
export { decisionsOf, lookUpOf, subjectOf } from './event.js';
export type { Failed, Failure, Message, Narrow, PolicyDecision, Reason, TunnelFault, Verdict } from './failure.js';
export { causeOf, codeOfReason, verdictOf, verdictOfLack, worstFirst } from './failure.js';
export { Journal } from './journal.js';
export type { Found, Lack } from './lack.js';
export { expectFound, found, lacking } from './lack.js';
export type { LookUp, Loss, NextHop, Origin, RouteRow, RowSource, TableLookUp } from './lookUp.js';
export type { BlockedWay, NameReason } from './nameReason.js';
export type { Packet } from './packet.js';
export { answerTo, destinationPorts, HOST_PORTS, TRANSLATED_PORTS, messageOf } from './packet.js';
export type { Spot, Subject } from './place.js';
export type { Instead, NearestRoute, RequestChanges, RequestFact, Speaker } from './requestFact.js';
export type { RouteLoss } from './routeLoss.js';
