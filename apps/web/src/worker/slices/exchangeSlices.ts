import { addressPlan, compareStates, importRows } from '@wide-lattice/core';
import type { ImportOptions, Kind, Plan } from '@wide-lattice/core';
import type { SliceHost } from '../sliceHost';

/** Rows that come in, documents that go out, and states of the plan that are compared. */
export const exchangeSlices = {
  importRows: ({ plan }: SliceHost, kind: Kind, text: string, options: ImportOptions) =>
    importRows(plan, kind, text, options),
  /** The address plan as a document. */
  addressPlan: ({ evaluation }: SliceHost) => addressPlan(evaluation),
  /** The difference between two states of the plan; the present one where none is given. */
  compare: (host: SliceHost, before: Plan | undefined, after: Plan | undefined) => {
    const [first, second] = [host.at(before), host.at(after)];
    return compareStates(
      { plan: first.plan, findings: first.findings() },
      { plan: second.plan, findings: second.findings() },
    );
  },
};
