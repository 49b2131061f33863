import { shownRules } from '@wide-lattice/core/plan';
import type { FieldRule, Kind } from '@wide-lattice/core/plan';

/** A field of a kind and its rule. */
export type FormField = readonly [field: string, rule: FieldRule];

/** The fields of a kind as a form shows them: those in sight, and groups folded under their titles. */
export interface FormParts {
  readonly inSight: readonly FormField[];
  readonly folded: readonly { readonly title: string; readonly fields: readonly FormField[] }[];
}

/** Parts a kind's form by the groups of its fields, both in the order of the descriptor. */
export function formParts(kind: Kind): FormParts {
  const fields = shownRules(kind);
  const titles = new Set(fields.flatMap(([, { group }]) => group ?? []));
  return {
    inSight: fields.filter(([, { group }]) => group === undefined),
    folded: [...titles].map((title) => ({ title, fields: fields.filter(([, { group }]) => group === title) })),
  };
}
