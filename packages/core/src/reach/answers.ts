import type { Packet, Reason, Verdict } from '../road/index.js';

/** What a question of the matrix was answered. */
export interface Judged {
  readonly verdict: Verdict;
  /** Undefined when it passes. */
  readonly why: Reason | undefined;
  /** The filters and firewalls that it rests on. */
  readonly lists: readonly string[];
  /** Of these the filters that refuse it. */
  readonly refusing: readonly string[];
  /** The packet as it came to the last filter on the way there, when that let it in or refused it: at the target, where it has filters. */
  readonly arrival?: Packet | undefined;
}

/** What the sources are answered by one group of targets, by the number of the source. */
interface OfGroup {
  readonly judged: (Judged | undefined)[];
  /** The filters and firewalls that any of them rests on. */
  readonly lists: Set<string>;
}

/** What sources are answered by groups of targets of one kind; both go by their numbers. */
export class Answers {
  private readonly groups: Map<number, OfGroup>;
  /** The groups whose answers are this state's own, and not shared with the state before. */
  private readonly own = new Set<number>();
  /** Groups with answers in the state before that rested on what changed. */
  private readonly forgetting = new Map<number, OfGroup>();

  /** Of the state before, what rests on a changed filter or firewall is forgotten. */
  constructor(before?: Answers, changed: ReadonlySet<string> = new Set()) {
    this.groups = new Map(before?.groups);
    for (const [number, group] of this.groups) {
      if (!meets(group.lists, changed)) continue;
      this.forgetting.set(number, group);
      this.groups.set(number, {
        judged: group.judged.map((judged) => (dependsOnAny(judged, changed) ? undefined : judged)),
        lists: new Set(group.lists),
      });
      this.own.add(number);
    }
  }

  of(group: number, source: number): Judged | undefined {
    return this.groups.get(group)?.judged[source];
  }

  passes(group: number, source: number): boolean {
    return this.of(group, source)?.verdict === 'pass';
  }

  /** Whether a group was reached in the state before. */
  passedBefore(group: number, source: number): boolean {
    return (this.forgetting.get(group) ?? this.groups.get(group))?.judged[source]?.verdict === 'pass';
  }

  /** The groups whose answer to a source in the state before is forgotten. */
  forgotten(source: number): number[] {
    return [...this.forgetting].flatMap(([group, { judged }]) =>
      judged[source] !== undefined && judged[source] !== this.of(group, source) ? [group] : [],
    );
  }

  add(group: number, source: number, judged: Judged): void {
    const known = this.groups.get(group);
    const own =
      known !== undefined && this.own.has(group)
        ? known
        : { judged: [...(known?.judged ?? [])], lists: new Set(known?.lists) };
    own.judged[source] = judged;
    for (const id of judged.lists) own.lists.add(id);
    this.groups.set(group, own);
    this.own.add(group);
  }
}

/** Whether any of these changed. */
export function meets(ids: ReadonlySet<string>, changed: ReadonlySet<string>): boolean {
  for (const id of changed) if (ids.has(id)) return true;
  return false;
}

/** Whether an answer rests on a filter or firewall that changed. */
export function dependsOnAny(judged: Judged | undefined, changed: ReadonlySet<string>): boolean {
  return judged?.lists.some((id) => changed.has(id)) === true;
}
