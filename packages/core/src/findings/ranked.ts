import type { Finding, Severity } from './finding.js';

/** Findings apart by severity, so that long lists are put together without looking at each finding again. */
export type Ranked = Readonly<Record<Severity, readonly Finding[]>>;

/** Parts findings by severity, each in the order given. */
export function rank(findings: Iterable<Finding>): Ranked {
  const ranked: Record<Severity, Finding[]> = { error: [], warning: [], note: [] };
  for (const finding of findings) ranked[finding.severity].push(finding);
  return ranked;
}

/** One list of several: errors first, then warnings, then notes. */
export function inRank(parts: readonly Ranked[]): Finding[] {
  const of = (severity: Severity) => parts.map((part) => part[severity]);
  return ([] as Finding[]).concat(...of('error'), ...of('warning'), ...of('note'));
}
