import { rulesOf } from '@wide-lattice/core/plan';
import type { Kind } from '@wide-lattice/core/plan';
import { Field } from './field.js';

/** Has a class validate and document every field of a kind, or of the settings, by the core's rule for it. */
export function describeFields(kind: Kind | 'settings', dto: { readonly prototype: object }): void {
  for (const field of Object.keys(rulesOf(kind))) Field(kind, field)(dto.prototype, field);
}
