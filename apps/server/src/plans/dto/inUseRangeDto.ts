import type { InUseRange } from '@wide-lattice/core';
import { EntityId, Field } from './field.js';

/** A range somebody else already uses. */
export class InUseRangeDto implements InUseRange {
  @EntityId() id: string;
  @Field('inUse', 'prefix') prefix: string;
  @Field('inUse', 'owner') owner: string;
  @Field('inUse', 'networkId') networkId: string | null;
  @Field('inUse', 'note') note: string;
}
