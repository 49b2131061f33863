import { compareEvaluations } from '@wide-lattice/core/evaluation';
import { addressPlan, importRows } from '@wide-lattice/core/exchange';
import type { ImportOptions } from '@wide-lattice/core/exchange';
import type { Kind, Plan } from '@wide-lattice/core/plan';
import type { SliceHost } from '../sliceHost';

/** Rows that come in, documents that go out, and states of the plan that are compared. */
export const exchangeSlices = {
  importRows: ({ plan }: SliceHost, kind: Kind, text: string, options: ImportOptions) =>
    importRows(plan, kind, text, options),
  /** The address plan as a document. */
  addressPlan: ({ evaluation }: SliceHost) => addressPlan(evaluation),
  /** The difference between two states of the plan; the present one where none is given. */
  compare: (host: SliceHost, before: Plan | undefined, after: Plan | undefined) =>
    compareEvaluations(host.at(before), host.at(after)),
};
