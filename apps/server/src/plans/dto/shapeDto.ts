import type { Shape } from '@wide-lattice/core';
import { EntityId, Field } from './field.js';

/** A kind of machine that a provider offers. */
export class ShapeDto implements Shape {
  @EntityId() id: string;
  @Field('shapes', 'name') name: string;
  @Field('shapes', 'profileId') profileId: string;
  @Field('shapes', 'vcpus') vcpus: number;
  @Field('shapes', 'memoryGib') memoryGib: number;
  @Field('shapes', 'interfaces') interfaces: number;
  @Field('shapes', 'slotsPerInterface') slotsPerInterface: number;
  @Field('shapes', 'podCap') podCap: number;
  @Field('shapes', 'encapsulations') encapsulations: Shape['encapsulations'];
  @Field('shapes', 'price') price: number;
}
