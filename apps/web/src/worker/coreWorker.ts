import { evaluate } from '@wide-lattice/core/evaluation';
import { applyOperations, emptyPlan } from '@wide-lattice/core/plan';
import type { Operation, Plan } from '@wide-lattice/core/plan';
import { findingMarks } from '@wide-lattice/core/findings';
import { expose } from 'comlink';
import { Parts } from './parts';
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
  private readonly parts = new Parts();
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

  /**
   * Answers a slice of what follows from the plan, as it stands or with all that is planned. Others are answered between its
   * steps; of many rows it says how many there are, and they are fetched in parts.
   */
  async ask<S extends SliceName>(name: S, args: SliceArgs<S>, isMade: boolean, id: number): Promise<unknown> {
    const answer = slices[name] as (host: SliceHost, ...args: readonly unknown[]) => unknown;
    return this.parts.sent(id, await this.turns.run(id, answer(isMade ? this.host.made : this.host, ...args)));
  }

  /** Some rows of an answer that comes in parts. */
  part(id: number, from: number): readonly unknown[] {
    return this.parts.part(id, from);
  }

  /** Gives up a computation that comes in steps. */
  stop(id: number): void {
    this.turns.stop(id);
    this.parts.drop(id);
  }
}

export type CoreWorkerApi = CoreWorker;

expose(new CoreWorker());
