export type { Finding, Fix, Severity, Subject } from './finding.js';
export { findings, findingsOfCluster } from './findingsSection.js';
export { findingTitles } from './findingTitles.js';
