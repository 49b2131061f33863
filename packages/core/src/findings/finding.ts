import type { Kind, Operation, WorthAsking } from '../plan/index.js';

/** error: broken as planned; warning: will hurt or needs a decision; note: worth knowing. */
export type Severity = 'error' | 'warning' | 'note';

/** What the application can do about a finding, shown as a difference before it is applied. */
export type Fix =
  | { readonly kind: 'allocate'; readonly clusterId: string }
  | { readonly kind: 'move'; readonly allocationId: string }
  | { readonly kind: 'grow'; readonly allocationId: string }
  /** A further subnet beside those of one need. */
  | { readonly kind: 'further'; readonly allocationId: string }
  /** A change that the check itself knows. */
  | { readonly kind: 'change'; readonly title: string; readonly operations: readonly Operation[] }
  /** An address block or subnet moved with all in it, worked out when it is asked for. */
  | { readonly kind: 'ground'; readonly title: string; readonly moving: 'blocks' | 'subnets'; readonly id: string }
  /** Translated or moved ranges, openings and routes of a connection, worked out when it is asked for. */
  | { readonly kind: 'join'; readonly title: string; readonly connectionId: string };

/** The entity a finding is about. */
export interface Subject {
  readonly kind: Kind;
  readonly id: string;
}

/** What is wrong, why, and what can be done. */
export interface Finding {
  /** Same finding, same key, from one evaluation to the next. */
  readonly key: string;
  /** The check that found it. */
  readonly code: string;
  readonly severity: Severity;
  readonly subjects: readonly Subject[];
  readonly title: string;
  readonly detail: string;
  /** How it comes about, step by step; empty when the detail says it all. */
  readonly chain: readonly string[];
  readonly fixes: readonly Fix[];
  /** The question whose road shows it, in the words of the question bar. */
  readonly ask?: WorthAsking;
}

/** A finding as it is counted: the check that found it, how grave it is, the kind of what it is first about. */
export interface FindingMark {
  readonly code: string;
  readonly severity: Severity;
  readonly kind: Kind | undefined;
}

/** The mark of a finding. */
export function markOf({ code, severity, subjects }: Finding): FindingMark {
  return { code, severity, kind: subjects[0]?.kind };
}

/** Builds a finding; the key is made of code and subjects, or of code and `part` where the subjects come and go. */
export function finding(
  code: string,
  severity: Severity,
  subjects: readonly Subject[],
  words: {
    readonly title: string;
    readonly detail: string;
    readonly chain?: readonly string[];
    readonly part?: string;
    readonly ask?: WorthAsking;
  },
  fixes: readonly Fix[] = [],
): Finding {
  const key = words.part === undefined ? [code, ...subjects.map((s) => s.id)].join(' ') : `${code} ${words.part}`;
  const { title, detail, chain = [], ask } = words;
  return { key, code, severity, subjects, title, detail, chain, fixes, ...(ask === undefined ? {} : { ask }) };
}
