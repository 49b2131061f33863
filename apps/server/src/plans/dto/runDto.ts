import type { Run } from '@wide-lattice/core';
import { EntityId, Field } from './field.js';

/** Addresses in a row that are kept for a cluster. */
export class RunDto implements Run {
  @EntityId() id: string;
  @Field('runs', 'name') name: string;
  @Field('runs', 'clusterId') clusterId: string;
  @Field('runs', 'first') first: string;
  @Field('runs', 'count') count: number;
  @Field('runs', 'note') note: string;
}
