import { formatFinding, formatFix } from '../english/index.js';
import type { FactCode, FactOf, FindingCode, FindingFact, FixFact, Names } from '../english/index.js';
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
  | { readonly kind: 'change'; readonly offer: FixFact; readonly operations: readonly Operation[] }
  /** An address block or subnet moved with all in it, worked out when it is asked for. */
  | { readonly kind: 'ground'; readonly offer: FixFact; readonly moving: 'blocks' | 'subnets'; readonly id: string }
  /** Translated or moved ranges, openings and routes of a connection, worked out when it is asked for. */
  | { readonly kind: 'connection'; readonly offer: FixFact; readonly connectionId: string };

/** The entity a finding is about. */
export interface Subject {
  readonly kind: Kind;
  readonly id: string;
}

/** What is wrong, as facts, and what can be done. */
export interface Finding {
  /** Same finding, same key, from one evaluation to the next. */
  readonly key: string;
  /** The check that found it. */
  readonly code: FindingCode;
  readonly severity: Severity;
  readonly subjects: readonly Subject[];
  readonly fact: FindingFact;
  readonly fixes: readonly Fix[];
  /** The question whose road shows it, in the words of the question bar. */
  readonly ask?: WorthAsking;
}

type Offered<Each> = Each extends { readonly offer: FixFact } ? Omit<Each, 'offer'> & { readonly title: string } : Each;

/** A fix with its label. */
export type DescribedFix = Offered<Fix>;

/** What is wrong, why, and what can be done, in words. */
export interface DescribedFinding extends Omit<Finding, 'fact' | 'fixes'> {
  readonly title: string;
  readonly detail: string;
  /** How it comes about, step by step; empty when the detail says it all. */
  readonly chain: readonly string[];
  readonly fixes: readonly DescribedFix[];
}

/** A finding in words; `names` is the plan that it was found in. */
export function inWords(names: Names, { fact, fixes, ...finding }: Finding): DescribedFinding {
  return { ...finding, chain: [], ...formatFinding(names, fact), fixes: fixes.map(offered) };
}

function offered(fix: Fix): DescribedFix {
  if (!('offer' in fix)) return fix;
  const { offer, ...rest } = fix;
  return { ...rest, title: formatFix(offer) };
}

/** A finding as it is counted: the check that found it, how grave it is, the kind of what it is first about. */
export interface FindingMark {
  readonly code: FindingCode;
  readonly severity: Severity;
  readonly kind: Kind | undefined;
}

/** The mark of a finding. */
export function markOf({ code, severity, subjects }: Pick<Finding, 'code' | 'severity' | 'subjects'>): FindingMark {
  return { code, severity, kind: subjects[0]?.kind };
}

interface More {
  /** What tells it from others of its code, where the subjects come and go. */
  readonly part?: string;
  readonly ask?: WorthAsking;
  readonly fixes?: readonly Fix[];
  /** The check, where what it says is of another. */
  readonly check?: FindingCode;
}

/** Builds a finding; the key is made of the check and the subjects, or of the check and `part`. */
export function finding<Code extends FactCode>(
  code: Code,
  severity: Severity,
  subjects: readonly Subject[],
  fact: FactOf<Code>,
  { part, ask, fixes = [], check = code.split(':', 1)[0] as FindingCode }: More = {},
): Finding {
  const key = part === undefined ? [check, ...subjects.map((s) => s.id)].join(' ') : `${check} ${part}`;
  return {
    key,
    code: check,
    severity,
    subjects,
    fact: { code, ...fact } as FindingFact,
    fixes,
    ...(ask === undefined ? {} : { ask }),
  };
}
