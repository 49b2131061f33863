import { evaluate } from '@wide-lattice/core/evaluation';
import { Lookup } from '@wide-lattice/core/lookup';
import { applyOperations, plannedMade, withRebuilds } from '@wide-lattice/core/plan';
import type { Evaluation } from '@wide-lattice/core/evaluation';
import type { Operation, OperationProblem, Plan } from '@wide-lattice/core/plan';
import { DrillRunner } from '@wide-lattice/core/rehearsal';
import type { BringUp, ScoreCard, TestResult } from '@wide-lattice/core/rehearsal';
import { tentative } from './slices/tentative';

/** An evaluation of the plan as it would be with a draft, or why the draft cannot be applied. */
export type Drafted =
  | { readonly ok: true; readonly evaluation: Evaluation }
  | { readonly ok: false; readonly problems: readonly OperationProblem[] };

/** What every slice answers from: the plan, its evaluation, and evaluations of drafts beside it. */
export class SliceHost {
  private madeLookup: Lookup | undefined;
  private asMade: SliceHost | undefined;
  /** Bring-ups that were made of this state, by what was asked for. */
  readonly runs = new Map<string, BringUp>();
  /** The drills of this state, once they were run. */
  card: ScoreCard | undefined;
  private madeRunner: DrillRunner | undefined;
  /** Results of the tests of the connection, by their scope. */
  readonly tested = new Map<string, readonly TestResult[]>();

  constructor(readonly evaluation: Evaluation) {}

  get plan(): Plan {
    return this.evaluation.plan;
  }

  /** Who holds an address, a prefix, a name; made when the first is asked for. */
  get lookup(): Lookup {
    this.madeLookup ??= new Lookup(this.plan);
    return this.madeLookup;
  }

  /** Runs drills: what passes before them is asked once. */
  get drills(): DrillRunner {
    this.madeRunner ??= new DrillRunner(this.evaluation);
    return this.madeRunner;
  }

  /** The same plan with all that is planned standing; itself where all stands. */
  get made(): SliceHost {
    if (this.asMade !== undefined) return this.asMade;
    const draft = this.draft(plannedMade(this.plan));
    this.asMade = draft.ok && draft.evaluation !== this.evaluation ? new SliceHost(draft.evaluation) : this;
    return this.asMade;
  }

  /** Evaluates changes that nobody has made yet, beside the plan as it stands; locked decisions count as taken anew. */
  draft(operations: readonly Operation[]): Drafted {
    if (operations.length === 0) return { ok: true, evaluation: this.evaluation };
    const applied = applyOperations(this.plan, withRebuilds(this.plan, operations, tentative));
    return applied.ok ? { ok: true, evaluation: evaluate(applied.plan, this.evaluation) } : applied;
  }

  /** Another state of the plan; the present one when none is given. */
  at(plan: Plan | undefined): Evaluation {
    return plan === undefined ? this.evaluation : evaluate(plan, this.evaluation);
  }
}
