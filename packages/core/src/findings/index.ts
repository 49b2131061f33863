export type { Proposing } from './answeredBy.js';
export { isAnsweredBy } from './answeredBy.js';
export type { ExpectationState } from './expectations.js';
export { askExpectation, askTest, expectationStates } from './expectations.js';
export type { Finding, FindingMark, Fix, DescribedFinding, DescribedFix, Severity, Subject } from './finding.js';
export { inWords, markOf } from './finding.js';
export { findingMarks, findings, findingsOfCluster, marksOfCluster } from './findingsSection.js';
