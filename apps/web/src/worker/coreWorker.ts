import { evaluate } from '@wide-lattice/core/evaluation';
import { applyOperations, emptyPlan } from '@wide-lattice/core/plan';
import type { Operation, Plan } from '@wide-lattice/core/plan';
import { findingMarks } from '@wide-lattice/core/findings';
import { expose } from 'comlink';
import { PlanReader } from './planReader';
import { SliceHost } from './sliceHost';
import { slices } from './slices';
import type { SliceArgs, SliceName } from './slices';
import { Turns } from './turns';
import type { Tell } from './turns';

/** Holds the plan beside the page and answers in slices, so that the page never waits for a computation. */
class CoreWorker {
  private host = new SliceHost(evaluate(emptyPlan()));
  private readonly turns = new Turns();
  private reader = new PlanReader();

  /** Who is told how far a long computation is. */
  listen(tell: Tell): void {
    this.turns.listen(tell);
  }

  /** Begins to read a stored plan from the text that the page is sent, beside the page that reads its own copy. */
  begin(): void {
    this.reader = new PlanReader();
  }

  /** Takes the next part of the text. */
  read(part: string): void {
    this.reader.push(part);
  }

  /** Opens the plan whose text came to its end. */
  open(): void {
    this.load(this.reader.end().plan);
    this.reader = new PlanReader();
    // While the page is still reading its own copy, what its frame will ask first is begun already.
    setTimeout(() => this.turns.run(0, this.host.evaluation.inSteps(findingMarks)));
  }

  /** Takes a plan whole; called when one was reloaded. */
  load(plan: Plan): void {
    this.host = new SliceHost(evaluate(plan));
  }

  /** Follows a change that the page has applied to its own copy. */
  advance(operations: readonly Operation[]): void {
    const applied = applyOperations(this.host.plan, operations);
    if (!applied.ok) throw new Error('The worker and the page hold different plans.');
    this.host = new SliceHost(evaluate(applied.plan, this.host.evaluation));
  }

  /** Answers a slice of what follows from the plan, as it stands or with all that is planned; others are answered between its steps. */
  ask<S extends SliceName>(id: number, name: S, args: SliceArgs<S>, isMade: boolean): unknown {
    const answer = slices[name] as (host: SliceHost, ...args: readonly unknown[]) => unknown;
    return this.turns.run(id, answer(isMade ? this.host.made : this.host, ...args));
  }

  /** Gives up a computation that comes in steps. */
  stop(id: number): void {
    this.turns.stop(id);
  }
}

export type CoreWorkerApi = CoreWorker;

expose(new CoreWorker());
