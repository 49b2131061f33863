import { applyOperations } from '../plan/index.js';
import type { EntityOf, Operation, Plan, ProposedKind } from '../plan/index.js';
import { reconcile } from './reconcile.js';
import { formatProposed } from '../english/index.js';

/** What one intent asks for, as a part of a difference. */
export interface IntentGroup {
  /** The intent in one sentence: "nodes of booking leave through NAT in their own zone". */
  readonly intent: string;
  readonly operations: readonly Operation[];
}

/** Everything that follows from the intents of a plan and is not there yet. */
export interface EgressProposal {
  readonly groups: readonly IntentGroup[];
  /** What was left alone since it was edited by hand, and what cannot be proposed and why. */
  readonly notes: readonly string[];
}

/** Gathers a proposal group by group; what a group adds is there for the next. */
export class ProposalMaker {
  readonly groups: IntentGroup[] = [];
  readonly notes: string[] = [];
  private open: Operation[] = [];

  constructor(public plan: Plan) {}

  /** Makes one group; one that changes nothing is left out. */
  group(intent: string, make: () => void): void {
    this.open = [];
    const before = this.plan;
    make();
    if (this.open.length === 0) return;
    const applied = applyOperations(before, this.open);
    if (applied.ok) {
      this.groups.push({ intent, operations: this.open });
      this.plan = applied.plan;
      return;
    }
    this.plan = before;
    const [first] = applied.problems;
    this.notes.push(`${intent}: not possible. ${first?.message ?? ''} ${first?.fix ?? ''}`.trim());
  }

  /** Wants a row; returns its id. One that was edited by hand is kept and told, unless what is asked for is to change it. */
  want<K extends ProposedKind>(
    kind: K,
    fields: Partial<Omit<EntityOf[K], 'id' | 'proposedAs'>>,
    find: (entity: EntityOf[K]) => boolean,
    isForced = false,
  ): string {
    const { id, operations, isEdited } = reconcile(this.plan, kind, fields, find, isForced);
    if (isEdited) this.notes.push(formatProposed('egress.edited', { intent: String(fields.intent) }));
    this.add(...operations);
    return id;
  }

  /** Adds operations to the open group, seen by what comes after them in it. */
  add(...operations: readonly Operation[]): void {
    if (operations.length === 0) return;
    this.open.push(...operations);
    const applied = applyOperations(this.plan, operations);
    // What cannot stand alone is told when the group is closed.
    if (applied.ok) this.plan = applied.plan;
  }
}
