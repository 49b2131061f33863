import type { Template } from '@wide-lattice/core';
import { EntityId, Field } from './field.js';

/** What clusters that are alike have in common. */
export class TemplateDto implements Template {
  @EntityId() id: string;
  @Field('templates', 'name') name: string;
  @Field('templates', 'basedOnId') basedOnId: string | null;
  @Field('templates', 'namePattern') namePattern: string;
  @Field('templates', 'networkId') networkId: string | null;
  @Field('templates', 'shapeId') shapeId: string | null;
  @Field('templates', 'fixes') fixes: readonly string[];
  @Field('templates', 'poolIds') poolIds: readonly string[];
}
