import type { Block } from '@wide-lattice/core';
import { EntityId, Field } from './field.js';

/** An address block of a network. */
export class BlockDto implements Block {
  @EntityId() id: string;
  @Field('blocks', 'networkId') networkId: string;
  @Field('blocks', 'prefix') prefix: string;
  @Field('blocks', 'note') note: string;
}
