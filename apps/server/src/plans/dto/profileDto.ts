import type { Profile } from '@wide-lattice/core';
import { EntityId, Field } from './field.js';

/** A set of provider rules. */
export class ProfileDto implements Profile {
  @EntityId() id: string;
  @Field('profiles', 'name') name: string;
  @Field('profiles', 'reservedFirst') reservedFirst: number;
  @Field('profiles', 'reservedLast') reservedLast: number;
  @Field('profiles', 'subnetScope') subnetScope: Profile['subnetScope'];
  @Field('profiles', 'routesPerTable') routesPerTable: number;
}
