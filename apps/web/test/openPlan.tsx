import { QueryClientProvider } from '@tanstack/react-query';
import { render } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { evaluate } from '@wide-lattice/core/evaluation';
import { applyOperations } from '@wide-lattice/core/plan';
import type { Operation, Plan } from '@wide-lattice/core/plan';
import { finished } from '@wide-lattice/core/working';
import type { Steps } from '@wide-lattice/core/working';
import type { ReactNode } from 'react';
import { useSyncExternalStore } from 'react';
import { BrowserRouter } from 'react-router';
import { newQueryClient } from '../src/app/queries';
import { PlanContext } from '../src/plan/PlanContext';
import type { OpenPlan } from '../src/plan/PlanContext';
import type { CommitOutcome } from '../src/plan/planSession';
import { SliceHost } from '../src/worker/sliceHost';
import { slices } from '../src/worker/slices';

let host: SliceHost | undefined;

type AnySlice = (host: SliceHost, ...args: readonly unknown[]) => unknown;

/** The core of the page without a worker between: put in the place of `worker/coreClient`, it answers from the plan that is open. */
export const core = {
  askIn: (
    { isMade }: { readonly isMade: boolean },
    name: keyof typeof slices,
    ...args: readonly unknown[]
  ): Promise<unknown> => {
    if (host === undefined) return Promise.reject(new Error('no plan is open here'));
    // Every slice takes the host first.
    const answer = (slices[name] as AnySlice)(isMade ? host.made : host, ...args);
    const comesInSteps = typeof (answer as Partial<Steps<unknown>> | undefined)?.next === 'function';
    return Promise.resolve(comesInSteps ? finished(answer as Steps<unknown>) : answer);
  },
  ask: (name: keyof typeof slices, ...args: readonly unknown[]): Promise<unknown> =>
    core.askIn({ isMade: false }, name, ...args),
};

/** A plan that is open and edited here, with no server: what a part of a page needs around it. */
class OpenHere {
  readonly changes: { readonly label: string; readonly operations: readonly Operation[] }[] = [];
  readonly planId = 'here';
  private readonly listeners = new Set<() => void>();
  private state: { readonly plan: Plan; readonly revision: number };

  constructor(plan: Plan) {
    this.state = { plan, revision: 1 };
    host = new SliceHost(evaluate(plan));
  }

  readonly snapshot = () => this.state;

  readonly watch = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  readonly commit = (label: string, operations: readonly Operation[]): Promise<CommitOutcome> => {
    const applied = applyOperations(this.state.plan, operations);
    if (!applied.ok) return Promise.resolve({ kind: 'refused', problems: applied.problems } as CommitOutcome);
    this.changes.push({ label, operations });
    this.state = { plan: applied.plan, revision: this.state.revision + 1 };
    host = new SliceHost(evaluate(applied.plan, host?.evaluation));
    for (const listener of this.listeners) listener();
    return Promise.resolve({ kind: 'stored', isMerged: false } as CommitOutcome);
  };
}

function Around({ open, children }: { readonly open: OpenHere; readonly children: (plan: Plan) => ReactNode }) {
  const { plan, revision } = useSyncExternalStore(open.watch, open.snapshot);
  // Parts of pages ask no more of a session than this one has.
  const value = { plan, revision, session: open, isMade: false } as unknown as OpenPlan;
  return <PlanContext.Provider value={value}>{children(plan)}</PlanContext.Provider>;
}

/** Draws a part of a page over an open plan, at an address; gives who uses it, and what was stored. */
export function opened(plan: Plan, children: (plan: Plan) => ReactNode, address = '/') {
  window.history.replaceState(null, '', address);
  const open = new OpenHere(plan);
  render(
    <BrowserRouter>
      <QueryClientProvider client={newQueryClient()}>
        <Around open={open}>{children}</Around>
      </QueryClientProvider>
    </BrowserRouter>,
  );
  return { user: userEvent.setup(), changes: open.changes, plan: () => open.snapshot().plan };
}
