import type { Pool, Purpose } from '@wide-lattice/core';
import { EntityId, Field } from './field.js';

/** Address space that ranges are allocated from. */
export class PoolDto implements Pool {
  @EntityId() id: string;
  @Field('pools', 'name') name: string;
  @Field('pools', 'prefix') prefix: string;
  @Field('pools', 'purposes') purposes: Purpose[];
  @Field('pools', 'siteId') siteId: string | null;
  @Field('pools', 'isShared') isShared: boolean;
}
