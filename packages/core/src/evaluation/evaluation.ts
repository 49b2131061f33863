import { connectionVerdicts, verdicts } from '../verdicts/index.js';
import { domains } from '../domains/index.js';
import type { Domains } from '../domains/index.js';
import { findings, findingsOfCluster, inWords } from '../findings/index.js';
import type { Finding, DescribedFinding } from '../findings/index.js';
import type { Plan } from '../plan/index.js';
import type { AnySection, Built, Needs, Part, Section } from '../section/index.js';
import { clusters } from '../sizing/index.js';
import type { ClusterResult } from '../sizing/index.js';
import type { ReuseGroup, Verdict } from '../verdicts/index.js';
import type { Steps } from '../working/index.js';

type AnyBuilt = Built<Part, Needs, unknown>;

/**
 * Everything derived from one plan, section by section, each when it is first asked for. What a section reads and needs
 * is identical after most edits; then it is carried over from the evaluation before. An evaluation stays valid however
 * many follow it, so a draft is a second one beside the first.
 */
export class Evaluation {
  private readonly built = new Map<AnySection, AnyBuilt>();
  /** What the evaluation before has built: it may be asked for more, and what it builds then serves this one too. */
  private readonly before: ReadonlyMap<AnySection, AnyBuilt>;
  /** Sections it had not been asked for, as they were last built further back. */
  private readonly older: ReadonlyMap<AnySection, AnyBuilt>;

  constructor(
    readonly plan: Plan,
    before?: Evaluation,
  ) {
    this.before = before?.built ?? new Map();
    this.older = before === undefined ? new Map() : new Map([...before.older, ...before.before]);
  }

  /** What a section comes to for this plan. */
  ask<R extends Part, N extends Needs, T>(section: Section<R, N, T>): T {
    let found = this.built.get(section);
    if (found === undefined) {
      found = this.find(section as AnySection);
      this.built.set(section, found);
    }
    // Stored under the section that gave it.
    return found.value as T;
  }

  /** The same in steps, one for each section that is not built yet, for who has others to answer between them. */
  *inSteps<R extends Part, N extends Needs, T>(section: Section<R, N, T>): Steps<T> {
    const unbuilt = this.unbuilt(section as AnySection, new Set());
    for (const [done, each] of [...unbuilt].entries()) {
      yield { what: each.name, done, of: unbuilt.size };
      this.ask(each);
    }
    return this.ask(section);
  }

  /** Who can send to whom. */
  get domains(): Domains {
    return this.ask(domains);
  }

  /** One result a cluster, in the order of plan.clusters. */
  get clusters(): readonly ClusterResult[] {
    return this.ask(clusters).values;
  }

  /** The result of one cluster; undefined when it is not in the plan. */
  clusterOf(clusterId: string): ClusterResult | undefined {
    return this.ask(clusters).of(clusterId);
  }

  /** Ranges that overlap without harm, in groups. */
  get reuseGroups(): readonly ReuseGroup[] {
    return this.ask(verdicts).reuseGroups();
  }

  /** Number of conflicts and shadowed pairs. */
  get verdictCount(): number {
    return this.ask(verdicts).verdictCount;
  }

  /** Conflicts and shadowed pairs of one allocated range or range in use, those by a connection of clusters included. */
  verdictsOf(rangeId: string): readonly Verdict[] {
    const own = this.ask(verdicts).verdictsOf(rangeId);
    const joined = this.ask(connectionVerdicts).get(rangeId);
    return joined === undefined ? own : [...own, ...joined];
  }

  /** Every conflict and shadowed pair. */
  verdicts(): readonly Verdict[] {
    return this.ask(verdicts).verdicts();
  }

  /** Findings about one cluster in words, overlaps of its ranges included. */
  findingsInWordsOf(clusterId: string): readonly DescribedFinding[] {
    return this.ask(findingsOfCluster)(clusterId).map((each) => inWords(this.plan, each));
  }

  /** Every finding: errors first, then warnings, then notes. */
  findings(): readonly Finding[] {
    return this.ask(findings);
  }

  /** Every finding in words, in the same order. */
  findingsInWords(): readonly DescribedFinding[] {
    return this.findings().map((each) => inWords(this.plan, each));
  }

  /** What is to be built for a section, each after what it needs. */
  private unbuilt(section: AnySection, found: Set<AnySection>): Set<AnySection> {
    if (this.built.has(section) || found.has(section)) return found;
    for (const other of Object.values((section as Section<Part, Needs, unknown>).needs)) this.unbuilt(other, found);
    return found.add(section);
  }

  private find(section: AnySection): AnyBuilt {
    const { reads, needs, build, follow } = section as Section<Part, Needs, unknown>;
    // The section is handed what it declared and nothing else.
    const parts = Object.fromEntries(reads.map((part) => [part, this.plan[part]])) as AnyBuilt['parts'];
    const needed: Record<string, unknown> = {};
    for (const [name, other] of Object.entries(needs)) needed[name] = this.ask(other);
    const last = this.before.get(section) ?? this.older.get(section);
    if (last === undefined) return { parts, needed, value: build(parts, needed) };
    const isHolding =
      reads.every((part) => last.parts[part] === parts[part]) &&
      Object.keys(needs).every((name) => Object.is(last.needed[name], needed[name]));
    if (isHolding) return last;
    return { parts, needed, value: follow?.(last, parts, needed) ?? build(parts, needed) };
  }
}

/** Evaluates a plan: from nothing, or as the successor of an evaluation, which stays as it is. */
export function evaluate(plan: Plan, before?: Evaluation): Evaluation {
  return new Evaluation(plan, before);
}
