import type { Allocation, Purpose } from '@wide-lattice/core';
import { EntityId, Field } from './field.js';

/** A range given to one cluster for one purpose. */
export class AllocationDto implements Allocation {
  @EntityId() id: string;
  @Field('allocations', 'clusterId') clusterId: string;
  @Field('allocations', 'purpose') purpose: Purpose;
  @Field('allocations', 'zone') zone: string;
  @Field('allocations', 'prefix') prefix: string;
  @Field('allocations', 'isFixed') isFixed: boolean;
}
